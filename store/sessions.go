package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

type session struct {
	Token  string `gorm:"primaryKey"`
	Data   []byte
	Expiry time.Time `gorm:"index"`
}

// Sessions keeps the sessions of github.com/alexedwards/scs. They are a person's, of
// whatever workspaces.
type Sessions struct{ db *gorm.DB }

// Sessions returns the store of sessions; those that have ended are cleared away.
func (ps *People) Sessions(ctx context.Context) Sessions {
	ps.db(ctx).Where("expiry < ?", now()).Delete(&session{})
	return Sessions{ps.disk.main}
}

// FindCtx returns a session's data, and false where there is none or it has ended.
func (s Sessions) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	var found session
	err := s.db.WithContext(ctx).Where("token = ? AND expiry >= ?", token, now()).Take(&found).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, false, nil
	}
	return found.Data, err == nil, err
}

// CommitCtx keeps a session's data.
func (s Sessions) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	return s.db.WithContext(ctx).Clauses(clause.OnConflict{UpdateAll: true}).
		Create(&session{token, data, expiry.UTC()}).
		Error
}

// DeleteCtx ends a session.
func (s Sessions) DeleteCtx(ctx context.Context, token string) error {
	return s.db.WithContext(ctx).Where("token = ?", token).Delete(&session{}).Error
}

// Find is FindCtx without an end.
func (s Sessions) Find(token string) ([]byte, bool, error) {
	return s.FindCtx(context.Background(), token)
}

// Commit is CommitCtx without an end.
func (s Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return s.CommitCtx(context.Background(), token, data, expiry)
}

// Delete is DeleteCtx without an end.
func (s Sessions) Delete(token string) error { return s.DeleteCtx(context.Background(), token) }
