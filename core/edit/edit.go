// Package edit changes the document of a quiz. Every change is a JSON Patch
// (RFC 6902) with its inverse and a sentence that says what it did, so that it
// can be kept, told and taken back.
package edit

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"omphalos/core/excerpt"
	"omphalos/core/quiz"
)

// What a patch may have, stated in docs/format.md.
const (
	MaxPatch = 1 << 20 // bytes
	MaxOps   = 2000    // operations
	MaxPath  = 1000    // bytes of a path
	MaxParts = 24      // parts of a path
	MaxIndex = 2000    // of an item of a list
)

// Reasons why a patch is not applied.
var (
	ErrPatch  = errors.New("is not a JSON Patch (RFC 6902)")
	ErrTarget = errors.New("does not fit the document")
)

// A Refused edit would have put something into the document that is wrong in
// itself. Problems holds at least one.
type Refused struct{ Problems []quiz.Problem }

func (r *Refused) Error() string { return r.Problems[0].Error() }

// A Change is an applied patch.
type Change struct {
	Before, After *quiz.Quiz
	Problems      []quiz.Problem // that Check finds in After
	Document      []byte         // After, written
	Patch         []byte
	Inverse       []byte // the patch that leads back to Before
	Sentence      string
	Paths         []quiz.Pointer // what the patch addressed
	Text          bool           // as IsText
}

// Apply applies a patch to a document. "add" makes missing objects on its way,
// so that the first weight of an answer needs no other patch than the second.
// The error wraps ErrPatch or ErrTarget, or is a *Refused.
func Apply(document, patch []byte) (*Change, error) {
	before, err := quiz.Read(document)
	if err != nil {
		return nil, fmt.Errorf("reading the document: %w", err)
	}
	return ApplyTo(context.Background(), before, document, patch)
}

// ApplyTo is Apply to a document that has been read already; before is not changed. Where
// the context ends first, the error is its.
func ApplyTo(ctx context.Context, before *quiz.Quiz, document, patch []byte) (*Change, error) {
	r, err := readPatch(patch)
	if err != nil {
		return nil, err
	}
	r = r.expecting(before)
	at := r.within(before)
	changed, err := r.apply(before, document, at)
	if err == nil {
		err = ctx.Err()
	}
	if err != nil {
		return nil, err
	}
	after, err := read(before, at, changed)
	if err != nil {
		return nil, err
	}
	problems := after.Check()
	if refused := append(newlyRefused(before, problems), newlyElsewhere(before, after)...); len(refused) > 0 {
		return nil, &Refused{refused}
	}
	c := &Change{Before: before, After: after, Problems: problems, Document: after.Write(), Patch: patch, Text: r.isText()}
	if p := quiz.TooLong(c.Document); p != nil {
		return nil, &Refused{[]quiz.Problem{*p}}
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	if c.Inverse, err = inverse(c, document, at); err != nil {
		return nil, fmt.Errorf("working out the way back: %w", err)
	}
	for _, op := range r.ops {
		c.Paths = append(c.Paths, op.Path)
	}
	c.Sentence = sentence(before, after, r.ops)
	return c, nil
}

func clip(s string) string { return excerpt.First(s, 80) }

// newlyRefused returns what is wrong in itself after a change and was not before.
func newlyRefused(before *quiz.Quiz, problems []quiz.Problem) []quiz.Problem {
	refused := quiz.Refused(problems)
	if refused == nil {
		return nil
	}
	old := map[quiz.Problem]bool{}
	for _, p := range quiz.Refused(before.Check()) {
		old[p] = true
	}
	var fresh []quiz.Problem
	for _, p := range refused {
		if !old[p] {
			fresh = append(fresh, p)
		}
	}
	return fresh
}

// newlyElsewhere returns the pictures on another site that a change has put in. Browsers are
// kept from loading those.
func newlyElsewhere(before, after *quiz.Quiz) []quiz.Problem {
	known := map[string]bool{}
	for _, p := range before.Pictures() {
		known[p.Source] = true
	}
	var refused []quiz.Problem
	for pointer, p := range after.Pictures() {
		if p.Elsewhere() && !known[p.Source] {
			refused = append(refused, quiz.Problem{Code: "elsewhere", Refuse: true, Pointer: pointer + "/source",
				Message: "is a picture on another site, from where it can't be shown: save it to your " +
					"device, then choose the file here"})
		}
	}
	return refused
}

// typed are the fields that are typed, letter by letter.
var typed = strings.Fields(
	"title heading text button label help reason name headline address unit lowWords highWords " +
		"description privacy owner formula table row next back finish",
)

// IsText tells whether a patch does nothing but give one text that is typed; a choice
// of a list is none.
func IsText(patch []byte) bool {
	r, err := readPatch(patch)
	return err == nil && r.isText()
}

func (r reading) isText() bool {
	if len(r.ops) != 1 {
		return false
	}
	op := r.ops[0]
	_, text := op.Value.(string)
	return text && slices.Contains(typed, op.Path.Key()) && (op.Op == "add" || op.Op == "replace")
}
