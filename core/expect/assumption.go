package expect

import (
	"slices"

	"omphalos/core/program"
)

// An Assumption is what odds are told under: a visitor, who may be nil, and how
// often each answer is given. It is read-only and serves any number of goroutines.
type Assumption struct {
	Visitor *program.Visitor
	Each    []Frequencies
	Given   program.Answers // what has been answered already, Absent where nothing is; nil for nothing at all
	Through []Names         // by question: the only answers that are followed; nil for all, and so is an empty entry
}

// Names are names of answers, see program.Program.NamesOf.
type Names map[string]bool

// Follows tells whether an answer to question i is followed.
func (a *Assumption) Follows(p *program.Program, i int, v program.Value) bool {
	if i >= len(a.Through) || len(a.Through[i]) == 0 {
		return true
	}
	return slices.ContainsFunc(p.NamesOf(i, v), func(name string) bool { return a.Through[i][name] })
}

// Known returns the answer to question i that has been given already, and false for none.
func (a *Assumption) Known(i int) (program.Value, bool) {
	if i >= len(a.Given) || a.Given[i].State == program.Absent {
		return program.Value{}, false
	}
	return a.Given[i], true
}

// Frequencies is how often the answers to one question are given.
type Frequencies struct {
	Values []program.Value // of choices, ratings, stars, words and statements
	Shares []float64       // theirs

	Amounts amounts // of numbers and dates

	Picks   Design      // of several picks; of a grid, which rows are answered
	Rows    [][]float64 // of a grid: per row that is answered, the share of each column
	nearest target      // of several picks and grids: what can be had
	misfit  bool        // and is not what was wanted
}

// Assume returns the assumption of a visitor and of shares.
func Assume(p *program.Program, v *program.Visitor, shares Shares) *Assumption {
	a := &Assumption{Visitor: v, Each: make([]Frequencies, len(p.Questions))}
	for i := range p.Questions {
		a.Each[i] = expectedOf(p, i, shares[p.Questions[i].Key])
	}
	return a
}

// Chances returns, for each of Names, the share of those who see question i that
// give it.
func Chances(p *program.Program, i int, a *Assumption) []float64 {
	q, e := &p.Questions[i], &a.Each[i]
	known, given := a.Known(i)
	switch {
	case given:
		names, is := p.Names(i), p.NamesOf(i, known)
		list := make([]float64, len(names))
		for k, name := range names {
			if slices.Contains(is, name) {
				list[k] = 1
			}
		}
		return list
	case q.Form == program.OfSome:
		list, none := e.Picks.picked()
		if q.Skippable() {
			list = append(list, none)
		}
		return list
	case q.Form == program.OfGrid:
		if len(e.Rows) == 0 {
			return make([]float64, len(p.Names(i)))
		}
		var list []float64
		answered, none := e.Picks.picked()
		for r, row := range e.Rows {
			for _, share := range row {
				list = append(list, answered[r]*share)
			}
			if q.Skippable() && len(q.Rows) > 1 { // of those who do not pass the whole by
				list = append(list, max(1-none-answered[r], 0))
			}
		}
		if q.Skippable() {
			list = append(list, none)
		}
		return list
	case q.Form == program.OfAmount && !q.Rated():
		if q.Skippable() {
			return []float64{e.Amounts.Skipped}
		}
		return nil
	}
	names := p.Names(i)
	return e.Shares[len(e.Shares)-len(names):] // words that nothing tells apart have no name
}
