package store

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"strconv"
	"sync"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store/tally"
)

// A Segment is what the tally of a quiz says of 65,536 responses, none of which comes any
// more. It says nothing that is not in the responses: where it is missing, or of another
// form, it is made anew.
type Segment struct {
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"primaryKey;autoIncrement:false"`
	Segment     int         `gorm:"primaryKey;autoIncrement:false"`
	Form        int
	Data        []byte
}

// forgetSegment forgets the segment of a response that is deleted or changed.
func forgetSegment(tx *gorm.DB, quiz uint, number int) error {
	return tx.Where("quiz_id = ? AND segment = ?", quiz, tally.SegmentOf(number)).Delete(&Segment{}).Error
}

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

// readSegments adds the responses up to the newest: whole segments as they are kept, the
// others one by one.
func (rs *Responses) readSegments(ctx context.Context, quiz uint, x *index, newest int) error {
	for segment := tally.SegmentOf(x.tally.Last()); segment <= tally.SegmentOf(newest); segment++ {
		first, last := tally.Span(segment)
		whole := last <= newest
		if whole && x.tally.Last() < first {
			var kept Segment
			err := rs.db(ctx).Where("quiz_id = ? AND segment = ? AND form = ?", quiz, segment, tally.Form).
				Take(&kept).
				Error
			if err == nil {
				if err := x.tally.Load(segment, kept.Data); err != nil {
					return err
				}
				continue
			}
			if !errors.Is(err, gorm.ErrRecordNotFound) {
				return err
			}
		}
		if err := rs.addTo(ctx, quiz, x, max(first, x.tally.Last()+1), min(last, newest)); err != nil {
			return err
		}
		if whole {
			if err := rs.keepSegment(ctx, quiz, segment, x.tally); err != nil {
				return err
			}
		}
	}
	return nil
}

// keepSegment keeps a segment, unless responses of it have gone since they were read.
func (rs *Responses) keepSegment(ctx context.Context, quiz uint, segment int, t *tally.Tally) error {
	kept := Segment{QuizID: quiz, Segment: segment, Form: tally.Form, Data: t.Seal(segment)}
	first, last := tally.Span(segment)
	return rs.db(ctx).Transaction(func(tx *gorm.DB) error {
		var there int64
		err := tx.Model(&Response{}).Where("quiz_id = ? AND number BETWEEN ? AND ? AND NOT beside", quiz, first,
			last).Count(&there).
			Error
		if err != nil || there != int64(t.Within(segment)) {
			return err
		}
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&kept).Error
	})
}

// addTo adds the responses with numbers from one to another.
func (rs *Responses) addTo(ctx context.Context, quiz uint, x *index, from, to int) error {
	var e tally.Entry
	var list []Response
	for ; from <= to; from += readTogether {
		within := func(q *gorm.DB) *gorm.DB {
			return q.Where("number BETWEEN ? AND ?", from, min(from+readTogether-1, to))
		}
		var err error
		if list, err = rs.together(ctx, quiz, within, "''", list); err != nil {
			return err
		}
		for i := range list {
			r := &list[i]
			kinds := x.kinds[r.ReleaseID]
			if kinds == nil {
				if kinds, err = rs.kindsOf(ctx, r.ReleaseID); err != nil {
					return err
				}
				x.kinds[r.ReleaseID] = kinds
			}
			r.enter(&e, kinds)
			x.tally.Add(&e)
		}
	}
	return nil
}

// kindsOf returns the kinds of a release's questions by their keys.
func (rs *Responses) kindsOf(ctx context.Context, release uint) (map[string]quiz.Kind, error) {
	var r Release
	if err := rs.db(ctx).Take(&r, release).Error; err != nil {
		return nil, found(err, "the release %d", release)
	}
	q, err := r.Read()
	if err != nil {
		return nil, fmt.Errorf("reading the release %d: %w", release, err)
	}
	kinds := map[string]quiz.Kind{}
	for key, question := range q.Questions {
		kinds[key] = question.Kind
	}
	return kinds, nil
}

// enter writes into an entry what a response says of itself.
func (r *Response) enter(e *tally.Entry, kinds map[string]quiz.Kind) {
	e.Number, e.Sets, e.Values = r.Number, e.Sets[:0], e.Values[:0]
	e.Set(tally.Outcome, r.Outcome)
	e.Set(tally.Landing, r.Landing)
	e.Set(tally.End, r.End)
	e.Set(tally.Release, strconv.FormatUint(uint64(r.ReleaseID), 10))
	e.Set(tally.Source, r.Source)
	e.Set(tally.Medium, r.Medium)
	e.Set(tally.Campaign, r.Campaign)
	e.Set(tally.Country, r.Country)
	e.Set(tally.Language, r.Language)
	e.Set(tally.Device, r.Device)
	value := func(of tally.Property, n int64) { e.Values = append(e.Values, tally.Value{Of: of, Value: n}) }
	value(tally.Property{Kind: tally.Finished}, r.Finished.Unix())
	value(tally.Property{Kind: tally.Seconds}, int64(r.Seconds))
	for _, s := range r.Scores {
		value(tally.Property{Kind: tally.Score, Key: s.Scale}, int64(s.Millionths))
	}
	for _, s := range r.Asked {
		e.Sets = append(e.Sets, tally.Member{Of: tally.Property{Kind: tally.Asked, Key: s.Question}})
		if s.Seconds >= 0 {
			value(tally.Property{Kind: tally.Spent, Key: s.Question}, int64(s.Seconds))
		}
	}
	for i, a := range r.Answers {
		if i == 0 || r.Answers[i-1].Question != a.Question {
			e.Sets = append(e.Sets, tally.Member{Of: tally.Property{Kind: tally.Answered, Key: a.Question}})
		}
		switch kind := kinds[a.Question]; {
		case kind.HasAnswers(), kind == quiz.Country, kind == quiz.Location, kind == quiz.Consent:
			e.Sets = append(
				e.Sets,
				tally.Member{Of: tally.Property{Kind: tally.Answer, Key: a.Question, Row: a.Row}, Value: a.Answer},
			)
		case kind.Numeric():
			if n, err := decimal.Parse(a.Answer); err == nil {
				value(tally.Property{Kind: tally.Amount, Key: a.Question}, int64(n))
			}
		case kind == quiz.Date:
			if n, err := quiz.ParseDay(a.Answer); err == nil {
				value(tally.Property{Kind: tally.Amount, Key: a.Question}, int64(n))
			}
		}
	}
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
