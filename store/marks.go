package store

import (
	"context"
	"sync"
	"time"

	"gorm.io/gorm/clause"

	"omphalos/core/quiz"
	"omphalos/store/tally"
)

// A Press says that a respondent pressed a button, or followed a link, of their landing.
type Press struct {
	WorkspaceID WorkspaceID `gorm:"not null"`
	ResponseID  uint        `gorm:"primaryKey;autoIncrement:false"`
	Block       string      `gorm:"primaryKey"` // the landing's key, a dot and the block's
	Made        time.Time   // when they did so first
	QuizID      uint        `gorm:"not null"` // of the response, as its number is
	Number      int         `gorm:"not null"`
}

// Press keeps that a respondent pressed a button of their landing; once each.
func (rs *Responses) Press(ctx context.Context, passage, block string) error {
	var r Response
	if err := rs.db(ctx).Select("id", "quiz_id", "number").Where("passage = ?", passage).Take(&r).Error; err != nil {
		return found(err, "the response")
	}
	one := Press{ResponseID: r.ID, Block: block, Made: now(), QuizID: r.QuizID, Number: r.Number}
	if err := rs.db(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&one).Error; err != nil {
		return found(err, "keeping what was pressed")
	}
	rs.indexes.mark(r.QuizID, mark{tally.Property{Kind: tally.Pressed}, block, r.Number})
	return nil
}

// A mark is what comes to a response after it is finished, or is kept beside it.
type mark struct {
	of     tally.Property
	value  string
	number int
}

// Who said who they are, as readMarks has it.
const said = "yes"

// mostMarks is how many marks wait: where more come, the tally is read anew when it is asked.
const mostMarks = 1 << 16

// marks wait until the tally is brought up to date.
type marks struct {
	sync.Mutex
	list []mark
}

func (m *marks) any() bool {
	m.Lock()
	defer m.Unlock()
	return len(m.list) > 0
}

// take puts what waits into a tally.
func (m *marks) take(t *tally.Tally) {
	m.Lock()
	defer m.Unlock()
	for _, one := range m.list {
		t.Mark(one.of, one.value, one.number)
	}
	m.list = nil
}

// mark adds a mark to the tally of a quiz, where there is one.
func (x *indexes) mark(quiz uint, one mark) {
	x.Lock()
	mine := x.of[quiz]
	x.Unlock()
	if mine == nil {
		return
	}
	mine.marks.Lock()
	defer mine.marks.Unlock()
	if len(mine.marks.list) == mostMarks {
		go x.forget(quiz) // which waits for whoever reads it
	} else {
		mine.marks.list = append(mine.marks.list, one)
	}
}

// markContact follows a response in which somebody may have said who they are.
func (rs *Responses) markContact(of uint, number int, contacts []Contact) {
	for _, c := range contacts {
		if c.Kind != quiz.Consent && c.Value != "" {
			rs.indexes.mark(of, mark{tally.Property{Kind: tally.Contact}, said, number})
			rs.indexes.mark(of, mark{tally.Property{Kind: tally.Said, Key: c.Field}, "", number})
		}
	}
}

// readMarks reads all marks of a quiz into its tally.
func (rs *Responses) readMarks(ctx context.Context, of uint, t *tally.Tally) error {
	persons := rs.db(ctx).Model(&Contact{}).Where("quiz_id = ? AND kind <> ?", of, quiz.Consent)
	err := numbersBy(persons, "field", func(field string, number int) {
		t.Mark(tally.Property{Kind: tally.Contact}, said, number)
		t.Mark(tally.Property{Kind: tally.Said, Key: field}, "", number)
	})
	if err != nil {
		return err
	}
	presses := rs.db(ctx).Model(&Press{}).Where("quiz_id = ?", of)
	return numbersBy(presses, "block", func(block string, number int) {
		t.Mark(tally.Property{Kind: tally.Pressed}, block, number)
	})
}
