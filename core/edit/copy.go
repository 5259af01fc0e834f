package edit

import (
	"maps"
	"strings"

	"omphalos/core/quiz"
)

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
