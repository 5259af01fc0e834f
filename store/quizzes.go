package store

import (
	"context"
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"omphalos/core/quiz"
)

// A Quiz is a draft with its place in the workspace. Its releases are apart.
type Quiz struct {
	ID          uint
	WorkspaceID WorkspaceID `gorm:"not null"`
	Slug        string      `gorm:"not null"` // public address, of one quiz of the workspace
	Title       string      // the draft's, for lists
	Questions   int         // of the draft, for lists
	Outcomes    string      `gorm:"not null;default:''"` // JSON of the draft's, with order, name and standing, for lists
	Draft       string      `gorm:"not null"`            // document
	Revision    int         `gorm:"not null"`            // counts every change, undo and redo
	Done        int         `gorm:"not null"`            // the edits up to this number are in the draft
	Released    int         // number of the newest release, 0 for none
	ReleaseOf   int         // revision that the newest release was made of
	Differs     int         `gorm:"not null;default:0"`     // in how many places the draft differs from the newest release
	Gate        string      `gorm:"not null;default:''"`    // JSON of gate.Gate: when it takes respondents
	Led         bool        `gorm:"not null;default:false"` // whoever makes it is led through it
	Experiment  string      `gorm:"not null;default:''"`    // JSON of Experiment, "" for none
	Created     time.Time
	Updated     time.Time
	DeletedAt   gorm.DeletedAt `gorm:"index"`
}

// A Listed quiz is one of the workspace's, with its figures.
type Listed struct {
	Quiz
	Responses int
	Counts    []OutcomeCount // of responses, most first
	Ended     map[string]int // respondents by outcome, with those who were screened out
}

