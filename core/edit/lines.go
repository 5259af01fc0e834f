package edit

import (
	"fmt"
	"strings"

	"omphalos/core/quiz"
)

// Lines makes an answer, or a row, of each line of a text: those that have no words yet
// take the first of them, the others come behind the last of these, or behind another one.
// What stands behind a tab is what the answer adds to the scales, in their order.
type Lines struct {
	Path  quiz.Pointer `json:"path"` // of the answers or the rows
	After string       `json:"after,omitempty"`
	Label string       `json:"label"` // the text
}

func (a Lines) do(t *plan) error {
	siblings := t.object(a.Path)
	what, ok := listed(a.Path)
	if !ok || what != "answers" && what != "rows" || siblings == nil {
		return fmt.Errorf("lines for %q %w", a.Path, ErrAct)
	}
	var lines []string
	for _, line := range strings.Split(strings.ReplaceAll(a.Label, "\r", ""), "\n") {
		if strings.TrimSpace(line) != "" {
			lines = append(lines, line)
		}
	}
	if len(lines) == 0 || len(lines)+len(siblings) > quiz.Most {
		return fmt.Errorf("lines for %q %w: there are %d", a.Path, ErrAct, len(lines))
	}
	scales, _ := t.tree["scales"].(map[string]any)
	taken := map[string]any{}
	for k, v := range siblings {
		taken[k] = v
	}
	// Those that have no words yet take the first lines.
	into := a.After
	keys := ordered(siblings)
	for _, k := range keys {
		at, _ := siblings[k].(map[string]any)
		if len(lines) == 0 || at == nil || strings.TrimSpace(fmt.Sprint(at["label"])) != "" {
			continue
		}
		label, adds := t.line(lines[0], scales, what)
		t.put(a.Path.Join(k, "label"), label)
		for scale, amount := range adds {
			t.put(a.Path.Join(k, "adds", scale), amount)
		}
		t.made = a.Path.Join(k)
		into, lines = k, lines[1:]
	}
	// All others find a place between the one behind which they come and the next.
	low, high := 0.0, 0.0
	for i, k := range keys {
		if k == into || into == "" {
			low, high = orderOf(siblings[k]), orderOf(siblings[k])+float64(len(lines))+1
			if i+1 < len(keys) && into != "" {
				high = orderOf(siblings[keys[i+1]])
			}
		}
	}
	if high <= low {
		high = low + float64(len(lines)) + 1
	}
	for i, line := range lines {
		label, adds := t.line(line, scales, what)
		fresh := map[string]any{"order": low + (high-low)*float64(i+1)/float64(len(lines)+1), "label": label}
		if len(adds) > 0 {
			fresh["adds"] = adds
		}
		key := freeKey(taken, strings.TrimSuffix(what, "s"))
		taken[key] = fresh
		t.made = a.Path.Join(key)
		t.put(t.made, fresh)
	}
	return nil
}

// line reads a line: words, and behind tabs what they add.
func (t *plan) line(line string, scales map[string]any, what string) (label string, adds map[string]any) {
	cells := strings.Split(line, "\t")
	adds = map[string]any{}
	for i, key := range ordered(scales) {
		if i+1 >= len(cells) || what != "answers" {
			break
		}
		if d := weight(cells[i+1]); d != nil {
			adds[key] = number(*d)
		}
	}
	return strings.TrimSpace(cells[0]), adds
}

// forgetSection moves the questions of a section that goes into its neighbour.
func (t *plan) forgetSection(key string, siblings map[string]any) error {
	keys := ordered(siblings)
	if len(keys) < 2 {
		return fmt.Errorf("deleting the only section %w", ErrAct)
	}
	into := keys[0]
	for i, k := range keys {
		if k == key && i == 0 {
			into = keys[1]
		} else if k == key {
			into = keys[i-1]
		}
	}
	for q, question := range t.each("/questions") {
		if question["section"] == key {
			t.put(quiz.At("questions", q, "section"), into)
		}
	}
	return nil
}
