package edit

import (
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"omphalos/core/quiz"
)

// ErrAct says that an act can't be done on this document.
var ErrAct = errors.New("can't be done here")

// An Act is a change of the sheet's structure that becomes a patch: the patch
// needs new keys, places between others, and references cleaned up.
type Act struct {
	Do   string       `json:"do"`   // add, lines, copy, move, remove, turn; weigh, tag, merge; when; cells, alike
	Path quiz.Pointer `json:"path"` // of the thing; for add, of the things it joins
	// Paths are several things of one list, to copy, move or remove as a block, in order.
	Paths  []quiz.Pointer `json:"paths,omitempty"`
	Before string         `json:"before,omitempty"` // key of the sibling that it goes before; "" is the end
	After  string         `json:"after,omitempty"`  // or after
	Kind   string         `json:"kind,omitempty"`   // of a new question or block, or that a question turns into
	Label  string         `json:"label,omitempty"`  // of the new thing; a keyword
	Into   string         `json:"into,omitempty"`   // section that a question moves into
	Scale  string         `json:"scale,omitempty"`  // to weigh on, "" for all; to merge into
	By     string         `json:"by,omitempty"`     // what weights are multiplied by, or go up by
	Link   quiz.Pointer   `json:"link,omitempty"`   // path of what is to name a new outcome
	At     string         `json:"at,omitempty"`     // part of a condition, see when
	Part   string         `json:"part,omitempty"`   // what of it changes
}

// Patch returns the patch that does the act, and the path of the thing that it
// made or moved. The error wraps ErrAct.
func (a Act) Patch(document []byte) (patch []byte, path quiz.Pointer, err error) {
	if len(a.Paths) > 0 {
		return a.block(document)
	}
	var tree map[string]any
	if err := json.Unmarshal(document, &tree); err != nil {
		return nil, "", fmt.Errorf("reading the document: %w", err)
	}
	t := plan{tree: tree, act: a}
	switch a.Do {
	case "add":
		err = t.add()
	case "lines":
		err = t.lines()
	case "copy":
		err = t.copy()
	case "move":
		err = t.move()
	case "remove":
		err = t.remove()
	case "turn":
		err = t.turn()
	case "weigh":
		err = t.weigh()
	case "tag":
		err = t.tag()
	case "merge":
		err = t.merge()
	case "when":
		err = t.when()
	case "cells":
		err = t.cells()
	case "alike":
		err = t.alike()
	default:
		err = fmt.Errorf("%q %w", a.Do, ErrAct)
	}
	if err != nil {
		return nil, "", err
	}
	patch, err = json.Marshal(t.ops)
	return patch, t.made, err
}

// block does the act to each of several things, one after the other: what goes
// before or after a place stays together, in order.
func (a Act) block(document []byte) (patch []byte, path quiz.Pointer, err error) {
	if a.Do != "copy" && a.Do != "move" && a.Do != "remove" {
		return nil, "", fmt.Errorf("%s of several things %w", a.Do, ErrAct)
	}
	var ops []Op
	one := a
	one.Paths = nil
	if a.Do == "copy" && a.After == "" && a.Before == "" {
		_, one.After = a.Paths[len(a.Paths)-1].Split()
	}
	for i, p := range a.Paths {
		one.Path = p
		part, made, err := one.Patch(document)
		if err != nil {
			return nil, "", err
		}
		did, changed, err := apply(document, part, true)
		if err != nil {
			return nil, "", err
		}
		ops, document = append(ops, did...), changed
		if i == 0 {
			path = made
		}
		if a.Do != "remove" {
			one.Before = ""
			_, one.After = made.Split()
		}
	}
	patch, err = json.Marshal(ops)
	return patch, path, err
}

type plan struct {
	tree map[string]any
	act  Act
	ops  []Op
	made quiz.Pointer
}

func (t *plan) put(path quiz.Pointer, value any) {
	t.ops = append(t.ops, Op{Op: "add", Path: path, Value: value})
}

// object returns the object at a path, nil where there is none.
func (t *plan) object(path quiz.Pointer) map[string]any {
	here, _ := path.In(t.tree)
	object, _ := here.(map[string]any)
	return object
}