// OutcomeCount is how many responses of a quiz got an outcome, kept in the commit that keeps
// a response.
type OutcomeCount struct {
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"primaryKey;autoIncrement:false"`
	Outcome     string      `gorm:"primaryKey"`
	Count       int
}

// Quizzes returns all quizzes, the newest change first, without their drafts.
func (d *Definitions) Quizzes(ctx context.Context) ([]Listed, error) {
	var all []Quiz
	if err := d.db(ctx).Omit("draft").Order("updated DESC, id DESC").Find(&all).Error; err != nil {
		return nil, found(err, "listing the quizzes")
	}
	var counts []OutcomeCount
	err := d.db(ctx).Where("count > 0").Order("count DESC, outcome").Find(&counts).Error
	if err != nil {
		return nil, found(err, "counting the responses")
	}
	var screened []OutcomeCount
	err = d.db(ctx).Model(&Screening{}).Select("quiz_id, outcome, sum(count) AS count").Where("outcome != ''").
		Group("quiz_id, outcome").Scan(&screened).Error
	if err != nil {
		return nil, found(err, "counting who was screened out")
	}
	list := make([]Listed, len(all))
	byID := map[uint]*Listed{}
	for i, z := range all {
		list[i].Quiz, list[i].Ended = z, map[string]int{}
		byID[z.ID] = &list[i]
	}
	for _, c := range counts {
		if l := byID[c.QuizID]; l != nil {
			l.Responses += c.Count
			l.Counts = append(l.Counts, c)
		}
	}
	for _, c := range slices.Concat(counts, screened) {
		if l := byID[c.QuizID]; l != nil {
			l.Ended[c.Outcome] += c.Count
		}
	}
	return list, nil
}

// Drafts returns all quizzes, the newest change first.
func (d *Definitions) Drafts(ctx context.Context) ([]Quiz, error) {
	var all []Quiz
	return all, found(d.db(ctx).Order("updated DESC, id DESC").Find(&all).Error, "reading the drafts")
}

// Quiz returns the quiz with an ID.
func (d *Definitions) Quiz(ctx context.Context, id uint) (*Quiz, error) {
	var z Quiz
	err := d.db(ctx).First(&z, id).Error
	return &z, found(err, "the quiz %d", id)
}

// Revision returns which revision of a quiz is kept, and the number of its newest release.
func (d *Definitions) Revision(ctx context.Context, id uint) (revision, released int, err error) {
	var z Quiz
	err = found(d.db(ctx).Select("revision", "released").Take(&z, id).Error, "quiz %d", id)
	return z.Revision, z.Released, err
}

// AddQuiz makes a quiz of a document; its address is taken from the title.
func (d *Definitions) AddQuiz(ctx context.Context, q *quiz.Quiz) (*Quiz, error) {
	z := &Quiz{Revision: 1, Created: now(), Updated: now()}
	z.set(q, q.Write())
	err := d.db(ctx).Transaction(func(tx *gorm.DB) error {
		var err error
		if z.Slug, err = freeSlug(tx, Slug(q.Title)); err != nil {
			return err
		}
		return tx.Create(z).Error
	})
	return z, found(err, "keeping the quiz")
}

// CopyQuiz makes a quiz of another's draft. The copy has a history of its own.
func (d *Definitions) CopyQuiz(ctx context.Context, id uint) (*Quiz, error) {
	z, err := d.Quiz(ctx, id)
	if err != nil {
		return nil, err
	}
	q, err := z.Document()
	if err != nil {
		return nil, fmt.Errorf("reading the draft of quiz %d: %w", id, err)
	}
	const mark = " (copy)"
	twin := *q
	if r := []rune(twin.Title); len(r)+len(mark) <= quiz.MaxTitle {
		twin.Title += mark
	}
	return d.AddQuiz(ctx, &twin)
}

// DeleteQuiz puts a quiz away; RestoreQuiz brings it back as it was.
func (d *Definitions) DeleteQuiz(ctx context.Context, id uint) error {
	result := d.db(ctx).Delete(&Quiz{}, id)
	if result.Error == nil && result.RowsAffected == 0 {
		result.Error = gorm.ErrRecordNotFound
	}
	d.public.forget()
	return found(result.Error, "the quiz %d", id)
}

// RestoreQuiz takes DeleteQuiz back.
func (d *Definitions) RestoreQuiz(ctx context.Context, id uint) error {
	result := d.db(ctx).Unscoped().Model(&Quiz{}).Where("id = ?", id).Update("deleted_at", nil)
	if result.Error == nil && result.RowsAffected == 0 {
		result.Error = gorm.ErrRecordNotFound
	}
	d.public.forget()
	return found(result.Error, "the quiz %d", id)
}

var notInSlug = regexp.MustCompile(`[^a-z0-9]+`)

// Slug returns words as a part of an address: small letters, digits and hyphens.
func Slug(words string) string {
	slug := strings.Trim(notInSlug.ReplaceAllString(strings.ToLower(words), "-"), "-")
	if len(slug) > 60 {
		slug = strings.TrimRight(slug[:60], "-")
	}
	if slug == "" {
		slug = "quiz"
	}
	return slug
}

// freeSlug returns the slug, with a number behind where it is taken, by a
// deleted quiz too.
func freeSlug(tx *gorm.DB, slug string) (string, error) {
	var taken []string
	if err := tx.Unscoped().Model(&Quiz{}).Where("slug = ? OR slug LIKE ?", slug, slug+"-%").
		Pluck("slug", &taken).Error; err != nil {
		return "", err
	}
	var before []string // of other quizzes: they lead on for ever
	if err := tx.Model(&Address{}).Where("slug = ? OR slug LIKE ?", slug, slug+"-%").
		Pluck("slug", &before).Error; err != nil {
		return "", err
	}
	there := map[string]bool{}
	for _, s := range append(taken, before...) {
		there[s] = true
	}
	for i, try := 1, slug; ; try = fmt.Sprintf("%s-%d", slug, i) {
		if !there[try] {
			return try, nil
		}
		i++
	}
}

// toJSON writes what can't fail to be written.
func toJSON(v any) string {
	b, err := json.Marshal(v)
	if err != nil {
		panic("store: writing JSON: " + err.Error())
	}
	return string(b)
}
