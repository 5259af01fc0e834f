package expect

import (
	"maps"
	"math"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// near returns the values that are drawn from a stretch of a number without a limit:
// where it is open, as many as all stretches that are not have together, at least those
// within a hundred steps, or a hundred.
func (a *amounts) near(at int) quiz.Lattice {
	reach := max(100*a.l.Step, 100*decimal.One)
	if k := len(a.Open) - 1; k > 0 {
		reach = max(reach, a.Open[k].First-a.Open[0].Last)
	}
	s := a.Open[at]
	switch {
	case s.Below && s.Above:
		return s.Within(-reach, reach)
	case s.Below:
		return s.Within(s.Last-reach, s.Last)
	case s.Above:
		return s.Within(s.First, s.First+reach)
	}
	return s
}

// amounts say how often the values of a number or a date are given. Without a limit,
// they are of the stretches, each of which is one.
type amounts struct {
	l       quiz.Lattice
	Open    []quiz.Lattice // the stretches, where a limit is missing
	named   map[int64]float64
	order   []int64 // of named, rising
	rest    float64 // what those not named share alike
	others  int64   // how many they are
	Skipped float64
}

// amountsOf reads percents by value; each counts for the value that is nearest to its
// name. What is not named shares alike in what remains.
func amountsOf(q *program.Question, percents map[string]float64) amounts {
	a := amounts{l: q.Lattice, named: map[int64]float64{}}
	n := q.Lattice.Count()
	if q.Lattice.Open() {
		a.Open = q.Stretches()
		n = int64(len(a.Open))
	}
	sum, skip := 0.0, -1.0
	for _, name := range slices.Sorted(maps.Keys(percents)) {
		share := max(percents[name], 0) / 100
		if math.IsNaN(share) {
			continue
		}
		if name == program.SkippedName {
			if q.Skippable() {
				skip = share
				sum += share
			}
			continue
		}
		d, err := q.ReadName(name)
		if err != nil || n == 0 {
			continue
		}
		a.named[a.place(d)] += share
		sum += share
	}
	a.order = slices.Sorted(maps.Keys(a.named))
	a.others = n - int64(len(a.named))
	units := a.others
	if q.Skippable() && skip < 0 {
		units++
	}
	a.rest = max(1-sum, 0)
	if units == 0 {
		a.rest = 0
	}
	if sum+a.rest <= 0 { // nothing is expected to be given at all
		if len(percents) > 0 {
			return amountsOf(q, nil)
		}
		return a
	}
	if q.Skippable() && skip < 0 {
		skip = a.rest / float64(units)
		a.rest -= skip
	}
	a.Skipped = max(skip, 0)
	total := max(sum, 1)
	if units == 0 {
		total = sum
	}
	for at := range a.named {
		a.named[at] /= total
	}
	a.rest, a.Skipped = a.rest/total, a.Skipped/total
	return a
}

// place returns the place among the values, or among the stretches, that is nearest to
// a number.
func (a *amounts) place(n decimal.Decimal) int64 {
	if a.Open == nil {
		return a.l.Nearest(n)
	}
	for i, s := range a.Open {
		if n <= s.Last {
			return int64(i)
		}
	}
	return int64(len(a.Open) - 1)
}

// each is the share of a value that is not named.
func (a *amounts) each() float64 {
	if a.others <= 0 {
		return 0
	}
	return a.rest / float64(a.others)
}

// At returns the share of the n-th value.
func (a *amounts) At(n int64) float64 {
	if share, named := a.named[n]; named {
		return share
	}
	return a.each()
}

// Of returns the share of a stretch.
func (a *amounts) Of(s quiz.Lattice) float64 {
	if a.Open != nil {
		return a.At(a.place(program.One(s)))
	}
	first := a.l.Nearest(s.First)
	last := first + s.Count() - 1
	sum, named := 0.0, int64(0)
	from, _ := slices.BinarySearch(a.order, first)
	for _, at := range a.order[from:] {
		if at > last {
			break
		}
		sum += a.named[at]
		named++
	}
	return sum + float64(s.Count()-named)*a.each()
}
