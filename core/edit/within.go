package edit

import (
	"encoding/json"
	"errors"
	"maps"
	"strings"

	jsonpatch "github.com/evanphx/json-patch/v5"
	"github.com/wI2L/jsondiff"

	"omphalos/core/quiz"
)

// Most edits stay within one question. Then that question alone is written, patched, read
// and compared, and the edit of one weight does not grow with the quiz. "" is the place of an
// edit of all the document.

// within returns the question of the document in which all of a patch stays, or "".
func (r reading) within(before *quiz.Quiz) quiz.Pointer {
	var at quiz.Pointer
	for _, op := range r.ops {
		for _, path := range []quiz.Pointer{op.Path, op.From} {
			if path == "" && op.Op != "move" && op.Op != "copy" {
				continue // no operation but those has a from
			}
			if !path.Fits("/questions/*/*/**") {
				return ""
			}
			question := quiz.At("questions", path.Keys()[1])
			if at != "" && at != question {
				return ""
			}
			at = question
		}
	}
	if at != "" && before.Questions[at.Key()] == nil {
		return ""
	}
	return at
}

// apply applies a patch, of which all stays at a place, to what stands there.
func (r reading) apply(before *quiz.Quiz, document []byte, at quiz.Pointer) ([]byte, error) {
	if at == "" {
		return r.applyTo(document, true)
	}
	inside := reading{patch: make(jsonpatch.Patch, len(r.patch))}
	for i, op := range r.patch {
		op = maps.Clone(op)
		for name, path := range map[string]quiz.Pointer{"path": r.ops[i].Path, "from": r.ops[i].From} {
			if op[name] != nil {
				shorter := raw(strings.TrimPrefix(string(path), string(at)))
				op[name] = &shorter
			}
		}
		inside.patch[i] = op
	}
	return inside.applyTo(raw(before.Questions[at.Key()]), true)
}

// read returns the quiz after what stands at a place has become another. The error is a
// *Refused.
func read(before *quiz.Quiz, at quiz.Pointer, changed []byte) (*quiz.Quiz, error) {
	after, err := before, error(nil)
	if at == "" {
		if after, err = quiz.Read(changed); err == nil {
			tidy(after)
		}
	} else if question, wrong := quiz.ReadQuestion(at.Key(), changed); wrong != nil {
		err = wrong
	} else {
		tidyQuestion(question)
		other := *before
		other.Questions = maps.Clone(before.Questions)
		other.Questions[at.Key()] = question
		after = &other
	}
	if p := (quiz.Problem{}); errors.As(err, &p) {
		return nil, &Refused{[]quiz.Problem{p}}
	}
	return after, err
}

// inverse returns the patch that leads back.
func inverse(c *Change, document []byte, at quiz.Pointer) ([]byte, error) {
	from, to := c.Document, document
	if at != "" {
		from, to = raw(c.After.Questions[at.Key()]), raw(c.Before.Questions[at.Key()])
	}
	back, err := jsondiff.CompareJSON(from, to)
	if err != nil {
		return nil, err
	}
	if back == nil {
		back = jsondiff.Patch{}
	}
	for i := range back { // none of them has a from
		back[i].Path = string(at) + back[i].Path
	}
	return json.Marshal(back)
}
