package store

import (
	"context"
	"encoding/json"
	"fmt"

	lru "github.com/hashicorp/golang-lru/v2"
	"gorm.io/gorm"

	"omphalos/core/edit"
	"omphalos/core/quiz"
)

// drafts are documents that were read or edited lately, by their text. They are not
// changed: an edit makes another.
var drafts, _ = lru.New[string, draft](32)

// A draft is a document, and what Check finds in it where that is known.
type draft struct {
	quiz     *quiz.Quiz
	checked  bool
	problems []quiz.Problem
}

// Document reads the draft. It must not be changed.
func (z *Quiz) Document() (*quiz.Quiz, error) {
	d, err := z.read()
	return d.quiz, err
}

// Checked is Document, with the problems that Check finds in it. They must not be changed.
func (z *Quiz) Checked() (*quiz.Quiz, []quiz.Problem, error) {
	d, err := z.read()
	if err == nil && !d.checked {
		d.checked, d.problems = true, d.quiz.Check()
		drafts.Add(z.Draft, d)
	}
	return d.quiz, d.problems, err
}

func (z *Quiz) read() (draft, error) {
	if d, known := drafts.Get(z.Draft); known {
		return d, nil
	}
	q, err := quiz.Read([]byte(z.Draft))
	d := draft{quiz: q}
	if err == nil {
		drafts.Add(z.Draft, d)
	}
	return d, err
}

// apply applies a patch to the draft, as edit.Apply does.
func (z *Quiz) apply(ctx context.Context, patch []byte) (*edit.Change, error) {
	before, err := z.Document()
	if err != nil {
		return nil, fmt.Errorf("reading the draft of quiz %d: %w", z.ID, err)
	}
	change, err := edit.ApplyTo(ctx, before, []byte(z.Draft), patch)
	if err == nil {
		drafts.Add(string(change.Document), draft{change.After, true, change.Problems})
	}
	return change, err
}

// outcomesOf writes what lists tell of the outcomes of a draft.
func outcomesOf(q *quiz.Quiz) string {
	short := map[string]*quiz.Outcome{}
	for key, o := range q.Outcomes {
		short[key] = &quiz.Outcome{Order: o.Order, Name: o.Name, Standing: o.Standing}
	}
	return toJSON(short)
}

// Outline returns a quiz that has the draft's outcomes, as far as lists tell of them.
func (z *Quiz) Outline() (*quiz.Quiz, error) {
	q := new(quiz.Quiz)
	return q, json.Unmarshal([]byte(z.Outcomes), &q.Outcomes)
}

// Changes returns in how many places the draft differs from the newest release.
func (z *Quiz) Changes() int { return z.Differs }

// compare takes down in how many places the draft differs from the newest release.
func (z *Quiz) compare(tx *gorm.DB) error {
	if z.Released == 0 {
		return nil
	}
	var r Release
	if err := tx.Select("document").Where("quiz_id = ? AND number = ?", z.ID, z.Released).Take(&r).Error; err != nil {
		return found(err, "release %d of quiz %d", z.Released, z.ID)
	}
	draft := []byte(z.Draft)
	q, err := z.Document()
	if err != nil {
		return fmt.Errorf("reading the draft of quiz %d: %w", z.ID, err)
	}
	if written := edit.Written(q); written != q { // what was never written is not released
		draft = written.Write()
	}
	if z.Differs, err = edit.Differences(quiz.Upgrade([]byte(r.Document)), quiz.Upgrade(draft)); err != nil {
		return fmt.Errorf("comparing quiz %d with its release: %w", z.ID, err)
	}
	return nil
}
