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
