package edit

import (
	"encoding/json"
	"fmt"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// weigh changes all weights of a question at once, on one scale or on all: evenly
// from 0 up by a step, times a number, or none.
func (t *plan) weigh() error {
	parent, key := t.act.Path.Split()
	question, _ := t.object(parent)[key].(map[string]any)
	if parent != "/questions" || question == nil {
		return fmt.Errorf("weighing %q %w", t.act.Path, ErrAct)
	}
	by, err := decimal.Parse(t.act.By)
	if err != nil && t.act.Kind != "clear" {
		return fmt.Errorf("weighing %q by %q %w: that is no number", t.act.Path, t.act.By, ErrAct)
	}
	switch t.act.Kind {
	case "evenly":
		answers, _ := question["answers"].(map[string]any)
		for i, k := range ordered(answers) {
			t.put(t.act.Path.Join("answers", k, "adds", t.act.Scale), number(by.Mul(decimal.FromInt(int64(i)))))
		}
	case "times", "clear":
		t.amounts(t.act.Path, question, func(path quiz.Pointer, amount decimal.Decimal) {
			if t.act.Kind == "clear" {
				t.ops = append(t.ops, Op{Op: "remove", Path: path})
			} else {
				t.put(path, number(amount.Mul(by)))
			}
		})
	default:
		return fmt.Errorf("weighing %q %w", t.act.Kind, ErrAct)
	}
	t.made = ""
	return nil
}

// number writes an exact decimal as a JSON number.
func number(d decimal.Decimal) json.Number { return json.Number(d.String()) }

// amounts calls f with everything that a question adds, on the act's scale or on all.
func (t *plan) amounts(path quiz.Pointer, question map[string]any, f func(path quiz.Pointer, amount decimal.Decimal)) {
	each := func(path quiz.Pointer, v any) {
		adds, _ := v.(map[string]any)
		for scale := range keysOf(adds) {
			if n, ok := adds[scale].(float64); ok && (t.act.Scale == "" || t.act.Scale == scale) {
				f(path.Join(scale), decimal.Must(json.Number(fmt.Sprintf("%.6f", n)).String()))
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
		if t.act.Scale != "" && t.act.Scale != scale {
			continue
		}
		at := path.Join("weigh", scale)
		if n, ok := w["factor"].(float64); ok {
			f(at+"/factor", decimal.Must(fmt.Sprintf("%.6f", n)))
		}
		for b, bracket := range t.each(at + "/brackets") {
			if n, ok := bracket["adds"].(float64); ok && t.act.Kind != "clear" {
				f(at.Join("brackets", b, "adds"), decimal.Must(fmt.Sprintf("%.6f", n)))
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

// tag puts a keyword on an answer: the one of that name, or a new one.
func (t *plan) tag() error {
	answer := t.object(t.act.Path)
	word := strings.Join(strings.Fields(t.act.Label), " ")
	if answer == nil || !t.act.Path.Fits("/questions/*/answers/*") || word == "" {
		return fmt.Errorf("a keyword for %q %w", t.act.Path, ErrAct)
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
	t.put(t.act.Path.Join("adds", key), 1)
	return nil
}

// merge lets what was added to one scale be added to another, and takes the first away.
func (t *plan) merge() error {
	_, from, _, _, err := t.thing()
	if err != nil {
		return err
	}
	into := t.act.Scale
	if t.object(quiz.At("scales", into)) == nil || into == from || !t.act.Path.Within("/scales") {
		return fmt.Errorf("merging %q into %q %w", t.act.Path, into, ErrAct)
	}
	t.act.Scale = from
	for q, question := range t.each("/questions") {
		path := quiz.At("questions", q)
		t.amounts(path, question, func(at quiz.Pointer, amount decimal.Decimal) {
			parent, key := at.Split()
			if key != from {
				return // a number's own weighing goes with its scale
			}
			other := parent.Join(into)
			key = into
			if n, has := t.object(parent)[key].(float64); has {
				amount = amount.Add(decimal.Must(fmt.Sprintf("%.6f", n)))
			}
			t.put(other, number(amount))
		})
	}
	t.ops = append(t.ops, Op{Op: "remove", Path: t.act.Path})
	t.forgetScale(from)
	return nil
}
