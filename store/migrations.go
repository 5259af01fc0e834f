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
	{ID: "2026-11-25-differences", Migrate: func(db *gorm.DB) error {
		if err := db.AutoMigrate(&Quiz{}); err != nil {
			return err
		}
		var all []Quiz
		if err := db.Unscoped().Where("released > 0").Find(&all).Error; err != nil {
			return err
		}
		for i := range all {
			if err := all[i].compare(db); err != nil {
				return err
			}
			if err := db.Unscoped().Model(&all[i]).UpdateColumn("differs", all[i].Differs).Error; err != nil {
				return err
			}
		}
		return nil
	}}, {ID: "2026-11-25-forgetting", Migrate: func(db *gorm.DB) error {
		if err := db.Exec("UPDATE passages SET answers = '{}' WHERE finished AND id IN (SELECT passage FROM responses)").Error; err != nil {
			return err
		}
		return db.Exec("CREATE INDEX IF NOT EXISTS passages_unfinished ON passages(updated) WHERE NOT finished").Error
	}}, {ID: "2026-11-25-sign-in", Migrate: func(db *gorm.DB) error { return db.AutoMigrate(&User{}) }}, {ID: "2026-11-25-devices", Migrate: func(db *gorm.DB) error { return db.AutoMigrate(&Passage{}) }},
}
