package sheet

import (
	"maps"
	"reflect"
	"slices"

	"omphalos/core/quiz"
)

// Most edits are of what one answer weighs. The other questions are then shown as before: they
// are neither made again nor compared. An edit within a question leaves the rest of the document
// where it is, so that this is told by pointers.

// leaves tells whether a sheet differs from an earlier one of its quiz in nothing that questions
// show of each other and of the rest of the quiz, whatever they weigh themselves.
func (sh *Sheet) leaves(old *Sheet) bool {
	if old == nil || len(old.Doc.Questions) != len(sh.Doc.Questions) {
		return false
	}
	for key, q := range sh.Doc.Questions {
		was := old.Doc.Questions[key]
		if was != q && (was == nil || !reflect.DeepEqual(weightless(was), weightless(q))) {
			return false
		}
	}
	a, b := *old.Doc, *sh.Doc
	a.Questions, b.Questions = nil, nil
	return reflect.DeepEqual(a, b) &&
		slices.EqualFunc(old.Columns, sh.Columns, func(a, b column) bool { return a.most == b.most }) && // it shades cells
		reflect.DeepEqual(old.Findings, sh.Findings) &&
		reflect.DeepEqual(old.remarks, sh.remarks) &&
		maps.Equal(old.fixed, sh.fixed) &&
		maps.Equal(old.filled, sh.filled)
}

// weighsAlone tells whether nothing but the answers of a question shows what they weigh, and how
// often they are given.
func weighsAlone(q *quiz.Question) bool { return q.Kind.Choice() || q.Kind == quiz.Several }

// weightless is a question without what its answers add and how often they are expected.
func weightless(q *quiz.Question) quiz.Question {
	light := *q
	light.Expect, light.Answers = nil, make(map[string]*quiz.Answer, len(q.Answers))
	for key, a := range q.Answers {
		one := *a
		one.Adds = nil
		light.Answers[key] = &one
	}
	return light
}

// leavesAlone tells of a question whether it is shown as on an earlier sheet that this one
// leaves. Those whose drawings are made of more than how often each answer is given are made
// again.
func (sh *Sheet) leavesAlone(old *Sheet, key string) bool {
	q := sh.Doc.Questions[key]
	if q != old.Doc.Questions[key] || !weighsAlone(q) || (sh.odds == nil) != (old.odds == nil) {
		return false
	}
	if sh.odds != nil && (sh.odds.Seen[key] != old.odds.Seen[key] || !maps.Equal(sh.odds.Answers[key],
		old.odds.Answers[key])) {
		return false
	}
	path := quiz.At("questions", key)
	if !sh.threads[path].equal(old.threads[path]) {
		return false
	}
	for answer := range q.Answers {
		if at := path.Join("answers", answer); !sh.threads[at].equal(old.threads[at]) {
			return false
		}
	}
	return true
}

func (r threadRow) equal(other threadRow) bool {
	return r.ID == other.ID && r.Knot == other.Knot && r.KnotX == other.KnotX && r.Loose == other.Loose &&
		slices.Equal(r.Pieces, other.Pieces)
}
