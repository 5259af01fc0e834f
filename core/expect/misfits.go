package expect

import (
	"slices"

	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Misfit is a question whose shares can't be had under the limits on its answers, and
// the nearest ones that can, in percent.
type Misfit struct {
	Question int
	Nearest  map[string]float64 // by those of Names that are named
}

// Misfits returns the questions whose shares can't be had.
func (a *Assumption) Misfits(p *program.Program) []Misfit {
	var list []Misfit
	for i := range a.Each {
		q, e := &p.Questions[i], &a.Each[i]
		if !e.misfit {
			continue
		}
		m := Misfit{i, map[string]float64{}}
		some := 1 - max(e.nearest.none, 0)
		for k, picked := range e.nearest.picked {
			switch {
			case picked < 0:
			case q.Form == program.OfSome:
				m.Nearest[q.Answers[k].Key] = 100 * picked
			default:
				for o, share := range e.Rows[k] {
					m.Nearest[q.CellName(k, o)] = 100 * picked * share
				}
				m.Nearest[q.CellName(k, program.None)] = 100 * max(some-picked, 0)
			}
		}
		if e.nearest.none >= 0 {
			m.Nearest[program.SkippedName] = 100 * e.nearest.none
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

// UnstatedOf returns the questions whose shares are neither stated nor counted, of those
// whose answers something tells apart.
func UnstatedOf(p *program.Program, shares Shares) []Unstated {
	var list []Unstated
	for i := range p.Questions {
		q := &p.Questions[i]
		switch {
		case len(shares[q.Key]) > 0:
		case q.Form == program.OfNothing && q.Kind != quiz.Interlude && len(q.Wordings.Get(q)) > 1:
			list = append(list, Unstated{i, "words"})
		case q.Form == program.OfAmount && q.Lattice.Open() && (len(q.Asked) > 0 || len(q.Weighs) > 0 || readByFormula(p, i)):
			list = append(list, Unstated{i, "no limits"})
		}
	}
	return list
}

// readByFormula tells whether a formula reads the answer to question i.
func readByFormula(p *program.Program, i int) bool {
	return slices.ContainsFunc(p.Scales, func(s program.Scale) bool {
		return slices.Contains(s.Reads, program.Operand{Scale: program.None, Question: i})
	})
}
