package store

import (
	"crypto/sha256"
	"encoding/hex"
	"time"

	"gorm.io/gorm/clause"
)

// A Picture is kept once, by what it holds.
type Picture struct {
	Name          string `gorm:"primaryKey"` // of its content: SHA-256, in part
	Type          string
	Width, Height int
	Made          time.Time
	Data          []byte
}

// AddPicture keeps a picture and names it. The same picture is kept once.
func (s *Store) AddPicture(p Picture) (*Picture, error) {
	sum := sha256.Sum256(p.Data)
	p.Name, p.Made = hex.EncodeToString(sum[:16]), now()
	err := s.db.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "name"}}, DoUpdates: clause.AssignmentColumns([]string{"made"})}).Create(&p).Error
	return &p, found(err, "keeping the picture")
}

// Picture returns a picture by its name.
func (s *Store) Picture(name string) (*Picture, error) {
	var p Picture
	err := s.db.Where("name = ?", name).Take(&p).Error
	return &p, found(err, "the picture")
}

// PictureSize returns the width and height of a picture in pixels.
func (s *Store) PictureSize(name string) (width, height int, err error) {
	var p Picture
	err = s.db.Select("width", "height").Where("name = ?", name).Take(&p).Error
	return p.Width, p.Height, found(err, "the size of the picture")
}

// Pictures returns the pictures that were used last, without what they hold.
func (s *Store) Pictures(most int) ([]Picture, error) {
	var list []Picture
	err := s.db.Select("name", "type", "width", "height", "made").Order("made DESC, name").Limit(most).Find(&list).Error
	return list, found(err, "listing the pictures")
}
