package edit

import (
	"fmt"
	"maps"
	"slices"

	"omphalos/core/quiz"
)

// Move puts a thing beside another, or several of one list.
type Move struct {
	Path  quiz.Pointer   `json:"path"`
	Paths []quiz.Pointer `json:"paths,omitempty"` // instead, in order
	Beside
	Into string `json:"into,omitempty"` // section that a question moves into
}

func (a Move) do(t *plan) error {
	if len(a.Paths) > 0 {
		return t.inTurn(a.Paths, a.Beside, func(path quiz.Pointer, beside Beside) Act {
			return Move{Path: path, Beside: beside, Into: a.Into}
		})
	}
	list, key, thing, err := t.thing(a.Path, "move")
	if err != nil {
		return err
	}
	if list == "/questions" && a.Into != "" {
		if t.object(quiz.At("sections", a.Into)) == nil {
			return fmt.Errorf("moving into the section %q %w: it is not there any more", a.Into, ErrAct)
		}
		t.put(a.Path+"/section", a.Into)
	} else if list == "/questions" {
		if next := t.object(list.Join(a.neighbour())); next != nil && next["section"] != thing["section"] {
			t.put(a.Path+"/section", next["section"])
		}
	}
	t.put(a.Path+"/order", t.place(list, a.Beside, key))
	t.made = a.Path
	return nil
}

// each yields the things at a path by sorted key.
func (t *plan) each(path quiz.Pointer) func(yield func(string, map[string]any) bool) {
	things := t.object(path)
	return func(yield func(string, map[string]any) bool) {
		for _, k := range slices.Sorted(maps.Keys(things)) {
			if thing, ok := things[k].(map[string]any); ok && !yield(k, thing) {
				return
			}
		}
	}
}
