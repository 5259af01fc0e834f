// Package edit changes the document of a quiz. Every change is a JSON Patch
// (RFC 6902) with its inverse and a sentence that says what it did, so that it
// can be kept, told and taken back.
package edit

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	jsonpatch "github.com/evanphx/json-patch/v5"

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

// An Op is one operation of a patch.
type Op struct {
	Op    string       `json:"op"`
	Path  quiz.Pointer `json:"path"`
	From  quiz.Pointer `json:"from,omitempty"`
	Value any          `json:"value,omitempty"`
}

// MarshalJSON writes the value of add, replace and test even where it is false, "" or 0.
func (o Op) MarshalJSON() ([]byte, error) {
	m := map[string]any{"op": o.Op, "path": o.Path}
	if o.From != "" {
		m["from"] = o.From
	}
	if o.Op == "add" || o.Op == "replace" || o.Op == "test" {
		m["value"] = o.Value
	}
	return json.Marshal(m)
}

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

// A reading is a patch that has been read: what it does, and as it is applied.
type reading struct {
	ops   []Op
	patch jsonpatch.Patch
}

// readPatch reads a patch once, and within the bounds of one. The error wraps ErrPatch or
// ErrTarget.
func readPatch(patch []byte) (reading, error) {
	if len(patch) > MaxPatch {
		return reading{}, fmt.Errorf("a patch of %d bytes %w: it is too long", len(patch), ErrPatch)
	}
	decoded, err := jsonpatch.DecodePatch(patch)
	if err != nil {
		return reading{}, fmt.Errorf("this %w: %v", ErrPatch, err)
	}
	if len(decoded) > MaxOps {
		return reading{}, fmt.Errorf("a patch of %d operations %w: at most %d are taken", len(decoded), ErrPatch, MaxOps)
	}
	r := reading{make([]Op, len(decoded)), decoded}
	for i, op := range decoded {
		if r.ops[i], err = readOp(op); err != nil {
			return reading{}, err
		}
	}
	return r, nil
}

func readOp(from jsonpatch.Operation) (Op, error) {
	op := Op{Op: from.Kind()}
	switch op.Op {
	case "add", "remove", "replace", "move", "copy", "test":
	default:
		return Op{}, fmt.Errorf("the operation %q %w", clip(op.Op), ErrPatch)
	}
	for _, field := range []struct {
		name string
		to   any
	}{{"path", &op.Path}, {"from", &op.From}, {"value", &op.Value}} {
		if raw := from[field.name]; raw != nil {
			if err := json.Unmarshal(*raw, field.to); err != nil {
				return Op{}, fmt.Errorf("this %w: %v", ErrPatch, err)
			}
		}
	}
	return op, errors.Join(bounded(op.Path), bounded(op.From))
}

// expecting makes the objects that the first expectation of a question needs: a missing
// parent of a number, such as the 9 of a rating, would otherwise become a list.
func (r reading) expecting(before *quiz.Quiz) reading {
	made := map[string]bool{}
	for i := 0; i < len(r.ops); i++ {
		path := r.ops[i].Path
		if r.ops[i].Op != "add" || !path.Fits("/questions/*/expect/*") {
			continue
		}
		key := path.Keys()[1]
		if q := before.Questions[key]; q != nil && q.Expect == nil && !made[key] {
			made[key] = true
			parent, add, object := raw(path.Parent()), raw("add"), raw(map[string]any{})
			r.ops = slices.Insert(r.ops, i, Op{Op: "add", Path: path.Parent(), Value: map[string]any{}})
			r.patch = slices.Insert(r.patch, i, jsonpatch.Operation{"op": &add, "path": &parent, "value": &object})
			i++
		}
	}
	return r
}

func raw(v any) json.RawMessage {
	b, err := json.Marshal(v)
	if err != nil {
		panic("edit: " + err.Error()) // no key and no object fails
	}
	return b
}

// applyTo applies a patch to any JSON document; lenient makes missing parents.
func (r reading) applyTo(document []byte, lenient bool) ([]byte, error) {
	options := jsonpatch.NewApplyOptions()
	options.EnsurePathExistsOnAdd = lenient
	options.AccumulatedCopySizeLimit = quiz.MaxSize
	changed, err := r.patch.ApplyWithOptions(document, options)
	if err != nil {
		return nil, fmt.Errorf("the patch %w: %v", ErrTarget, err)
	}
	return changed, nil
}

// bounded tells whether a path is one that a patch may have. A list would be filled up with
// nothing as far as an index that is far behind its end. Numbers that are keys are
// expectations, and those stand in objects.
func bounded(path quiz.Pointer) error {
	if len(path) > MaxPath || strings.Count(string(path), "/") >= MaxParts {
		return fmt.Errorf("the path %q %w: it is too long", clip(string(path)), ErrTarget)
	}
	for i, key := range path.Keys() {
		digits := strings.TrimLeft(key, "+-")
		if digits == "" || strings.Trim(digits, "0123456789") != "" || i == 3 && path.Fits("/questions/*/expect/**") {
			continue
		}
		if n, err := strconv.Atoi(digits); err != nil || n > MaxIndex {
			return fmt.Errorf("the path %q %w: a list has at most %d items", clip(string(path)), ErrTarget, MaxIndex)
		}
	}
	return nil
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
