package store

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"gorm.io/gorm/clause"
)

// A View is a sentence about responses that is kept under a name.
type View struct {
	ID          uint        `gorm:"primaryKey"`
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"not null"`
	Name        string      `gorm:"not null"` // unlike those of the quiz's other views
	Query       string      `gorm:"not null"` // the fields of the sentence, as an address has them
	Made        time.Time
}

// ErrViewName says that a view's name is none.
var ErrViewName = errors.New("a name of 1 to 60 letters is needed")

const longestViewName = 60

// Views lists a quiz's views by their names.
func (d *Definitions) Views(ctx context.Context, quiz uint) ([]View, error) {
	var list []View
	err := d.db(ctx).Where("quiz_id = ?", quiz).Order("name").Find(&list).Error
	return list, found(err, "listing the views of quiz %d", quiz)
}

// KeepView keeps a sentence under a name, in the place of what had it. The error wraps
// ErrViewName.
func (d *Definitions) KeepView(ctx context.Context, quiz uint, name, query string) error {
	name = strings.Join(strings.Fields(name), " ")
	if name == "" || utf8.RuneCountInString(name) > longestViewName {
		return fmt.Errorf("keeping a view: %w", ErrViewName)
	}
	view := View{QuizID: quiz, Name: name, Query: query, Made: now()}
	err := d.db(ctx).Clauses(clause.OnConflict{
		Columns: []clause.Column{{Name: "quiz_id"}, {Name: "name"}}, DoUpdates: clause.AssignmentColumns([]string{"query", "made"}),
	}).Create(&view).Error
	return found(err, "keeping the view %q", name)
}

// ForgetView forgets a view.
func (d *Definitions) ForgetView(ctx context.Context, quiz, id uint) error {
	return found(d.db(ctx).Where("id = ? AND quiz_id = ?", id, quiz).Delete(&View{}).Error, "forgetting the view")
}
