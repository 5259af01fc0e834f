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

	"omphalos/core/quiz"
)

// A List is one that people sign up for, with their consent.
type List struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Key         string      `gorm:"primaryKey"`
	Name        string      `gorm:"not null"`
	Once        bool        `gorm:"not null"` // a sign-up counts at once; otherwise it is confirmed by mail
	Subject     string      `gorm:"not null"` // of the mail that asks to confirm
	Text        string      `gorm:"not null"` // Markdown
	Receiver    string      `gorm:"not null"` // key of what is called when somebody joins or leaves, "" for nothing
	Address     string      `gorm:"not null"` // to which that is mailed, "" for none
	Made        time.Time
}

// Reasons why a list is not kept, or nobody is put on it.
var (
	ErrList         = errors.New("the list can't be kept")
	ErrUnsubscribed = errors.New("whoever has this address wants no mail")
)

const mostLists = 50

// Lists returns all lists, by name.
func (o *Outbox) Lists(ctx context.Context) ([]List, error) {
	var list []List
	return list, found(o.db(ctx).Order("name, key").Find(&list).Error, "listing the lists")
}

// List returns a list by its key.
func (o *Outbox) List(ctx context.Context, key string) (*List, error) {
	var l List
	err := o.db(ctx).Where("key = ?", key).Take(&l).Error
	return &l, found(err, "the list %q", key)
}

// PutList keeps a list, under the key that its name gives where it has none yet. The error
// wraps ErrList.
func (o *Outbox) PutList(ctx context.Context, l *List) error {
	l.Name, l.Address = strings.TrimSpace(l.Name), strings.TrimSpace(l.Address)
	switch {
	case l.Name == "" || utf8.RuneCountInString(l.Name) > 100:
		return fmt.Errorf("%w: give it a name of 1 to 100 letters", ErrList)
	case utf8.RuneCountInString(l.Subject) > quiz.MaxTitle || utf8.RuneCountInString(l.Text) > quiz.MaxText:
		return fmt.Errorf("%w: the mail that asks to confirm is too long", ErrList)
	case l.Address != "" && !quiz.IsEmail(l.Address):
		return fmt.Errorf("%w: “%s” is no e-mail address", ErrList, l.Address)
	}
	if l.Receiver != "" {
		if _, err := o.Receiver(ctx, l.Receiver); err != nil {
			return fmt.Errorf("%w: the receiver is not there any more", ErrList)
		}
	}
	if l.Key == "" {
		lists, err := o.Lists(ctx)
		if err != nil {
			return err
		}
		if len(lists) >= mostLists {
			return fmt.Errorf("%w: there are %d, take one away first", ErrList, mostLists)
		}
		l.Key = freeKey(l.Name, "list", func(key string) bool {
			return slices.ContainsFunc(lists, func(l List) bool { return l.Key == key })
		})
		l.Made = now()
	}
	return found(o.db(ctx).Clauses(clause.OnConflict{UpdateAll: true}).Create(l).Error, "keeping the list")
}

// RemoveList takes a list away with those who are on it.
func (o *Outbox) RemoveList(ctx context.Context, key string) error {
	return found(o.db(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Where("list = ?", key).Delete(&Subscription{}).Error; err != nil {
			return err
		}
		return tx.Where("key = ?", key).Delete(&List{}).Error
	}), "taking the list %q away", key)
}

// Counts returns how many are on each list, by its key and their state.
func (o *Outbox) Counts(ctx context.Context) (map[string]map[string]int, error) {
	var rows []struct {
		List, State string
		N           int
	}
	err := o.db(ctx).Model(&Subscription{}).Select("list, state, count(*) AS n").Group("list, state").Scan(&rows).Error
	counts := map[string]map[string]int{}
	for _, r := range rows {
		if counts[r.List] == nil {
			counts[r.List] = map[string]int{}
		}
		counts[r.List][r.State] = r.N
	}
	return counts, found(err, "counting who is on the lists")
}
