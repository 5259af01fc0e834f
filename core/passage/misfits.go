package passage

import (
	"slices"

	"omphalos/core/quiz"
)

// A Misfit is a question whose shares can't be had under the limits on its answers, and
// the nearest ones that can, in percent.
type Misfit struct {
	Question int
	Nearest  map[string]float64 // by those of Names that are named
}

// Misfits returns the questions whose shares can't be had.
func (a *Assumption) Misfits(p *Program) []Misfit {
	var list []Misfit
	for i := range a.each {
		q, e := &p.questions[i], &a.each[i]
		if !e.misfit || q.form != ofSome {
			continue
		}
		m := Misfit{i, map[string]float64{}}
		for o, answer := range q.answers {
			if e.nearest.picked[o] >= 0 {
				m.Nearest[answer.key] = 100 * e.nearest.picked[o]
			}
		}
		if e.nearest.none >= 0 {
			m.Nearest[SkippedName] = 100 * e.nearest.none
		}
		list = append(list, m)
	}
	return list
}

// An Unstated question is one of whose answers nobody has said how often they are
// given, and that can't be counted.
type Unstated struct {
	Question int
	Because  string // "words" or "no limits"
}

// Assumes returns the questions whose shares are neither stated nor counted, of those
// whose answers something tells apart.
func (p *Program) Assumes(shares Shares) []Unstated {
	var list []Unstated
	for i := range p.questions {
		q := &p.questions[i]
		switch {
		case len(shares[q.key]) > 0:
		case q.form == ofNothing && q.kind != quiz.Interlude && len(q.words.get(q)) > 1:
			list = append(list, Unstated{i, "words"})
		case q.form == ofAmount && q.lattice.Open() && (len(q.asked) > 0 || len(q.weighs) > 0 || p.reads(i)):
			list = append(list, Unstated{i, "no limits"})
		}
	}
	return list
}

// reads tells whether a formula reads the answer to question i.
func (p *Program) reads(i int) bool {
	return slices.ContainsFunc(p.scales, func(s scale) bool { return slices.Contains(s.reads, operand{-1, i}) })
}
