package store

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"sync"
	"time"

	"gorm.io/gorm"

	"omphalos/core/edit"
	"omphalos/core/gate"
	"omphalos/core/quiz"
)

// A Release is a frozen version of a quiz, numbered from 1.
type Release struct {
	ID          uint
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"uniqueIndex:release_number;not null"`
	Quiz        *Quiz       `gorm:"constraint:OnDelete:CASCADE"`
	Number      int         `gorm:"uniqueIndex:release_number;not null"`
	Document    string      `gorm:"not null"`
	Revision    int         // of the draft it was made of
	Made        time.Time
	UserID      uint
	Note        string `gorm:"not null;default:''"` // what it is for
	Again       int    `gorm:"not null;default:0"`  // the number of the earlier release that it is once more
	Ticked      string `gorm:"not null;default:''"` // JSON: the warnings that it was made in spite of

	Gate   gate.Gate `gorm:"-"` // of the quiz, where it was asked for by Public
	Beside *Beside   `gorm:"-"` // the release that takes a share of visitors beside it; nil for none
}

// In says with what a release is made.
type In struct {
	Note   string
	Ticked []string // sentences of warnings that somebody has seen
}

// Seen returns the warnings that the release was made in spite of.
func (r *Release) Seen() []string {
	var list []string
	_ = json.Unmarshal([]byte(r.Ticked), &list) // written by Release, or ""
	return list
}

// ErrUnfinished says that a draft has problems and can't be released.
var ErrUnfinished = errors.New("the draft is not ready to be released")

// Release freezes the draft at a revision. The error is ErrStale, or wraps
// ErrUnfinished and the first problem.
func (d *Definitions) Release(ctx context.Context, id uint, revision int, user uint) (*Release, error) {
	return d.ReleaseIn(ctx, id, revision, user, In{})
}

// ReleaseIn is Release with what it is for, and what was seen.
func (d *Definitions) ReleaseIn(ctx context.Context, id uint, revision int, user uint, in In) (*Release, error) {
	z, err := d.Quiz(ctx, id)
	if err != nil {
		return nil, err
	}
	if z.Revision != revision {
		return nil, ErrStale
	}
	q, err := z.Document()
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrUnfinished, err)
	}
	document := z.Draft
	if written := edit.Written(q); written != q { // what was never written is not released
		q, document = written, string(written.Write())
	}
	if problems := q.Check(); len(problems) > 0 {
		return nil, fmt.Errorf("%w: %w", ErrUnfinished, problems[0])
	}
	r := Release{QuizID: id, Number: z.Released + 1, Document: document, Revision: revision, Made: now(),
		UserID: user, Note: in.Note}
	if len(in.Ticked) > 0 {
		r.Ticked = toJSON(in.Ticked)
	}
	err = d.db(ctx).Transaction(func(tx *gorm.DB) error {
		made := tx.Model(&Quiz{}).Where("id = ? AND revision = ? AND released = ?", id, revision, z.Released).
			Updates(map[string]any{"released": r.Number, "release_of": revision, "differs": 0})
		if made.Error != nil || made.RowsAffected == 0 {
			return cmp.Or(made.Error, ErrStale)
		}
		return tx.Create(&r).Error
	})
	d.public.forget()
	return &r, err
}

// ReleaseAgain makes an earlier release public once more, under a number of its own. The draft
// stays as it is.
func (d *Definitions) ReleaseAgain(ctx context.Context, id uint, number int, user uint) (*Release, error) {
	old, err := d.ReleaseNumber(ctx, id, number)
	if err != nil {
		return nil, err
	}
	z, err := d.Quiz(ctx, id)
	if err != nil {
		return nil, err
	}
	if number == z.Released {
		return nil, fmt.Errorf("release %d is public already: %w", number, ErrStale)
	}
	r := Release{QuizID: id, Number: z.Released + 1, Document: old.Document, Revision: old.Revision,
		Made: now(), UserID: user, Again: number}
	err = d.db(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Create(&r).Error; err != nil {
			return err
		}
		was := z.Released
		z.Released = r.Number
		if err := z.compare(tx); err != nil {
			return err
		}
		made := tx.Model(&Quiz{}).Where("id = ? AND released = ?", id, was).
			Updates(map[string]any{"released": r.Number, "release_of": old.Revision, "differs": z.Differs})
		if made.Error == nil && made.RowsAffected == 0 {
			return ErrStale
		}
		return made.Error
	})
	d.public.forget()
	return &r, err
}

// ReleaseNumber returns a release of a quiz by its number.
func (d *Definitions) ReleaseNumber(ctx context.Context, id uint, number int) (*Release, error) {
	var r Release
	err := d.db(ctx).Where("quiz_id = ? AND number = ?", id, number).Take(&r).Error
	return &r, found(err, "release %d of quiz %d", number, id)
}

// BringBack makes a release the draft, as an edit that can be undone. The error is ErrStale,
// or what edit.Apply says.
func (d *Definitions) BringBack(ctx context.Context, id uint, revision, number int, user uint) (*Quiz, error) {
	r, err := d.ReleaseNumber(ctx, id, number)
	if err != nil {
		return nil, err
	}
	return d.change(ctx, id, revision, func(z *Quiz) (keep, error) {
		change, err := edit.Become([]byte(z.Draft), []byte(r.Document))
		if err != nil {
			return nil, err
		}
		change.Sentence = fmt.Sprintf("Brought release %d back as the draft", number)
		change.Text = false // it is no typing that others are joined with
		return d.record(ctx, z, change, user)
	})
}

// A published remembers which release is at which address.
type published struct {
	sync.Mutex
	at         map[string]Release
	generation int
}

// mostPublished is how many addresses are remembered; beyond, all are forgotten.
const mostPublished = 4096

func (p *published) forget() {
	p.Lock()
	defer p.Unlock()
	p.at, p.generation = nil, p.generation+1
}

func (p *published) get(slug string) (r Release, known bool, generation int) {
	p.Lock()
	defer p.Unlock()
	r, known = p.at[slug]
	return r, known, p.generation
}

// put remembers what was read while a generation lasted.
func (p *published) put(slug string, r Release, generation int) {
	p.Lock()
	defer p.Unlock()
	if generation != p.generation {
		return
	}
	if p.at == nil || len(p.at) >= mostPublished {
		p.at = map[string]Release{}
	}
	p.at[slug] = r
}

// Releases returns a quiz's releases, the newest first.
func (d *Definitions) Releases(ctx context.Context, id uint) ([]Release, error) {
	var list []Release
	err := d.db(ctx).Where("quiz_id = ?", id).Order("number DESC").Find(&list).Error
	return list, found(err, "listing the releases of quiz %d", id)
}

// Public returns the newest release at a public address, without its document:
// ReleaseByID has that.
func (d *Definitions) Public(ctx context.Context, slug string) (*Release, error) {
	r, known, generation := d.public.get(slug)
	if known {
		return &r, nil
	}
	var row struct {
		Release
		Gate, Experiment string
	}
	err := d.db(ctx).Model(&Release{}).
		Select("releases.id", "releases.workspace_id", "releases.quiz_id", "releases.number", "quizzes.gate",
			"quizzes.experiment").
		Joins("JOIN quizzes ON quizzes.workspace_id = releases.workspace_id AND quizzes.id = "+
			"releases.quiz_id AND quizzes.released = releases.number AND quizzes.deleted_at IS NULL").
		Where("quizzes.slug = ?", slug).Take(&row).Error
	if err == nil {
		r = row.Release
		if row.Gate != "" {
			_ = json.Unmarshal([]byte(row.Gate), &r.Gate) // written by SetGate
		}
		if r.Beside, err = d.beside(ctx, r.QuizID, row.Experiment); err == nil {
			d.public.put(slug, r, generation)
		}
	}
	return &r, found(err, "the quiz at %q", slug)
}

// ReleaseByID returns a release.
func (d *Definitions) ReleaseByID(ctx context.Context, id uint) (*Release, error) {
	var r Release
	err := d.db(ctx).First(&r, id).Error
	return &r, found(err, "the release %d", id)
}

// Read reads the release's document.
func (r *Release) Read() (*quiz.Quiz, error) { return quiz.Read([]byte(r.Document)) }
