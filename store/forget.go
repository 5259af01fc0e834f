package store

import (
	"context"
	"time"

	"gorm.io/gorm"
)

// atATime is how many passages are forgotten in one commit, so that nobody waits long.
const atATime = 500

// ForgetUnfinished forgets the passages that nobody has gone on with since a time, with
// what was booked on them, and returns how many they were. That they were there is kept, see
// Departure.
func (rs *Responses) ForgetUnfinished(ctx context.Context, since time.Time) (int, error) {
	all, last := 0, ""
	for {
		var gone []Passage
		err := rs.db(ctx).Where("id > ? AND updated < ?", last, since.UTC()).Order("id").
			Omit("answers", "visitor", "trail").Limit(atATime).Find(&gone).Error
		old := make([]string, len(gone))
		for i, p := range gone {
			old[i] = p.ID
		}
		if err != nil || len(old) == 0 {
			return all, found(err, "looking for unfinished passages")
		}
		err = rs.db(ctx).Transaction(func(tx *gorm.DB) error {
			if err := tx.Where("response IN ?", responseNumbers(old)).Delete(&Booking{}).Error; err != nil {
				return err
			}
			if err := tx.Where("id IN ? AND updated < ?", old, since.UTC()).Delete(&Passage{}).Error; err != nil {
				return err
			}
			left := make([]Departure, len(gone))
			for i := range gone {
				left[i] = gone[i].Departure()
			}
			return create(tx, left)
		})
		if err != nil {
			return all, found(err, "forgetting unfinished passages")
		}
		for _, p := range gone {
			rs.disk.passages.Remove(p.ID)
			rs.flows.forget(p.QuizID)
		}
		all += len(old)
		last = old[len(old)-1]
	}
}

func responseNumbers(passages []string) []string {
	numbers := make([]string, len(passages))
	for i, p := range passages {
		numbers[i] = ResponseNumber(p)
	}
	return numbers
}

// ForgetDeleted deletes the quizzes for good that were put away before a time, with
// everything that belongs to them, and returns how many they were. A trace says that they
// were there, as of a response with the number 0.
func (s *Store) ForgetDeleted(ctx context.Context, since time.Time) (int, error) {
	var old []uint
	err := s.Definitions.db(ctx).Unscoped().Model(&Quiz{}).Where("deleted_at < ?", since.UTC()).Pluck("id", &old).Error
	if err != nil {
		return 0, found(err, "looking for deleted quizzes")
	}
	for i, id := range old {
		err := s.Responses.forgetQuiz(ctx, id)
		if err == nil {
			err = s.Definitions.forgetQuiz(ctx, id)
		}
		if err != nil {
			return i, found(err, "deleting the quiz %d for good", id)
		}
	}
	return len(old), nil
}

// forgetQuiz deletes all that respondents have left of a quiz, of which there may be much.
func (rs *Responses) forgetQuiz(ctx context.Context, id uint) error {
	theirs := func() *gorm.DB { return rs.db(ctx).Where("quiz_id = ?", id) }
	for _, of := range []struct {
		model   any
		passage string // column with the passage's number
	}{{&Response{}, "passage"}, {&Passage{}, "id"}} { // contact and consents go with a response
		for {
			var some []string
			if err := theirs().Model(of.model).Limit(atATime).Pluck(of.passage, &some).Error; err != nil {
				return err
			}
			if len(some) == 0 {
				break
			}
			if err := rs.db(ctx).Where("response IN ?", responseNumbers(some)).Delete(&Booking{}).Error; err != nil {
				return err
			}
			if err := rs.forgetSome(ctx, of.model, of.passage, some); err != nil {
				return err
			}
		}
	}
	for _, model := range []any{&Screening{}, &OutcomeCount{}, &Segment{}, &Departure{}, &Sight{}} {
		if err := theirs().Delete(model).Error; err != nil {
			return err
		}
	}
	rs.indexes.forget(id)
	rs.flows.forget(id)
	return nil
}

// forgetSome deletes responses or passages, and leads that have no response any more.
func (rs *Responses) forgetSome(ctx context.Context, model any, column string, passages []string) error {
	var leads []uint
	err := rs.db(ctx).Transaction(func(tx *gorm.DB) (err error) {
		if _, are := model.(*Response); are {
			var ids []uint
			if err := tx.Model(model).Where(column+" IN ?", passages).Pluck("id", &ids).Error; err != nil {
				return err
			}
			if leads, err = leadsOf(tx, ids); err != nil {
				return err
			}
		}
		if err := tx.Where(column+" IN ?", passages).Delete(model).Error; err != nil {
			return err
		}
		return rs.settle(tx, leads...)
	})
	rs.leads.touch(leads...)
	return err
}

// forgetQuiz deletes what was written of a quiz, and leaves the trace.
func (d *Definitions) forgetQuiz(ctx context.Context, id uint) error {
	err := d.db(ctx).Transaction(func(tx *gorm.DB) error {
		for _, model := range []any{&Release{}, &Edit{}} {
			if err := tx.Where("quiz_id = ?", id).Delete(model).Error; err != nil {
				return err
			}
		}
		if err := tx.Unscoped().Delete(&Quiz{}, id).Error; err != nil {
			return err
		}
		return tx.Create(&Erasure{QuizID: id, Made: now()}).Error
	})
	d.public.forget()
	return err
}
