package store

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"time"

	"gorm.io/gorm"

	"omphalos/core/edit"
	"omphalos/core/quiz"
)

// An Edit is one change of a draft, numbered per quiz without gaps. Those
// after Quiz.Done are undone and can be done again.
type Edit struct {
	ID          uint
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"uniqueIndex:edit_number;not null"`
	Quiz        *Quiz       `gorm:"constraint:OnDelete:CASCADE"`
	Number      int         `gorm:"uniqueIndex:edit_number;not null"`
	Sentence    string      // what it did
	Path        string      // of its first operation
	Patch       string
	Inverse     string
	UserID      uint
	Made        time.Time
}

// Reasons why a change is not kept.
var (
	ErrStale   = errors.New("the draft has changed since this revision")
	ErrNoUndo  = errors.New("there is nothing to undo")
	ErrNoRedo  = errors.New("there is nothing to do again")
	ErrChanged = errors.New("later changes are in the way")
)

// typing is the time within which edits of one text by one person become one.
const typing = 4 * time.Second

// Edit applies a patch to the draft at a revision. The error is ErrStale where
// the draft is at another one, what edit.Apply says, or the context's.
func (d *Definitions) Edit(
	ctx context.Context,
	id uint,
	revision int,
	patch []byte,
	user uint,
) (*Quiz, *edit.Change, error) {
	z, change, err := d.edit(ctx, id, revision, patch, user)
	if err == nil {
		d.wornTogether(ctx, z, string(change.Patch), user)
	}
	return z, change, err
}

func (d *Definitions) edit(
	ctx context.Context,
	id uint,
	revision int,
	patch []byte,
	user uint,
) (*Quiz, *edit.Change, error) {
	var change *edit.Change
	z, err := d.change(ctx, id, revision, func(z *Quiz) (keep, error) {
		var err error
		if change, err = z.apply(ctx, patch); err != nil {
			return nil, err
		}
		return d.record(ctx, z, change, user)
	})
	return z, change, err
}

// A keep writes what goes with a new revision of a draft.
type keep func(tx *gorm.DB) error

// change makes the next revision of a draft and keeps it. Everything is worked out before
// the transaction, which compares the revision again: nobody waits for anybody's document.
func (d *Definitions) change(ctx context.Context, id uint, revision int, f func(z *Quiz) (keep, error)) (*Quiz, error) {
	z, err := d.Quiz(ctx, id)
	if err != nil {
		return nil, err
	}
	if z.Revision != revision {
		return z, ErrStale
	}
	with, err := f(z)
	if err != nil {
		return z, err
	}
	if err := z.compare(d.db(ctx)); err != nil {
		return z, err
	}
	z.Revision++
	z.Updated = now()
	return z, d.db(ctx).Transaction(func(tx *gorm.DB) error {
		kept := tx.Model(&Quiz{}).Where("id = ? AND revision = ?", id, revision).
			Select("Draft", "Title", "Questions", "Outcomes", "Revision", "Done", "Differs", "Updated").Updates(z)
		if kept.Error != nil || kept.RowsAffected == 0 {
			return cmp.Or(kept.Error, ErrStale)
		}
		if with == nil {
			return nil
		}
		return with(tx)
	})
}

// record puts the change behind what is done; what was undone is forgotten.
func (d *Definitions) record(ctx context.Context, z *Quiz, c *edit.Change, user uint) (keep, error) {
	if string(c.Document) == z.Draft {
		return nil, nil // there is nothing to take back
	}
	z.set(c.After, c.Document)
	done := z.Done
	e := Edit{QuizID: z.ID, Number: done + 1, Sentence: c.Sentence, Path: string(c.Paths[0]),
		Patch: string(c.Patch), Inverse: string(c.Inverse), UserID: user, Made: now()}
	last, err := d.typedInto(ctx, z, e, c)
	if err != nil {
		return nil, err
	}
	if last == nil {
		z.Done++
	}
	return func(tx *gorm.DB) error {
		if err := tx.Where("quiz_id = ? AND number > ?", z.ID, done).Delete(&Edit{}).Error; err != nil {
			return err
		}
		if last != nil {
			return tx.Save(last).Error
		}
		return tx.Create(&e).Error
	}, nil
}

func (z *Quiz) set(q *quiz.Quiz, document []byte) {
	z.Draft, z.Title, z.Questions, z.Outcomes = string(document), q.Title, len(q.Questions), outcomesOf(q)
}

// typedInto returns the edit before joined with this one where both are the same person's
// typing into the same text, so that undo takes back words and not letters; or nil.
func (d *Definitions) typedInto(ctx context.Context, z *Quiz, e Edit, c *edit.Change) (*Edit, error) {
	if !c.Text {
		return nil, nil
	}
	var last Edit
	err := d.db(ctx).Where("quiz_id = ? AND number = ?", z.ID, z.Done).Take(&last).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	if last.Path != e.Path || last.UserID != e.UserID || e.Made.Sub(last.Made) > typing ||
		!edit.IsText([]byte(last.Patch)) {
		return nil, nil
	}
	last.Patch, last.Sentence, last.Made = e.Patch, e.Sentence, e.Made
	return &last, nil
}

// Undo takes the last edit back that is done. The error is ErrNoUndo or ErrStale.
func (d *Definitions) Undo(ctx context.Context, id uint, revision int) (*Quiz, *Edit, error) {
	return d.step(ctx, id, revision, 0, -1, func(e *Edit) string { return e.Inverse }, ErrNoUndo)
}

// Redo does the edit again that was undone last. The error is ErrNoRedo or ErrStale.
func (d *Definitions) Redo(ctx context.Context, id uint, revision int) (*Quiz, *Edit, error) {
	return d.step(ctx, id, revision, 1, +1, func(e *Edit) string { return e.Patch }, ErrNoRedo)
}

func (d *Definitions) step(
	ctx context.Context,
	id uint,
	revision, offset, by int,
	patch func(*Edit) string,
	none error,
) (*Quiz, *Edit, error) {
	var e Edit
	z, err := d.change(ctx, id, revision, func(z *Quiz) (keep, error) {
		err := d.db(ctx).Where("quiz_id = ? AND number = ?", id, z.Done+offset).Take(&e).Error
		if errors.Is(err, gorm.ErrRecordNotFound) {
			return nil, none
		}
		if err != nil {
			return nil, err
		}
		c, err := z.apply(ctx, []byte(patch(&e)))
		if err != nil {
			return nil, fmt.Errorf("%w: %v", ErrChanged, err)
		}
		z.set(c.After, c.Document)
		z.Done += by
		return nil, nil
	})
	if err == nil {
		d.wornTogether(ctx, z, patch(&e), e.UserID)
	}
	return z, &e, err
}

// History tells what undo would take back and redo do again, "" for nothing.
func (d *Definitions) History(ctx context.Context, z *Quiz) (undo, redo string, err error) {
	var near []Edit
	err = d.db(ctx).Select("number", "sentence").
		Where("quiz_id = ? AND number IN ?", z.ID, []int{z.Done, z.Done + 1}).
		Find(&near).
		Error
	for _, e := range near {
		if e.Number == z.Done {
			undo = e.Sentence
		} else {
			redo = e.Sentence
		}
	}
	return undo, redo, found(err, "reading the history of quiz %d", z.ID)
}
