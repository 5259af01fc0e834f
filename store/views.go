package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"gorm.io/gorm"
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
	name, err := viewName(name)
	if err != nil {
		return err
	}
	view := View{QuizID: quiz, Name: name, Query: query, Made: now()}
	err = d.db(ctx).Clauses(clause.OnConflict{
		Columns:   []clause.Column{{Name: "quiz_id"}, {Name: "name"}},
		DoUpdates: clause.AssignmentColumns([]string{"query", "made"}),
	}).Create(&view).Error
	return found(err, "keeping the view %q", name)
}

// ForgetView forgets a view.
func (d *Definitions) ForgetView(ctx context.Context, quiz, id uint) error {
	return found(d.db(ctx).Where("id = ? AND quiz_id = ?", id, quiz).Delete(&View{}).Error, "forgetting the view")
}

// viewName returns a name as it is kept.
func viewName(typed string) (string, error) {
	name := strings.Join(strings.Fields(typed), " ")
	if name == "" || utf8.RuneCountInString(name) > longestViewName {
		return "", fmt.Errorf("keeping a view: %w", ErrViewName)
	}
	return name, nil
}

// A LeadView is a sentence about leads that is kept under a name.
type LeadView struct{ Name, Query string }

// ErrViews says that there are as many views as there can be.
var ErrViews = errors.New("there are too many views")

const (
	leadViewsSetting = "lead-views"
	mostLeadViews    = 100
)

// LeadViews lists the views of leads by their names.
func (rs *Responses) LeadViews(ctx context.Context) ([]LeadView, error) {
	var list []LeadView
	return list, setting(rs.db(ctx), leadViewsSetting, &list)
}

// KeepLeadView keeps a sentence under a name, in the place of what had it. The error wraps
// ErrViewName or ErrViews.
func (rs *Responses) KeepLeadView(ctx context.Context, v LeadView) (err error) {
	if v.Name, err = viewName(v.Name); err != nil {
		return err
	}
	return rs.changeLeadViews(ctx, func(list []LeadView) []LeadView {
		list = append(without(list, v.Name), v)
		slices.SortFunc(list, func(a, b LeadView) int { return strings.Compare(a.Name, b.Name) })
		return list
	})
}

// ForgetLeadView forgets a view of leads.
func (rs *Responses) ForgetLeadView(ctx context.Context, name string) error {
	return rs.changeLeadViews(ctx, func(list []LeadView) []LeadView { return without(list, name) })
}

func without(list []LeadView, name string) []LeadView {
	return slices.DeleteFunc(list, func(v LeadView) bool { return v.Name == name })
}

func (rs *Responses) changeLeadViews(ctx context.Context, f func([]LeadView) []LeadView) error {
	return rs.db(ctx).Transaction(func(tx *gorm.DB) error {
		var list []LeadView
		if err := setting(tx, leadViewsSetting, &list); err != nil {
			return err
		}
		if list = f(list); len(list) > mostLeadViews {
			return ErrViews
		}
		return keepSetting(tx, leadViewsSetting, list)
	})
}
