package store

import (
	"context"
)

// A Parting counts passages that parted ways: all that is kept of them.
type Parting struct {
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"primaryKey;autoIncrement:false"`
	ReleaseID   uint        `gorm:"primaryKey;autoIncrement:false"`
	Day         string      `gorm:"primaryKey"`
	Count       int
}

// Partings counts the passages that parted ways.
func (rs *Responses) Partings(ctx context.Context, quiz uint) (int, error) {
	count := 0
	err := rs.db(ctx).Model(&Parting{}).Where("quiz_id = ?", quiz).Select("coalesce(sum(count), 0)").Scan(&count).Error
	return count, found(err, "counting the partings of quiz %d", quiz)
}
