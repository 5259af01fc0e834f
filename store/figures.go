package store

import (
	"context"
	"errors"
	"log/slog"
	"sync"
	"time"

	"omphalos/core/quiz"
	"omphalos/store/tally"
)

// indexes are the tallies of quizzes that were asked for lately.
type indexes struct {
	sync.Mutex
	of map[uint]*index
}

// An index is the tally of a quiz, brought up to date whenever it is asked.
type index struct {
	sync.RWMutex
	tally *tally.Tally // nil until it is read
	size  int          // about, in bytes, when it was brought up to date
	used  time.Time
	kinds map[uint]map[string]quiz.Kind // of questions, by release
	gone  bool                          // it is read anew
	marks marks                         // that wait
}

// mostIndexed is how much memory tallies take, in bytes; the one in use may take more.
const mostIndexed = 96 << 20

// get returns the index of a quiz, and makes room for it.
func (x *indexes) get(id uint) *index {
	x.Lock()
	defer x.Unlock()
	if x.of == nil {
		x.of = map[uint]*index{}
	}
	mine := x.of[id]
	if mine == nil {
		mine = &index{kinds: map[uint]map[string]quiz.Kind{}}
		x.of[id] = mine
	}
	mine.used = time.Now()
	for {
		held, oldest := 0, uint(0)
		for other, index := range x.of {
			held += index.size
			if other != id && (oldest == 0 || index.used.Before(x.of[oldest].used)) {
				oldest = other
			}
		}
		if held <= mostIndexed || oldest == 0 {
			return mine
		}
		delete(x.of, oldest)
	}
}

// forget has a quiz's tally read anew.
func (x *indexes) forget(quiz uint) {
	x.Lock()
	mine := x.of[quiz]
	delete(x.of, quiz)
	x.Unlock()
	if mine != nil {
		mine.Lock()
		mine.gone = true
		mine.Unlock()
	}
}

// Tally gives f the tally of all responses that a quiz has at this moment. It is good until
// f returns, and must not be changed.
func (rs *Responses) Tally(ctx context.Context, quiz uint, f func(*tally.Tally)) error {
	for {
		x := rs.indexes.get(quiz)
		if err := rs.follow(ctx, quiz, x); err != nil {
			return found(err, "counting the responses of quiz %d", quiz)
		}
		x.RLock()
		if x.gone || x.tally == nil {
			x.RUnlock()
			continue
		}
		f(x.tally)
		x.RUnlock()
		return nil
	}
}

// follow brings the tally up to date with the responses that have come.
func (rs *Responses) follow(ctx context.Context, quiz uint, x *index) error {
	newest, err := rs.Last(ctx, quiz)
	if err != nil {
		return err
	}
	x.RLock()
	current := x.gone || x.tally != nil && x.tally.Last() >= newest && !x.marks.any()
	x.RUnlock()
	if current {
		return nil
	}
	x.Lock()
	defer x.Unlock()
	if x.gone {
		return nil
	}
	fresh := x.tally == nil
	if fresh {
		x.tally = tally.New()
	}
	err = rs.readSegments(ctx, quiz, x, newest)
	if errors.Is(err, tally.ErrSegment) {
		slog.Warn("a segment is made anew", "quiz", quiz, "error", err)
		err = rs.db(ctx).Where("quiz_id = ?", quiz).Delete(&Segment{}).Error
		x.tally, fresh = tally.New(), true
		if err == nil {
			err = rs.readSegments(ctx, quiz, x, newest)
		}
	}
	if err == nil && fresh {
		err = rs.readMarks(ctx, quiz, x.tally)
	}
	if err != nil { // it is read anew
		x.tally = nil
		return err
	}
	x.marks.take(x.tally)
	x.size = x.tally.Size()
	return nil
}

// Find returns the responses of a quiz that all parts name, with contact, in an order, after a
// mark and at most so many; and how many there are altogether.
func (rs *Responses) Find(
	ctx context.Context,
	quiz uint,
	parts []tally.Part,
	by tally.Order,
	after tally.Mark,
	most int,
) (list []Response, all int, err error) {
	var numbers []int
	err = rs.Tally(ctx, quiz, func(t *tally.Tally) {
		slice := t.Slice(parts...)
		all, numbers = slice.Count(), slice.Page(by, after, most)
	})
	if err != nil || len(numbers) == 0 {
		return nil, all, err
	}
	list, err = rs.numbered(ctx, quiz, numbers)
	return list, all, err
}

// numbered reads responses by their numbers, in their order; those that have just been
// deleted are left out.
func (rs *Responses) numbered(ctx context.Context, quiz uint, numbers []int) (list []Response, err error) {
	var there []Response
	if err := rs.db(ctx).Preload("Contacts").Where("quiz_id = ? AND number IN ?", quiz, numbers).
		Find(&there).Error; err != nil {
		return nil, found(err, "reading responses of quiz %d", quiz)
	}
	byNumber := make(map[int]*Response, len(there))
	for i := range there {
		byNumber[there[i].Number] = &there[i]
	}
	for _, n := range numbers {
		if r := byNumber[n]; r != nil {
			list = append(list, *r)
		}
	}
	return list, nil
}

// Index brings the tallies of all quizzes up to date, so that nobody waits for them.
func (rs *Responses) Index(ctx context.Context) error {
	var quizzes []uint
	if err := rs.db(ctx).Model(&Quiz{}).Pluck("id", &quizzes).Error; err != nil {
		return found(err, "looking for quizzes")
	}
	for _, id := range quizzes {
		if err := rs.Tally(ctx, id, func(*tally.Tally) {}); err != nil {
			return err
		}
		if err := rs.flowing(ctx, id, func(*flowing) {}); err != nil {
			return found(err, "counting who left the quiz %d", id)
		}
	}
	return rs.LeadTally(ctx, func(*tally.Tally) {})
}
