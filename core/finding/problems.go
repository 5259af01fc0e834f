package finding

import (
	"omphalos/core/quiz"
)

// mendProblem offers a patch where a machine can mend a problem of the document.
func (f *finder) mendProblem(p quiz.Problem) *Mend {
	switch p.Code {
	case "otherwise":
		if key := f.lastResort(); key != "" {
			return mendWith(say("let-it-be", f.outcome(key)), put("/decision/otherwise", key))
		}
	case "landing":
		if p.Pointer.Key() == "when" {
			return mend("remove-its-condition", remove(p.Pointer))
		}
		return mend("give-it-a-page", put(p.Pointer, map[string]*quiz.Landing{"page": {Kind: quiz.PageLanding}}))
	case "backwards":
		return mend("go-on-in-order", remove(thenOf(p.Pointer)))
	case "unknown":
		if p.Pointer.Parent().Key() == "adds" {
			return mend("remove-the-weight", remove(p.Pointer))
		}
		if p.Pointer.Fits("/outcomes/*/showScore") {
			return mend("show-no-score", remove(p.Pointer))
		}
	}
	return nil
}

// thenOf returns the place of what leads on, from its own or from that of its goal.
func thenOf(p quiz.Pointer) quiz.Pointer {
	if parent, key := p.Split(); key == "to" {
		return parent
	}
	return p
}

// lastResort is the outcome that fits best where nothing else does: one that is not
// a fit, or the last.
func (f *finder) lastResort() string {
	keys := quiz.InOrder(f.q.Outcomes)
	if len(keys) == 0 {
		return ""
	}
	for _, k := range keys {
		if f.q.Outcomes[k].Standing == quiz.NotAFit {
			return k
		}
	}
	return keys[len(keys)-1]
}
