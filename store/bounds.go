package store

import (
	"context"
	"errors"
	"slices"
	"time"

	"gorm.io/gorm"

	"omphalos/core/quiz"
)

// Bounds are what a quiz takes. The zero value takes everything.
type Bounds struct {
	Most    int           // responses that count, 0 for any number
	Repeats *quiz.Repeats // of one taker; nil for any
	Taker   string        // who that is, "" for somebody who can't be told apart
}

// ErrFull says that a quiz has as many responses as it takes.
var ErrFull = errors.New("the quiz has as many responses as it takes")

// ErrRepeated says that somebody has taken a quiz as often as they may for now.
var ErrRepeated = errors.New("it was taken before")

// A Taken is a passage that a taker has finished.
type Taken struct {
	Passage  string
	Finished time.Time
}

// Taken lists the passages through a quiz that a taker has finished, the last one first.
func (rs *Responses) Taken(ctx context.Context, quiz uint, taker string) ([]Taken, error) {
	var list []Taken
	err := rs.db(ctx).Model(&Response{}).Select("passage", "finished").
		Where("quiz_id = ? AND taker = ? AND taker <> ''", quiz, taker).Order("number DESC").Find(&list).Error
	return list, found(err, "looking for what somebody has taken")
}

// refuse leaves out of a group those who are beyond the bounds of their quiz, and says of the
// others which of theirs count. All that is written goes through here one group after the
// other, so the bounds are exact, however many finish at once and in how many tabs.
func refuse(tx *gorm.DB, group []*entry) error {
	b := &bouncer{tx: tx, left: map[uint]int{}, before: map[taker][]*Response{}}
	for _, e := range group {
		e.refused, e.instead = nil, nil
		if e.response == nil || e.within == (Bounds{}) {
			continue
		}
		e.response.Beside = false
		if err := b.judge(e); err != nil {
			return err
		}
	}
	return nil
}

// A bouncer knows what quizzes still take, within one transaction.
type bouncer struct {
	tx     *gorm.DB
	left   map[uint]int // responses, by quiz
	before map[taker][]*Response
}

type taker struct {
	quiz uint
	name string
}

func (b *bouncer) judge(e *entry) error {
	r := e.response
	theirs, err := b.of(e)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(theirs, func(other *Response) bool { return other.Passage == r.Passage }) {
		return nil // it is finished already, which changes nothing
	}
	var finished []time.Time
	for _, other := range theirs {
		finished = append(finished, other.Finished)
	}
	if may, _ := e.within.Repeats.May(finished, r.Finished); !may {
		e.refused = ErrRepeated
		return nil
	}
	if full, err := b.full(e); err != nil || full {
		e.refused = ErrFull
		return err
	}
	if len(theirs) > 0 {
		r.Beside = e.within.Repeats.Counts == quiz.FirstCounts
		if e.within.Repeats.Counts == quiz.LastCounts {
			e.supersede(theirs)
		}
	}
	if r.Taker != "" {
		at := taker{r.QuizID, r.Taker}
		b.before[at] = append(b.before[at], r)
	}
	return nil
}

// of returns the responses of an entry's taker, those of this group among them.
func (b *bouncer) of(e *entry) ([]*Response, error) {
	at := taker{e.response.QuizID, e.response.Taker}
	if e.within.Repeats == nil || at.name == "" {
		return nil, nil
	}
	if there, known := b.before[at]; known {
		return there, nil
	}
	var there []*Response
	err := b.tx.Select("id", "quiz_id", "number", "outcome", "passage", "finished", "beside").
		Where("quiz_id = ? AND taker = ? AND taker <> ''", at.quiz, at.name).Order("number").Find(&there).Error
	b.before[at] = there
	return there, err
}

// full tells whether a quiz has as many responses as it takes, and counts one more where not.
func (b *bouncer) full(e *entry) (bool, error) {
	if e.within.Most == 0 {
		return false, nil
	}
	id := e.response.QuizID
	if _, known := b.left[id]; !known {
		there := 0
		err := b.tx.Model(&OutcomeCount{}).Where("quiz_id = ?", id).Select("coalesce(sum(count), 0)").Scan(&there).Error
		if err != nil {
			return false, err
		}
		b.left[id] = e.within.Most - there
	}
	b.left[id]--
	return b.left[id] < 0, nil
}

// supersede has a response count instead of earlier ones.
func (e *entry) supersede(earlier []*Response) {
	for _, other := range earlier {
		if !other.Beside && other.ID > 0 {
			e.instead = append(e.instead, *other)
		}
		other.Beside = true // one of the same group is kept so
	}
}

// setAside takes responses out of what is counted.
func setAside(tx *gorm.DB, list []Response) error {
	for _, r := range list {
		if err := tx.Model(&Response{}).Where("id = ?", r.ID).UpdateColumn("beside", true).Error; err != nil {
			return err
		}
		if err := uncount(tx, r); err != nil {
			return err
		}
	}
	return nil
}

// uncount takes a response out of what is counted of its quiz; one that did not count stays out.
func uncount(tx *gorm.DB, r Response) error {
	if r.Beside {
		return nil
	}
	err := tx.Model(&OutcomeCount{}).Where("quiz_id = ? AND outcome = ?", r.QuizID, r.Outcome).
		UpdateColumn("count", gorm.Expr("count - 1")).Error
	return errors.Join(err, forgetSegment(tx, r.QuizID, r.Number))
}
