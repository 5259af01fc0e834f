package store

import (
	"context"
	"errors"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

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
