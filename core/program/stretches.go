package program

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// MostValues bounds how many values of a number are counted one by one. Beyond, they
// are counted in stretches that nothing tells apart, or drawn.
const MostValues = 1 << 14

// Stretches returns the values that can be given in pieces, rising, of which conditions
// and brackets say the same throughout.
func (q *Question) Stretches() []quiz.Lattice {
	starts := slices.Clone(q.Asked)
	for i := range q.Weighs {
		starts = append(starts, q.Weighs[i].cuts()...)
	}
	return Split(q.Lattice, starts)
}

// Split cuts a lattice before numbers.
func Split(l quiz.Lattice, starts []decimal.Decimal) []quiz.Lattice {
	slices.Sort(starts)
	var list []quiz.Lattice
	rest := l
	for _, n := range slices.Compact(starts) {
		if n <= rest.First || n > rest.Last {
			continue
		}
		below := rest.Within(rest.First, n-1)
		above := rest.Within(n, rest.Last)
		if below.Count() > 0 && above.Count() > 0 {
			below.Below, above.Above = rest.Below, rest.Above
			list, rest = append(list, below), above
		}
	}
	return append(list, rest)
}

// One returns one of the values: of an open stretch the one that is nearest to its end.
func One(l quiz.Lattice) decimal.Decimal {
	switch {
	case l.Below && l.Above:
		return l.At(l.Nearest(0))
	case l.Below:
		return l.Last
	}
	return l.First
}

// ReadName reads the name of a number or a day, as Shares have it.
func (q *Question) ReadName(name string) (decimal.Decimal, error) {
	if q.Kind == quiz.Date {
		return quiz.ParseDay(name)
	}
	return decimal.Parse(name)
}
