package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"time"

	"gorm.io/gorm/clause"
)

// A Picture is kept once, by what it holds.
type Picture struct {
	WorkspaceID   WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Name          string      `gorm:"primaryKey"` // of its content: SHA-256, in part
	Type          string
	Width, Height int
	Made          time.Time
	Data          []byte
}

// AddPicture keeps a picture and names it. The same picture is kept once.
func (d *Definitions) AddPicture(ctx context.Context, p Picture) (*Picture, error) {
	sum := sha256.Sum256(p.Data)
	p.Name, p.Made = hex.EncodeToString(sum[:16]), now()
	err := d.db(ctx).
		Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "workspace_id"}, {Name: "name"}},
			DoUpdates: clause.AssignmentColumns([]string{"made"})}).
		Create(&p).
		Error
	return &p, found(err, "keeping the picture")
}

// Picture returns a picture by its name.
func (d *Definitions) Picture(ctx context.Context, name string) (*Picture, error) {
	var p Picture
	err := d.db(ctx).Where("name = ?", name).Take(&p).Error
	return &p, found(err, "the picture")
}

// PictureSize returns the width and height of a picture in pixels.
func (d *Definitions) PictureSize(ctx context.Context, name string) (width, height int, err error) {
	var p Picture
	err = d.db(ctx).Select("width", "height").Where("name = ?", name).Take(&p).Error
	return p.Width, p.Height, found(err, "the size of the picture")
}

// Pictures returns the pictures that were used last, without what they hold.
func (d *Definitions) Pictures(ctx context.Context, most int) ([]Picture, error) {
	var list []Picture
	err := d.db(ctx).Select("name", "type", "width", "height", "made").Order("made DESC, name").Limit(most).
		Find(&list).
		Error
	return list, found(err, "listing the pictures")
}
