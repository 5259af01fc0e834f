package store

import (
	"encoding/json"
	"errors"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// A Setting is what a workspace's people have settled for all of its quizzes.
type Setting struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Name        string      `gorm:"primaryKey"`
	Value       string      `gorm:"not null"` // JSON
}

// setting reads a setting into a value, which stays as it is where there is none.
func setting(tx *gorm.DB, name string, to any) error {
	var s Setting
	err := tx.Where("name = ?", name).Take(&s).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil
	}
	if err == nil {
		err = json.Unmarshal([]byte(s.Value), to)
	}
	return found(err, "the setting %q", name)
}

// keepSetting keeps a setting.
func keepSetting(tx *gorm.DB, name string, value any) error {
	s := Setting{Name: name, Value: toJSON(value)}
	return found(tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&s).Error, "keeping the setting %q", name)
}