// listed tells which objects of a document are lists of things with a place.
func listed(path quiz.Pointer) (what string, ok bool) {
	return path.Key(), path.FitsAny("/questions", "/outcomes", "/scales", "/sections",
		"/questions/*/answers", "/questions/*/rows", "/questions/*/then",
		"/outcomes/*/landings", "/outcomes/*/landings/*/blocks",
		"/decision/steps", "/decision/steps/*/cuts", "/decision/steps/*/rules", "/decision/steps/*/columns", "/decision/steps/*/contenders",
		"/contact/fields")
}

func (t *plan) add() error {
	what, ok := listed(t.act.Path)
	if !ok {
		return fmt.Errorf("adding to %q %w", t.act.Path, ErrAct)
	}
	if parent, _ := t.act.Path.Split(); t.object(parent) == nil {
		return fmt.Errorf("adding to %q %w: it is not there any more", t.act.Path, ErrAct)
	}
	siblings := t.object(t.act.Path)
	fresh := t.fresh(what, siblings)
	if what != "cuts" {
		fresh["order"] = t.place(siblings, "")
	}
	key := freeKey(siblings, strings.TrimSuffix(what, "s"))
	t.made = t.act.Path.Join(key)
	t.put(t.made, fresh)
	if link := t.act.Link; strings.HasSuffix(string(link), "/then") {
		t.put(link, quiz.Then{Go: quiz.ToOutcome, To: key})
	} else if link != "" {
		t.put(link, key)
	}
	return nil
}

// fresh returns a new thing of its kind.
func (t *plan) fresh(what string, siblings map[string]any) map[string]any {
	switch what {
	case "questions":
		section := ""
		if s, ok := siblings[t.neighbour()].(map[string]any); ok {
			section, _ = s["section"].(string)
		}
		if section == "" {
			section = t.lastSection()
		}
		kind := t.act.Kind
		if kind == "" {
			kind = string(quiz.Single)
		}
		blank := map[string]any{"section": section, "label": t.act.Label, "required": true}
		return turnedInto(blank, quiz.Kind(kind), quiz.Kind(kind))
	case "sections":
		return map[string]any{"heading": t.act.Label}
	case "fields":
		kind := quiz.Kind(t.act.Kind)
		if !kind.Contact() {
			kind = quiz.Email
		}
		label := map[quiz.Kind]string{quiz.Name: "Name", quiz.Email: "E-mail", quiz.Phone: "Phone", quiz.Company: "Company", quiz.Country: "Country", quiz.Consent: "You may write to me about this."}[kind]
		return map[string]any{"kind": string(kind), "label": label}
	case "answers", "rows":
		return map[string]any{"label": t.act.Label}
	case "outcomes":
		name := t.act.Label
		if name == "" {
			name = "New outcome"
		}
		return map[string]any{"name": name, "headline": "", "landings": map[string]any{
			"page": map[string]any{"order": 1, "kind": string(quiz.PageLanding)}}}
	case "scales":
		kind := t.act.Kind
		if kind == "" {
			kind = string(quiz.Points)
		}
		fresh := map[string]any{"name": t.act.Label, "kind": kind}
		if kind == string(quiz.Money) {
			fresh["currency"] = "EUR"
		}
		return fresh
	case "blocks":
		kind := t.act.Kind
		if kind == "" {
			kind = string(quiz.ActionBlock)
		}
		return map[string]any{"kind": kind, "label": t.act.Label}
	case "landings":
		return map[string]any{"kind": string(quiz.PageLanding), "when": map[string]any{"all": []any{map[string]any{"visitor": "country", "op": "is", "value": ""}}}}
	case "steps":
		return t.freshStep(quiz.StepKind(t.act.Kind))
	case "columns":
		return t.freshColumn(siblings)
	case "rules":
		return map[string]any{"outcome": ""}
	case "then":
		return map[string]any{"go": string(quiz.Decide), "when": t.freshWhen(t.act.Path + "/new/when")}
	case "cuts":
		return map[string]any{"at": t.freeCut(siblings)}
	}
	return map[string]any{}
}

// freeCut returns a score above all cuts.
func (t *plan) freeCut(cuts map[string]any) float64 {
	at := 0.0
	for _, c := range cuts {
		if score, ok := c.(map[string]any)["at"].(float64); ok && score >= at {
			at = score + 1
		}
	}
	return at
}

func (t *plan) lastSection() string {
	sections, _ := t.tree["sections"].(map[string]any)
	if len(sections) == 0 {
		t.put("/sections/main", map[string]any{"order": 1})
		return "main"
	}
	keys := ordered(sections)
	return keys[len(keys)-1]
}

