package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/url"
	"time"

	"gorm.io/gorm"

	"gorm.io/gorm/clause"
	"omphalos/store/tally"

	"omphalos/core/gate"
)

// An Address is one that a quiz had before: it leads on to today's for ever.
type Address struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Slug        string      `gorm:"primaryKey"`
	QuizID      uint        `gorm:"not null"`
	Until       time.Time
}

// Reasons why a quiz does not get an address.
var (
	ErrSlug  = errors.New("has other than small letters, digits and hyphens")
	ErrInUse = errors.New("is the address of another quiz")
)

// Move gives a quiz another address; the old one leads on to it. The error wraps ErrSlug or
// ErrInUse.
func (d *Definitions) Move(ctx context.Context, id uint, slug string) error {
	if slug == "" || Slug(slug) != slug {
		return fmt.Errorf("the address %q %w", slug, ErrSlug)
	}
	z, err := d.Quiz(ctx, id)
	if err != nil || z.Slug == slug {
		return err
	}
	err = d.db(ctx).Transaction(func(tx *gorm.DB) error {
		var others int64
		if err := tx.Unscoped().Model(&Quiz{}).Where("slug = ? AND id <> ?", slug, id).Count(&others).Error; err != nil {
			return err
		}
		var before Address
		err := tx.Where("slug = ?", slug).Take(&before).Error
		if others > 0 || err == nil && before.QuizID != id {
			return fmt.Errorf("the address %q %w", slug, ErrInUse)
		}
		if err != nil && !errors.Is(err, gorm.ErrRecordNotFound) {
			return err
		}
		if err := tx.Where("slug = ?", slug).Delete(&Address{}).Error; err != nil { // it has it again
			return err
		}
		old := Address{Slug: z.Slug, QuizID: id, Until: now()}
		if err := tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&old).Error; err != nil {
			return err
		}
		return tx.Model(&Quiz{}).Where("id = ?", id).UpdateColumn("slug", slug).Error
	})
	d.public.forget()
	return err
}

// MovedTo returns today's address of a quiz that had an address before; the error is
// ErrNotFound where none had.
func (d *Definitions) MovedTo(ctx context.Context, slug string) (string, error) {
	var to string
	err := d.db(ctx).Model(&Quiz{}).
		Where("id = (SELECT quiz_id FROM addresses WHERE addresses.workspace_id = quizzes.workspace_id "+
			"AND addresses.slug = ?)", slug).
		Pluck("slug", &to).Error
	if err == nil && to == "" {
		err = gorm.ErrRecordNotFound
	}
	return to, found(err, "the quiz that was at %q", slug)
}

// QuizAt returns the quiz at an address, or that had it before.
func (d *Definitions) QuizAt(ctx context.Context, slug string) (*Quiz, error) {
	z := new(Quiz)
	err := d.db(ctx).Where("slug = ?", slug).Take(z).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		if to, moved := d.MovedTo(ctx, slug); moved == nil {
			err = d.db(ctx).Where("slug = ?", to).Take(z).Error
		}
	}
	return z, found(err, "the quiz at %q", slug)
}

// Addresses lists the addresses that a quiz had before, the newest first.
func (d *Definitions) Addresses(ctx context.Context, id uint) ([]Address, error) {
	var list []Address
	return list, found(d.db(ctx).Where("quiz_id = ?", id).Order("until DESC").Find(&list).Error, "listing the addresses")
}

// GateOf returns when a quiz takes respondents.
func (z *Quiz) GateOf() gate.Gate {
	var g gate.Gate
	_ = json.Unmarshal([]byte(z.Gate), &g) // written by SetGate, or ""
	return g
}

// SetGate says when a quiz takes respondents. It counts at once.
func (d *Definitions) SetGate(ctx context.Context, id uint, g gate.Gate) error {
	err := d.db(ctx).Model(&Quiz{}).Where("id = ?", id).UpdateColumn("gate", toJSON(g)).Error
	d.public.forget()
	return found(err, "setting when quiz %d takes respondents", id)
}

// A Link is an address of a quiz for one use: in a letter, at a fair, in an advertisement.
type Link struct {
	ID          uint
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"not null"`
	Name        string      `gorm:"not null"`
	Query       string      `gorm:"not null"` // behind the address
	Made        time.Time
}

// AddLink keeps a link.
func (d *Definitions) AddLink(ctx context.Context, l Link) error {
	l.Made = now()
	return found(d.db(ctx).Create(&l).Error, "keeping the link")
}

// Links lists the links of a quiz, in the order in which they were made.
func (d *Definitions) Links(ctx context.Context, id uint) ([]Link, error) {
	var list []Link
	return list, found(d.db(ctx).Where("quiz_id = ?", id).Order("id").Find(&list).Error, "listing the links")
}

// RemoveLink forgets a link; its address goes on working.
func (d *Definitions) RemoveLink(ctx context.Context, quiz, id uint) error {
	return found(d.db(ctx).Where("id = ? AND quiz_id = ?", id, quiz).Delete(&Link{}).Error, "forgetting the link")
}

// tagged are the parameters of a link that responses keep, and where they count.
var tagged = map[string]tally.Kind{"utm_source": tally.Source, "utm_medium": tally.Medium,
	"utm_campaign": tally.Campaign}

// FinishedBy counts the responses of those who came by each of some links, as their source,
// medium and campaign tell; of the plain address, a link without a query, those who name no
// source. It is −1 for a link by which nobody is told.
func (rs *Responses) FinishedBy(ctx context.Context, quiz uint, links []Link) ([]int, error) {
	counts := make([]int, len(links))
	if len(links) == 0 {
		return counts, nil
	}
	err := rs.Tally(ctx, quiz, func(t *tally.Tally) {
		for i, l := range links {
			counts[i] = -1
			query, _ := url.ParseQuery(l.Query) // made by us
			var parts []tally.Part
			for name, of := range tagged {
				if value := query.Get(name); value != "" {
					parts = append(parts, tally.Part{Of: tally.Property{Kind: of}, Values: []string{value}})
				}
			}
			switch {
			case parts != nil:
				counts[i] = t.Slice(parts...).Count()
			case l.Query == "":
				counts[i] = t.All()
				for _, from := range t.Slice().Split(tally.Property{Kind: tally.Source}) {
					counts[i] -= from.Count
				}
			}
		}
	})
	return counts, err
}
