package store

import "context"

// Lead says whether whoever makes a quiz is led through it, step by step.
func (d *Definitions) Lead(ctx context.Context, id uint, on bool) error {
	return found(d.db(ctx).Model(&Quiz{}).Where("id = ?", id).UpdateColumn("led", on).Error, "leading through quiz %d", id)
}

// Walked tells whether a draft has been walked to its end, lately.
func (d *Definitions) Walked(ctx context.Context, id uint) (bool, error) {
	var n int64
	err := d.db(ctx).Model(&Walk{}).Where("quiz_id = ? AND finished", id).Count(&n).Error
	return n > 0, found(err, "looking for rehearsals of quiz %d", id)
}