func (t *plan) neighbour() string {
	if t.act.After != "" {
		return t.act.After
	}
	return t.act.Before
}

// place returns an order that puts a thing where the act says, among siblings
// without moving.
func (t *plan) place(siblings map[string]any, moving string) float64 {
	keys := slices.DeleteFunc(ordered(siblings), func(k string) bool { return k == moving })
	at := len(keys)
	if i := slices.Index(keys, t.act.After); t.act.After != "" && i >= 0 {
		at = i + 1
	} else if i := slices.Index(keys, t.act.Before); t.act.Before != "" && i >= 0 {
		at = i
	}
	switch {
	case len(keys) == 0:
		return 1
	case at == 0:
		return orderOf(siblings[keys[0]]) - 1
	case at == len(keys):
		return orderOf(siblings[keys[at-1]]) + 1
	}
	low, high := orderOf(siblings[keys[at-1]]), orderOf(siblings[keys[at]])
	middle := low + (high-low)/2
	if middle > low && middle < high {
		return middle
	}
	// No room is left between the two: number all siblings anew.
	t.renumber(siblings, keys)
	return float64(at) + 0.5
}

func (t *plan) renumber(siblings map[string]any, keys []string) {
	path := t.act.Path
	if t.act.Do != "add" {
		path, _ = path.Split()
	}
	for i, k := range keys {
		t.put(path.Join(k, "order"), float64(i+1))
	}
}

func orderOf(v any) float64 {
	thing, _ := v.(map[string]any)
	order, _ := thing["order"].(float64)
	return order
}

func ordered(things map[string]any) []string {
	keys := slices.Sorted(maps.Keys(things))
	slices.SortStableFunc(keys, func(a, b string) int {
		switch x, y := orderOf(things[a]), orderOf(things[b]); {
		case x < y:
			return -1
		case x > y:
			return 1
		}
		return 0
	})
	return keys
}

// freeKey returns base_1, or with the first number that is not taken.
func freeKey(taken map[string]any, base string) string {
	for i := len(taken) + 1; ; i++ {
		key := fmt.Sprintf("%s_%d", base, i)
		if taken[key] == nil {
			return key
		}
	}
}

// thing returns what the act is about, and its siblings.
func (t *plan) thing() (parent quiz.Pointer, key string, siblings, thing map[string]any, err error) {
	parent, key = t.act.Path.Split()
	if _, ok := listed(parent); !ok {
		return "", "", nil, nil, fmt.Errorf("%s of %q %w", t.act.Do, t.act.Path, ErrAct)
	}
	siblings = t.object(parent)
	thing, _ = siblings[key].(map[string]any)
	if thing == nil {
		err = fmt.Errorf("%s of %q %w: it is not there any more", t.act.Do, t.act.Path, ErrAct)
	}
	return parent, key, siblings, thing, err
}

func (t *plan) copy() error {
	parent, key, siblings, thing, err := t.thing()
	if err != nil {
		return err
	}
	if t.act.After == "" && t.act.Before == "" {
		t.act.After = key
	}
	twin := maps.Clone(thing)
	if _, placed := thing["order"]; placed {
		twin["order"] = t.place(siblings, "")
	} else {
		twin["at"] = t.freeCut(siblings)
	}
	if name, ok := thing["name"].(string); ok {
		twin["name"] = name + " (copy)"
	}
	base := strings.TrimRight(key, "0123456789")
	t.made = parent.Join(freeKey(siblings, strings.TrimSuffix(base, "_")))
	t.put(t.made, twin)
	return nil
}

func (t *plan) move() error {
	parent, key, siblings, thing, err := t.thing()
	if err != nil {
		return err
	}
	if parent == "/questions" && t.act.Into != "" {
		if t.object(quiz.At("sections", t.act.Into)) == nil {
			return fmt.Errorf("moving into the section %q %w: it is not there any more", t.act.Into, ErrAct)
		}
		t.put(t.act.Path+"/section", t.act.Into)
	} else if parent == "/questions" {
		if next, ok := siblings[t.neighbour()].(map[string]any); ok && next["section"] != thing["section"] {
			t.put(t.act.Path+"/section", next["section"])
		}
	}
	t.put(t.act.Path+"/order", t.place(siblings, key))
	t.made = t.act.Path
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
