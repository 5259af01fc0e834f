package store

import (
	"context"
	"time"

	"gorm.io/gorm"
)

// atATime is how many passages are forgotten in one commit, so that nobody waits long.
const atATime = 500

// ForgetUnfinished forgets the passages that nobody has gone on with since a time, with
// what was booked on them, and returns how many they were.
func (s *Store) ForgetUnfinished(ctx context.Context, since time.Time) (int, error) {
	all := 0
	for {
		var old []string
		err := s.db.WithContext(ctx).Model(&Passage{}).Where("NOT finished AND updated < ?", since.UTC()).Limit(atATime).Pluck("id", &old).Error
		if err != nil || len(old) == 0 {
			return all, found(err, "looking for unfinished passages")
		}
		err = s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
			if err := tx.Where("passage IN ?", old).Delete(&Booking{}).Error; err != nil {
				return err
			}
			return tx.Where("id IN ? AND NOT finished AND updated < ?", old, since.UTC()).Delete(&Passage{}).Error
		})
		if err != nil {
			return all, found(err, "forgetting unfinished passages")
		}
		for _, id := range old {
			s.passages.Remove(id)
		}
		all += len(old)
	}
}

// ForgetDeleted deletes the quizzes for good that were put away before a time, with
// everything that belongs to them, and returns how many they were. A trace says that they
// were there, as of a response with the number 0.
func (s *Store) ForgetDeleted(ctx context.Context, since time.Time) (int, error) {
	var old []uint
	err := s.db.WithContext(ctx).Unscoped().Model(&Quiz{}).Where("deleted_at < ?", since.UTC()).Pluck("id", &old).Error
	if err != nil {
		return 0, found(err, "looking for deleted quizzes")
	}
	for i, id := range old {
		if err := s.forgetQuiz(ctx, id); err != nil {
			return i, found(err, "deleting the quiz %d for good", id)
		}
	}
	return len(old), nil
}

func (s *Store) forgetQuiz(ctx context.Context, id uint) error {
	if err := s.db.WithContext(ctx).Exec("DELETE FROM bookings WHERE passage IN (SELECT id FROM passages WHERE quiz_id = ?)", id).Error; err != nil {
		return err
	}
	for _, table := range []string{"responses", "passages"} { // of which there may be many
		for {
			gone := s.db.WithContext(ctx).Exec("DELETE FROM "+table+" WHERE rowid IN (SELECT rowid FROM "+table+" WHERE quiz_id = ? LIMIT ?)", id, atATime)
			if gone.Error != nil {
				return gone.Error
			}
			if gone.RowsAffected == 0 {
				break
			}
		}
	}
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		for _, table := range []string{"partings", "outcome_counts", "releases", "edits"} {
			if err := tx.Exec("DELETE FROM "+table+" WHERE quiz_id = ?", id).Error; err != nil {
				return err
			}
		}
		if err := tx.Exec("DELETE FROM quizzes WHERE id = ?", id).Error; err != nil {
			return err
		}
		return tx.Create(&Erasure{QuizID: id, Made: now()}).Error
	})
	s.public.forget()
	return err
}
