package edit

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"

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
	"rename": func() Act { return new(Rename) },
	"remove": func() Act { return new(Remove) },
	"turn":   func() Act { return new(Turn) },
	"weigh":  func() Act { return new(Weigh) },
	"tag":    func() Act { return new(Tag) },
	"merge":  func() Act { return new(Merge) },
	"when":   func() Act { return new(When) },
	"cells":  func() Act { return new(Cells) },
	"alike":  func() Act { return new(Alike) },
	"lay":    func() Act { return new(Lay) },
	"mark":   func() Act { return new(Mark) },
	"home":   func() Act { return new(Home) },
	"write":  func() Act { return new(Write) },
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
