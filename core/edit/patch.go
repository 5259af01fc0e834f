package edit

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	jsonpatch "github.com/evanphx/json-patch/v5"

	"omphalos/core/quiz"
)

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
			if err := readJSON(*raw, field.to); err != nil {
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
