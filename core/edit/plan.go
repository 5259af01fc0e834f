package edit

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A plan is what an act comes to: operations on a document.
type plan struct {
	document []byte
	tree     map[string]any
	ops      []Op
	made     quiz.Pointer
}

func planned(document []byte) (*plan, error) {
	t := &plan{document: document}
	if err := readJSON(document, &t.tree); err != nil {
		return nil, fmt.Errorf("reading the document: %w", err)
	}
	return t, nil
}

// readJSON reads JSON with its numbers as they are written.
func readJSON(data []byte, into any) error {
	d := json.NewDecoder(bytes.NewReader(data))
	d.UseNumber()
	return d.Decode(into)
}

// amountOf returns a number of a document, exactly, and whether it is one.
func amountOf(v any) (decimal.Decimal, bool) {
	n, is := v.(json.Number)
	if !is {
		return 0, false
	}
	d, err := decimal.Parse(n.String())
	return d, err == nil
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
		did, err := readPatch(patch)
		if err != nil {
			return err
		}
		if document, err = did.applyTo(document, true); err != nil {
			return err
		}
		t.ops = append(t.ops, did.ops...)
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
		"/followUps",
		"/followUps/*/blocks",
	)
}

func orderOf(v any) float64 {
	thing, _ := v.(map[string]any)
	switch order := thing["order"].(type) {
	case float64: // of what has just been made
		return order
	case json.Number:
		n, _ := order.Float64()
		return n
	}
	return 0
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
