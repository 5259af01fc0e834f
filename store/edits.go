package store

import (
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
	ID       uint
	QuizID   uint   `gorm:"uniqueIndex:edit_number;not null"`
	Quiz     *Quiz  `gorm:"constraint:OnDelete:CASCADE"`
	Number   int    `gorm:"uniqueIndex:edit_number;not null"`
	Sentence string // what it did
	Path     string // of its first operation
	Patch    string
	Inverse  string
	UserID   uint
	Made     time.Time
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
// the draft is at another one, or what edit.Apply says.
func (s *Store) Edit(id uint, revision int, patch []byte, user uint) (*Quiz, *edit.Change, error) {
	var change *edit.Change
	z, err := s.change(id, revision, func(tx *gorm.DB, z *Quiz) error {
		var err error
		if change, err = z.apply(patch); err != nil {
			return err
		}
		return record(tx, z, change, user)
	})
	return z, change, err
}

// change runs f on the quiz in one transaction and keeps it at the next revision.
func (s *Store) change(id uint, revision int, f func(tx *gorm.DB, z *Quiz) error) (*Quiz, error) {
	var z Quiz
	err := s.db.Transaction(func(tx *gorm.DB) error {
		if err := tx.First(&z, id).Error; err != nil {
			return found(err, "the quiz %d", id)
		}
		if z.Revision != revision {
			return ErrStale
		}
		if err := f(tx, &z); err != nil {
			return err
		}
		if err := z.compare(tx); err != nil {
			return err
		}
		z.Revision++
		z.Updated = now()
		return tx.Save(&z).Error
	})
	return &z, err
}

// record adds the change to the history, behind what is done; what was undone
// is forgotten.
func record(tx *gorm.DB, z *Quiz, c *edit.Change, user uint) error {
	if string(c.Document) == z.Draft {
		return nil // there is nothing to take back
	}
	if err := tx.Where("quiz_id = ? AND number > ?", z.ID, z.Done).Delete(&Edit{}).Error; err != nil {
		return err
	}
	z.set(c.After, c.Document)
	e := Edit{QuizID: z.ID, Number: z.Done + 1, Sentence: c.Sentence, Path: c.Paths[0],
		Patch: string(c.Patch), Inverse: string(c.Inverse), UserID: user, Made: now()}
	if merged, err := mergeTyping(tx, z, e, c); merged || err != nil {
		return err
	}
	z.Done++
	return tx.Create(&e).Error
}

func (z *Quiz) set(q *quiz.Quiz, document []byte) {
	z.Draft, z.Title, z.Questions = string(document), q.Title, len(q.Questions)
}

// mergeTyping joins an edit to the one before where both are the same person's
// typing into the same text, so that undo takes back words and not letters.
func mergeTyping(tx *gorm.DB, z *Quiz, e Edit, c *edit.Change) (bool, error) {
	if len(c.Paths) != 1 || !edit.IsText(c.Patch) {
		return false, nil
	}
	var last Edit
	err := tx.Where("quiz_id = ? AND number = ?", z.ID, z.Done).Take(&last).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	if last.Path != e.Path || last.UserID != e.UserID || e.Made.Sub(last.Made) > typing || !edit.IsText([]byte(last.Patch)) {
		return false, nil
	}
	last.Patch, last.Sentence, last.Made = e.Patch, e.Sentence, e.Made
	return true, tx.Save(&last).Error
}

// Undo takes the last edit back that is done. The error is ErrNoUndo or ErrStale.
func (s *Store) Undo(id uint, revision int) (*Quiz, *Edit, error) {
	return s.step(id, revision, 0, -1, func(e *Edit) string { return e.Inverse }, ErrNoUndo)
}

// Redo does the edit again that was undone last. The error is ErrNoRedo or ErrStale.
func (s *Store) Redo(id uint, revision int) (*Quiz, *Edit, error) {
	return s.step(id, revision, 1, +1, func(e *Edit) string { return e.Patch }, ErrNoRedo)
}

func (s *Store) step(id uint, revision, offset, by int, patch func(*Edit) string, none error) (*Quiz, *Edit, error) {
	var e Edit
	z, err := s.change(id, revision, func(tx *gorm.DB, z *Quiz) error {
		err := tx.Where("quiz_id = ? AND number = ?", id, z.Done+offset).Take(&e).Error
		if errors.Is(err, gorm.ErrRecordNotFound) {
			return none
		}
		if err != nil {
			return err
		}
		c, err := z.apply([]byte(patch(&e)))
		if err != nil {
			return fmt.Errorf("%w: %v", ErrChanged, err)
		}
		z.set(c.After, c.Document)
		z.Done += by
		return nil
	})
	return z, &e, err
}

// History tells what undo would take back and redo do again, "" for nothing.
func (s *Store) History(z *Quiz) (undo, redo string, err error) {
	var near []Edit
	err = s.db.Select("number", "sentence").Where("quiz_id = ? AND number IN ?", z.ID, []int{z.Done, z.Done + 1}).Find(&near).Error
	for _, e := range near {
		if e.Number == z.Done {
			undo = e.Sentence
		} else {
			redo = e.Sentence
		}
	}
	return undo, redo, found(err, "reading the history of quiz %d", z.ID)
}
