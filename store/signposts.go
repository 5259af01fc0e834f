package store

import (
	"errors"
	"fmt"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"omphalos/core/fillin"
)

// A Signpost is a row of a table "key → address" that landings look up at the moment
// of redirecting.
type Signpost struct {
	Table   string `gorm:"primaryKey;column:board"`
	Row     string `gorm:"primaryKey;column:sign"`
	Address string
	Updated time.Time
	Used    *time.Time // last; nil for never
}

// A SignpostChange is one edit of a signpost; empty addresses are before it was made
// and after it was taken away.
type SignpostChange struct {
	ID       uint
	Board    string `gorm:"index"`
	Sign     string
	From, To string
	UserID   uint
	Made     time.Time
}

// ErrSignpost says that a signpost can't be kept.
var ErrSignpost = errors.New("can't be kept")

// Signposts returns all rows, by table and row.
func (s *Store) Signposts() ([]Signpost, error) {
	var list []Signpost
	err := s.db.Order("board, sign").Find(&list).Error
	return list, found(err, "listing the signposts")
}

// SignpostChanges returns the newest edits of signposts, at most limit.
func (s *Store) SignpostChanges(limit int) ([]SignpostChange, error) {
	var list []SignpostChange
	err := s.db.Order("id DESC").Limit(limit).Find(&list).Error
	return list, found(err, "listing the changes of signposts")
}

// PutSignposts keeps rows, all or none, and the history of what they were before; rows
// with an empty address are taken away. The error wraps ErrSignpost and names the row
// (counted from 1) that can't be kept.
func (s *Store) PutSignposts(rows []Signpost, user uint) error {
	for i := range rows {
		r := &rows[i]
		r.Table, r.Row, r.Address = strings.TrimSpace(r.Table), strings.TrimSpace(r.Row), strings.TrimSpace(r.Address)
		if r.Table == "" || r.Row == "" {
			return fmt.Errorf("row %d %w: it needs a table and a key", i+1, ErrSignpost)
		}
		if len(r.Table) > 100 || len(r.Row) > 100 || len(r.Address) > 2000 {
			return fmt.Errorf("row %d %w: it is too long", i+1, ErrSignpost)
		}
		if r.Address == "" {
			continue
		}
		if _, err := fillin.ParseAddress(r.Address); err != nil {
			return fmt.Errorf("row %d (%s / %s) %w: the address %w", i+1, r.Table, r.Row, ErrSignpost, err)
		}
	}
	return s.db.Transaction(func(tx *gorm.DB) error {
		for _, r := range rows {
			if err := putSignpost(tx, r, user); err != nil {
				return found(err, "keeping a signpost")
			}
		}
		return nil
	})
}

func putSignpost(tx *gorm.DB, r Signpost, user uint) error {
	var old Signpost
	err := tx.Where("board = ? AND sign = ?", r.Table, r.Row).Take(&old).Error
	if err != nil && !errors.Is(err, gorm.ErrRecordNotFound) {
		return err
	}
	if old.Address == r.Address {
		return nil
	}
	change := SignpostChange{Board: r.Table, Sign: r.Row, From: old.Address, To: r.Address, UserID: user, Made: now()}
	if err := tx.Create(&change).Error; err != nil {
		return err
	}
	if r.Address == "" {
		return tx.Where("board = ? AND sign = ?", r.Table, r.Row).Delete(&Signpost{}).Error
	}
	r.Updated, r.Used = now(), old.Used
	return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&r).Error
}

// Signpost returns the address of a row, "" where there is none, and notes that it was
// used.
func (s *Store) Signpost(table, row string) (string, error) {
	var r Signpost
	err := s.db.Where("board = ? AND sign = ?", table, row).Take(&r).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return "", nil
	}
	if err != nil {
		return "", found(err, "looking up a signpost")
	}
	if at := now(); r.Used == nil || at.Sub(*r.Used) > time.Minute {
		_ = s.db.Model(&Signpost{}).Where("board = ? AND sign = ?", table, row).Update("used", at).Error // the way matters more than the note
	}
	return r.Address, nil
}
