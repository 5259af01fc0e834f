package edit

import (
	"cmp"
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
type Act interface {
	// do plans the act. The error wraps ErrAct.
	do(t *plan) error
}

// Beside says between which siblings something goes: behind one, before one, or at the end.
// The siblings are named by their keys.
type Beside struct {
	Before string `json:"before,omitempty"`
	After  string `json:"after,omitempty"`
}

func (b Beside) neighbour() string { return cmp.Or(b.After, b.Before) }

// acts are the acts by the names under which the sheet sends them.
var acts = map[string]func() Act{
	"add":    func() Act { return new(Add) },
	"lines":  func() Act { return new(Lines) },
	"copy":   func() Act { return new(Copy) },
	"move":   func() Act { return new(Move) },
	"remove": func() Act { return new(Remove) },
	"turn":   func() Act { return new(Turn) },
	"weigh":  func() Act { return new(Weigh) },
	"tag":    func() Act { return new(Tag) },
	"merge":  func() Act { return new(Merge) },
	"when":   func() Act { return new(When) },
	"cells":  func() Act { return new(Cells) },
	"alike":  func() Act { return new(Alike) },
}

// ReadAct reads an act as the sheet sends it: its fields, and its name under "do". The error
// wraps ErrAct where there is none of the name.
func ReadAct(data []byte) (Act, error) {
	var named struct{ Do string }
	if err := json.Unmarshal(data, &named); err != nil {
		return nil, fmt.Errorf("reading an act: %w", err)
	}
	make, known := acts[named.Do]
	if !known {
		return nil, fmt.Errorf("%q %w", clip(named.Do), ErrAct)
	}
	act := make()
	if err := json.Unmarshal(data, act); err != nil {
		return nil, fmt.Errorf("reading an act: %w", err)
	}
	return act, nil
}

// Patch returns the patch that does an act, and the path of the thing that it
// made or moved. The error wraps ErrAct.
func Patch(act Act, document []byte) (patch []byte, path quiz.Pointer, err error) {
	t, err := planned(document)
	if err != nil {
		return nil, "", err
	}
	if err := act.do(t); err != nil {
		return nil, "", err
	}
	patch, err = json.Marshal(t.ops)
	return patch, t.made, err
}

// A plan is what an act comes to: operations on a document.
type plan struct {
	document []byte
	tree     map[string]any
	ops      []Op
	made     quiz.Pointer
}

func planned(document []byte) (*plan, error) {
	t := &plan{document: document}
	if err := json.Unmarshal(document, &t.tree); err != nil {
		return nil, fmt.Errorf("reading the document: %w", err)
	}
	return t, nil
}

// inTurn does an act to each of several things of a list, one after the other: what goes
// before or after a place stays together, in order.
func (t *plan) inTurn(paths []quiz.Pointer, beside Beside, act func(path quiz.Pointer, beside Beside) Act) error {
	document := t.document
	for i, path := range paths {
		patch, made, err := Patch(act(path, beside), document)
		if err != nil {
			return err
		}
		did, changed, err := apply(document, patch, true)
		if err != nil {
			return err
		}
		t.ops, document = append(t.ops, did...), changed
		if i == 0 {
			t.made = made
		}
		if made != "" {
			beside = Beside{After: made.Key()}
		}
	}
	return nil
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
	return path.Key(), path.FitsAny(
		"/questions",
		"/outcomes",
		"/scales",
		"/sections",
		"/questions/*/answers",
		"/questions/*/rows",
		"/questions/*/then",
		"/outcomes/*/landings",
		"/outcomes/*/landings/*/blocks",
		"/decision/steps",
		"/decision/steps/*/cuts",
		"/decision/steps/*/rules",
		"/decision/steps/*/columns",
		"/decision/steps/*/contenders",
		"/contact/fields",
	)
}

// Add adds a thing of its kind to a list of things, filled in as far as the quiz tells.
type Add struct {
	Path quiz.Pointer `json:"path"` // of the list
	Beside
	Kind  string       `json:"kind,omitempty"`  // of a question, a block, a step, …; "" is the usual one
	Label string       `json:"label,omitempty"` // its words
	Link  quiz.Pointer `json:"link,omitempty"`  // place of what is to name a new outcome
}

func (a Add) do(t *plan) error {
	what, ok := listed(a.Path)
	if !ok {
		return fmt.Errorf("adding to %q %w", a.Path, ErrAct)
	}
	if t.object(a.Path.Parent()) == nil {
		return fmt.Errorf("adding to %q %w: it is not there any more", a.Path, ErrAct)
	}
	siblings := t.object(a.Path)
	fresh := a.fresh(t, what, siblings)
	if what != "cuts" {
		fresh["order"] = t.place(a.Path, a.Beside, "")
	}
	key := freeKey(siblings, strings.TrimSuffix(what, "s"))
	t.made = a.Path.Join(key)
	t.put(t.made, fresh)
	if a.Link.Key() == "then" {
		t.put(a.Link, quiz.Then{Go: quiz.ToOutcome, To: key})
	} else if a.Link != "" {
		t.put(a.Link, key)
	}
	return nil
}

// fresh returns a new thing of its kind.
func (a Add) fresh(t *plan, what string, siblings map[string]any) map[string]any {
	switch what {
	case "questions":
		section := ""
		if s, ok := siblings[a.neighbour()].(map[string]any); ok {
			section, _ = s["section"].(string)
		}
		if section == "" {
			section = t.lastSection()
		}
		kind := a.Kind
		if kind == "" {
			kind = string(quiz.Single)
		}
		blank := map[string]any{"section": section, "label": a.Label, "required": true}
		return turnedInto(blank, quiz.Kind(kind), quiz.Kind(kind))
	case "sections":
		return map[string]any{"heading": a.Label}
	case "fields":
		kind := quiz.Kind(a.Kind)
		if !kind.Contact() {
			kind = quiz.Email
		}
		label := map[quiz.Kind]string{quiz.Name: "Name", quiz.Email: "E-mail", quiz.Phone: "Phone", quiz.Company: "Company", quiz.Country: "Country", quiz.Consent: "You may write to me about this."}[kind]
		return map[string]any{"kind": string(kind), "label": label}
	case "answers", "rows":
		return map[string]any{"label": a.Label}
	case "outcomes":
		name := a.Label
		if name == "" {
			name = "New outcome"
		}
		return map[string]any{"name": name, "headline": "", "landings": map[string]any{
			"page": map[string]any{"order": 1, "kind": string(quiz.PageLanding)}}}
	case "scales":
		kind := a.Kind
		if kind == "" {
			kind = string(quiz.Points)
		}
		fresh := map[string]any{"name": a.Label, "kind": kind}
		if kind == string(quiz.Money) {
			fresh["currency"] = "EUR"
		}
		return fresh
	case "blocks":
		kind := a.Kind
		if kind == "" {
			kind = string(quiz.ActionBlock)
		}
		return map[string]any{"kind": kind, "label": a.Label}
	case "landings":
		return map[string]any{
			"kind": string(quiz.PageLanding),
			"when": map[string]any{"all": []any{map[string]any{"visitor": "country", "op": "is", "value": ""}}},
		}
	case "steps":
		return t.freshStep(quiz.StepKind(a.Kind))
	case "columns":
		return t.freshColumn(siblings)
	case "rules":
		return map[string]any{"outcome": ""}
	case "then":
		return map[string]any{"go": string(quiz.Decide), "when": t.freshWhen(a.Path + "/new/when")}
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

// place returns an order that puts a thing where it is to go, among the others of a list.
func (t *plan) place(list quiz.Pointer, beside Beside, moving string) float64 {
	siblings := t.object(list)
	keys := slices.DeleteFunc(ordered(siblings), func(k string) bool { return k == moving })
	at := len(keys)
	if i := slices.Index(keys, beside.After); beside.After != "" && i >= 0 {
		at = i + 1
	} else if i := slices.Index(keys, beside.Before); beside.Before != "" && i >= 0 {
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
	for i, k := range keys {
		t.put(list.Join(k, "order"), float64(i+1))
	}
	return float64(at) + 0.5
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

// thing returns what stands at a place of a list, the list, and its key there. What is done
// to it is for the error.
func (t *plan) thing(path quiz.Pointer, what string) (list quiz.Pointer, key string, thing map[string]any, err error) {
	list, key = path.Split()
	if _, ok := listed(list); !ok {
		return "", "", nil, fmt.Errorf("%s of %q %w", what, path, ErrAct)
	}
	if thing = t.object(path); thing == nil {
		err = fmt.Errorf("%s of %q %w: it is not there any more", what, path, ErrAct)
	}
	return list, key, thing, err
}

// Copy makes a twin of a thing behind it or beside another, or of several of one list.
type Copy struct {
	Path  quiz.Pointer   `json:"path"`
	Paths []quiz.Pointer `json:"paths,omitempty"` // instead, in order
	Beside
}

func (a Copy) do(t *plan) error {
	if len(a.Paths) > 0 {
		if a.Beside == (Beside{}) {
			a.After = a.Paths[len(a.Paths)-1].Key()
		}
		return t.inTurn(
			a.Paths,
			a.Beside,
			func(path quiz.Pointer, beside Beside) Act { return Copy{Path: path, Beside: beside} },
		)
	}
	list, key, thing, err := t.thing(a.Path, "copy")
	if err != nil {
		return err
	}
	if a.Beside == (Beside{}) {
		a.After = key
	}
	siblings, twin := t.object(list), maps.Clone(thing)
	if _, placed := thing["order"]; placed {
		twin["order"] = t.place(list, a.Beside, "")
	} else {
		twin["at"] = t.freeCut(siblings)
	}
	if name, ok := thing["name"].(string); ok {
		twin["name"] = name + " (copy)"
	}
	base := strings.TrimRight(key, "0123456789")
	t.made = list.Join(freeKey(siblings, strings.TrimSuffix(base, "_")))
	t.put(t.made, twin)
	return nil
}

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
