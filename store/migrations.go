package store

import (
	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"
)

// migrations bring an older workspace to the current form, one after the
// other. A migration that has been released is never changed.
var migrations = []*gormigrate.Migration{
	{ID: "2026-11-23-first", Migrate: func(db *gorm.DB) error {
		return db.AutoMigrate(&User{}, &session{}, &Quiz{}, &Edit{}, &Release{}, &Passage{}, &Response{}, &ResponseScore{}, &ResponseAnswer{}, &Parting{})
	}},
	{ID: "2026-11-24-pictures", Migrate: func(db *gorm.DB) error { return db.AutoMigrate(&Picture{}) }},
	{ID: "2026-11-24-tables", Migrate: func(db *gorm.DB) error {
		return db.AutoMigrate(&Signpost{}, &SignpostChange{}, &Product{})
	}},
	{ID: "2026-11-25-respondents", Migrate: func(db *gorm.DB) error { return db.AutoMigrate(&Passage{}, &Place{}, &Booking{}, &Consent{}) }},
}
