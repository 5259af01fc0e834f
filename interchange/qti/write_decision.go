package qti

import (
	"slices"

	"github.com/beevik/etree"

	"omphalos/core/quiz"
)

// process sums up the scales and decides by the bands of one.
func (w *writer) process(root *etree.Element) {
	p := add(root, "qti-outcome-processing")
	for _, key := range quiz.InOrder(w.q.Scales) {
		s := w.q.Scales[key]
		sum := add(add(p, "qti-set-outcome-value", "identifier", key), "qti-sum")
		words(sum, "qti-base-value", s.Start.String(), "base-type", "float")
		add(sum, "qti-test-variables", "variable-identifier", key)
		if s.Method != "" && s.Method != quiz.Sum {
			w.lost.tell("“%s” is no sum: there it is one.", s.Name)
		}
		if s.Kind != quiz.Points {
			w.lost.tell("“%s” is a %s: there it is a score like any other.", s.Name, s.Kind)
		}
	}
	w.decide(p)
}

func (w *writer) decide(p *etree.Element) {
	var bands *quiz.Step
	for _, key := range quiz.InOrder(w.q.Decision.Steps) {
		switch s := w.q.Decision.Steps[key]; {
		case s.Off:
		case s.Kind == quiz.BandsStep && bands == nil && w.q.Scales[s.Scale] != nil:
			bands = s
		default:
			w.lost.tell("A step of the decision goes by a %s: there it is left out.", s.Kind)
		}
	}
	set := func(to *etree.Element, key string) {
		words(add(to, "qti-set-outcome-value", "identifier", outcome), "qti-base-value", key, "base-type", "identifier")
	}
	if bands == nil {
		if w.q.Decision.Otherwise != "" {
			set(p, w.q.Decision.Otherwise)
		}
		return
	}
	c := add(p, "qti-outcome-condition")
	cuts := bands.CutKeys()
	slices.Reverse(cuts)
	branch := "qti-outcome-if"
	for _, key := range cuts {
		cut := bands.Cuts[key]
		b := add(c, branch)
		at := add(b, "qti-gte")
		add(at, "qti-variable", "identifier", bands.Scale)
		words(at, "qti-base-value", cut.At.String(), "base-type", "float")
		set(b, orElse(cut.Outcome, w.q.Decision.Otherwise))
		branch = "qti-outcome-else-if"
	}
	lowest := orElse(bands.Lowest, w.q.Decision.Otherwise)
	if branch == "qti-outcome-if" {
		set(p, lowest)
		p.RemoveChild(c)
	} else if lowest != "" {
		set(add(c, "qti-outcome-else"), lowest)
	}
}
