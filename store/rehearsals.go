package store

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
	"gorm.io/gorm"

	"omphalos/core/edit"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/rehearsal"
)

// A Walk is a rehearsal under way: what somebody who tries a quiz has answered so far. It is
// no passage, and nothing of it is ever counted.
type Walk struct {
	ID          string      `gorm:"primaryKey"` // nobody guesses it
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"not null"`
	HandID      uint        `gorm:"not null;default:0"` // the Hand that it goes by, 0 for one of the studio
	Answers     string      // JSON of Typed by question
	Visitor     string      // JSON of program.Visitor
	Begun       bool        `gorm:"not null"` // past the opening
	Finished    bool        `gorm:"not null"`
	Slow        bool        `gorm:"not null"` // its pages come as over a slow line
	Updated     time.Time
}

// walksLast is how long a walk is kept that nobody goes on with.
const walksLast = 7 * 24 * time.Hour

// NewWalk begins a walk, and forgets those that are left behind.
func (d *Definitions) NewWalk(ctx context.Context, w Walk) (*Walk, error) {
	w.ID, w.Updated = Token(), now()
	if w.Answers == "" {
		w.Answers = "{}"
	}
	err := d.db(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Where("updated < ?", now().Add(-walksLast)).Delete(&Walk{}).Error; err != nil {
			return err
		}
		return tx.Create(&w).Error
	})
	return &w, found(err, "beginning a rehearsal")
}

// Walk returns the walk with an ID.
func (d *Definitions) Walk(ctx context.Context, id string) (*Walk, error) {
	w := new(Walk)
	return w, found(d.db(ctx).Where("id = ?", id).Take(w).Error, "the rehearsal")
}

// KeepWalk keeps where a walk has come to.
func (d *Definitions) KeepWalk(ctx context.Context, w *Walk) error {
	w.Updated = now()
	return found(d.db(ctx).Save(w).Error, "keeping the rehearsal")
}

// Typed returns what has been typed so far, by question.
func (w *Walk) Typed() map[string]program.Typed {
	typed := map[string]program.Typed{}
	_ = json.Unmarshal([]byte(w.Answers), &typed) // written by Type
	return typed
}

// Type puts what has been typed into the walk.
func (w *Walk) Type(typed map[string]program.Typed) { w.Answers = toJSON(typed) }

// Facts returns who the visitor is taken to be.
func (w *Walk) Facts() *program.Visitor { return facts(w.Visitor) }

// Be makes the visitor somebody else.
func (w *Walk) Be(v program.Visitor) { w.Visitor = toJSON(v) }

// mostBack is how many edits are looked through for the one that broke a rehearsal.
const mostBack = 60

// BrokenBy finds, for rehearsals that do not hold in a draft, the edit that broke each: the
// last one before which it held. It has none where that is not among the newest.
func (d *Definitions) BrokenBy(ctx context.Context, z *Quiz, broken []string) (map[string]Edit, error) {
	if len(broken) == 0 {
		d.broke.Remove(z.ID)
		return nil, nil
	}
	q, err := z.Document()
	if err != nil {
		return nil, err
	}
	by, left := map[string]Edit{}, []string{}
	known, _ := d.broke.Get(z.ID)
	for _, key := range broken {
		c, is := known[key]
		if is && c.must == toJSON(q.Rehearsals[key]) && (c.edit == 0 || d.stands(ctx, z, c.edit, by, key)) {
			continue
		}
		left = append(left, key)
	}
	if err := d.lookBack(ctx, z, q, left, by); err != nil {
		return nil, err
	}
	now := map[string]culprit{}
	for _, key := range broken {
		now[key] = culprit{by[key].ID, toJSON(q.Rehearsals[key])}
	}
	d.broke.Add(z.ID, now)
	return by, nil
}

// A culprit is the edit that broke a rehearsal, remembered as long as it is broken; 0 where it
// was not found.
type culprit struct {
	edit uint
	must string // the rehearsal, as JSON
}

// mostBroken is of how many quizzes it is remembered.
const mostBroken = 256

func culprits() *lru.Cache[uint, map[string]culprit] {
	c, _ := lru.New[uint, map[string]culprit](mostBroken) // never fails
	return c
}

// stands tells whether an edit is still one that is done, and puts it down for a rehearsal.
func (d *Definitions) stands(ctx context.Context, z *Quiz, id uint, by map[string]Edit, key string) bool {
	var e Edit
	if d.db(ctx).Where("id = ? AND quiz_id = ? AND number <= ?", id, z.ID, z.Done).Take(&e).Error != nil {
		return false
	}
	by[key] = e
	return true
}

// lookBack goes back from edit to edit until each rehearsal holds.
func (d *Definitions) lookBack(ctx context.Context, z *Quiz, q *quiz.Quiz, broken []string, by map[string]Edit) error {
	if len(broken) == 0 {
		return nil
	}
	var edits []Edit
	err := d.db(ctx).Where("quiz_id = ? AND number <= ?", z.ID, z.Done).Order("number DESC").Limit(mostBack).
		Find(&edits).Error
	if err != nil {
		return found(err, "reading the history of quiz %d", z.ID)
	}
	after, document := q, []byte(z.Draft)
	for _, e := range edits {
		before, err := edit.ApplyTo(ctx, after, document, []byte(e.Inverse))
		if err != nil || !slices.ContainsFunc(broken, func(key string) bool { return by[key].ID == 0 }) {
			return ctx.Err()
		}
		after, document = before.After, before.Document
		p, err := program.CompileDraft(before.After, before.Problems)
		if err != nil {
			continue
		}
		for _, key := range broken {
			if by[key].ID == 0 && rehearsal.Run(p, key, q.Rehearsals[key]).Holds {
				by[key] = e
			}
		}
	}
	return nil
}
