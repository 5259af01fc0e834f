package edit

import (
	"encoding/json"
	"fmt"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Weigh changes all weights of a question at once, on one scale or on all.
type Weigh struct {
	Path  quiz.Pointer `json:"path"`
	Kind  string       `json:"kind"`            // "evenly", from 0 up by a step; "times" a number; "clear"
	By    string       `json:"by,omitempty"`    // the step or the number
	Scale string       `json:"scale,omitempty"` // "" is all
}

func (a Weigh) do(t *plan) error {
	question := t.object(a.Path)
	if !a.Path.Fits("/questions/*") || question == nil {
		return fmt.Errorf("weighing %q %w", a.Path, ErrAct)
	}
	by, err := decimal.Parse(a.By)
	if err != nil && a.Kind != "clear" {
		return fmt.Errorf("weighing %q by %q %w: that is no number", a.Path, a.By, ErrAct)
	}
	switch a.Kind {
	case "evenly":
		answers, _ := question["answers"].(map[string]any)
		for i, k := range ordered(answers) {
			t.put(a.Path.Join("answers", k, "adds", a.Scale), number(by.Mul(decimal.FromInt(int64(i)))))
		}
	case "times", "clear":
		t.amounts(a.Path, question, a.Scale, a.Kind != "clear", func(path quiz.Pointer, amount decimal.Decimal) {
			if a.Kind == "clear" {
				t.ops = append(t.ops, Op{Op: "remove", Path: path})
			} else {
				t.put(path, number(amount.Mul(by)))
			}
		})
	default:
		return fmt.Errorf("weighing %q %w", a.Kind, ErrAct)
	}
	t.made = ""
	return nil
}

// number writes an exact decimal as a JSON number.
func number(d decimal.Decimal) json.Number { return json.Number(d.String()) }

// amounts calls f with everything that a question adds, on one scale or on all for "", with
// the amounts of brackets or without.
func (t *plan) amounts(
	path quiz.Pointer,
	question map[string]any,
	on string,
	brackets bool,
	f func(path quiz.Pointer, amount decimal.Decimal),
) {
	each := func(path quiz.Pointer, v any) {
		adds, _ := v.(map[string]any)
		for scale := range keysOf(adds) {
			if n, ok := amountOf(adds[scale]); ok && (on == "" || on == scale) {
				f(path.Join(scale), n)
			}
		}
	}
	for k, answer := range t.each(path + "/answers") {
		each(path.Join("answers", k, "adds"), answer["adds"])
	}
	for r := range t.each(path + "/rows") {
		for column := range t.each(path.Join("rows", r, "adds")) {
			at := path.Join("rows", r, "adds", column)
			each(at, t.object(at))
		}
	}
	for scale, w := range t.each(path + "/weigh") {
		if on != "" && on != scale {
			continue
		}
		at := path.Join("weigh", scale)
		if n, ok := amountOf(w["factor"]); ok {
			f(at+"/factor", n)
		}
		for b, bracket := range t.each(at + "/brackets") {
			if n, ok := amountOf(bracket["adds"]); ok && brackets {
				f(at.Join("brackets", b, "adds"), n)
			}
		}
	}
}

// keysOf yields the keys of an object in their order.
func keysOf(m map[string]any) func(yield func(string) bool) {
	return func(yield func(string) bool) {
		for _, k := range ordered(m) {
			if !yield(k) {
				return
			}
		}
	}
}

// Tag puts a keyword on an answer: the one of that name, or a new one.
type Tag struct {
	Path  quiz.Pointer `json:"path"`
	Label string       `json:"label"` // the keyword
}

func (a Tag) do(t *plan) error {
	answer := t.object(a.Path)
	word := strings.Join(strings.Fields(a.Label), " ")
	if answer == nil || !a.Path.Fits("/questions/*/answers/*") || word == "" {
		return fmt.Errorf("a keyword for %q %w", a.Path, ErrAct)
	}
	scales, _ := t.tree["scales"].(map[string]any)
	key := ""
	for k, s := range t.each("/scales") {
		name, _ := s["name"].(string)
		if s["kind"] == string(quiz.Keyword) && strings.EqualFold(name, word) {
			key = k
			break
		}
	}
	if key == "" {
		key = freeKey(scales, "keyword")
		last := 0.0
		for _, s := range t.each("/scales") {
			last = max(last, orderOf(s))
		}
		t.put(quiz.At("scales", key), map[string]any{"order": last + 1, "name": word, "kind": string(quiz.Keyword)})
	}
	t.put(a.Path.Join("adds", key), 1)
	return nil
}

// Merge lets what was added to one scale be added to another, and takes the first away.
type Merge struct {
	Path  quiz.Pointer `json:"path"`
	Scale string       `json:"scale"` // the key of the other
}

func (a Merge) do(t *plan) error {
	_, from, _, err := t.thing(a.Path, "merging")
	if err != nil {
		return err
	}
	into := a.Scale
	if t.object(quiz.At("scales", into)) == nil || into == from || !a.Path.Within("/scales") {
		return fmt.Errorf("merging %q into %q %w", a.Path, into, ErrAct)
	}
	for q, question := range t.each("/questions") {
		path := quiz.At("questions", q)
		t.amounts(path, question, from, true, func(at quiz.Pointer, amount decimal.Decimal) {
			parent, key := at.Split()
			if key != from {
				return // a number's own weighing goes with its scale
			}
			other := parent.Join(into)
			key = into
			if n, has := amountOf(t.object(parent)[key]); has {
				amount = amount.Add(n)
			}
			t.put(other, number(amount))
		})
	}
	t.ops = append(t.ops, Op{Op: "remove", Path: a.Path})
	t.forgetScale(from)
	return nil
}
