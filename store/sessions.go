package store

import (
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

// Sessions keeps the sessions of github.com/alexedwards/scs.
type Sessions struct{ db *gorm.DB }

// Sessions returns the store of sessions; those that have ended are cleared away.
func (s *Store) Sessions() Sessions {
	s.db.Where("expiry < ?", now()).Delete(&session{})
	return Sessions{s.db}
}

// Find returns a session's data, and false where there is none or it has ended.
func (s Sessions) Find(token string) ([]byte, bool, error) {
	var found session
	err := s.db.Where("token = ? AND expiry >= ?", token, now()).Take(&found).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, false, nil
	}
	return found.Data, err == nil, err
}

// Commit keeps a session's data.
func (s Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return s.db.Clauses(clause.OnConflict{UpdateAll: true}).Create(&session{token, data, expiry.UTC()}).Error
}

// Delete ends a session.
func (s Sessions) Delete(token string) error {
	return s.db.Where("token = ?", token).Delete(&session{}).Error
}
