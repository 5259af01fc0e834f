package passage

import (
	"maps"
	"math"
	"math/big"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// MostValues bounds how many values of a number are counted one by one. Beyond, they
// are counted in stretches that nothing tells apart, or drawn.
const MostValues = 1 << 14

// cuts returns where a comparison with numbers changes its mind: it says the same of
// all numbers from one of them to below the next.
func (c *condition) cuts() []decimal.Decimal {
	var starts []decimal.Decimal
	for i, n := range c.numbers {
		switch c.op {
		case quiz.AtLeast, quiz.LessThan:
			starts = append(starts, n)
		case quiz.AtMost, quiz.MoreThan:
			starts = append(starts, n+1)
		case quiz.Between:
			starts = append(starts, n+decimal.Decimal(i))
		default:
			starts = append(starts, n, n+1)
		}
	}
	return starts
}

// cuts returns where brackets change what a value adds.
func (w *weighing) cuts() []decimal.Decimal {
	var starts []decimal.Decimal
	for _, b := range w.brackets {
		switch {
		case b.from == decimal.Min:
		case w.turns:
			starts = append(starts, w.reversed.Sub(b.from)+1)
		default:
			starts = append(starts, b.from)
		}
	}
	return starts
}

// stretches returns the values that can be given in pieces, rising, of which conditions
// and brackets say the same throughout.
func (q *question) stretches() []quiz.Lattice {
	starts := slices.Clone(q.asked)
	for i := range q.weighs {
		starts = append(starts, q.weighs[i].cuts()...)
	}
	return split(q.lattice, starts)
}

// split cuts a lattice before numbers.
func split(l quiz.Lattice, starts []decimal.Decimal) []quiz.Lattice {
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

// one returns one of the values: of an open stretch the one that is nearest to its end.
func one(l quiz.Lattice) decimal.Decimal {
	switch {
	case l.Below && l.Above:
		return l.At(l.Nearest(0))
	case l.Below:
		return l.Last
	}
	return l.First
}

// amounts say how often the values of a number or a date are given. Without a limit,
// they are of the stretches, each of which is one.
type amounts struct {
	l       quiz.Lattice
	open    []quiz.Lattice // the stretches, where a limit is missing
	named   map[int64]float64
	order   []int64 // of named, rising
	rest    float64 // what those not named share alike
	others  int64   // how many they are
	skipped float64
}

// amounts reads percents by value; each counts for the value that is nearest to its
// name. What is not named shares alike in what remains.
func (q *question) amounts(percents map[string]float64) amounts {
	a := amounts{l: q.lattice, named: map[int64]float64{}}
	n := q.lattice.Count()
	if q.lattice.Open() {
		a.open = q.stretches()
		n = int64(len(a.open))
	}
	sum, skip := 0.0, -1.0
	for _, name := range slices.Sorted(maps.Keys(percents)) {
		share := max(percents[name], 0) / 100
		if math.IsNaN(share) {
			continue
		}
		if name == SkippedName {
			if q.skippable() {
				skip = share
				sum += share
			}
			continue
		}
		d, err := q.readName(name)
		if err != nil || n == 0 {
			continue
		}
		a.named[a.place(d)] += share
		sum += share
	}
	a.order = slices.Sorted(maps.Keys(a.named))
	a.others = n - int64(len(a.named))
	units := a.others
	if q.skippable() && skip < 0 {
		units++
	}
	a.rest = max(1-sum, 0)
	if units == 0 {
		a.rest = 0
	}
	if sum+a.rest <= 0 { // nothing is expected to be given at all
		if len(percents) > 0 {
			return q.amounts(nil)
		}
		return a
	}
	if q.skippable() && skip < 0 {
		skip = a.rest / float64(units)
		a.rest -= skip
	}
	a.skipped = max(skip, 0)
	total := max(sum, 1)
	if units == 0 {
		total = sum
	}
	for at := range a.named {
		a.named[at] /= total
	}
	a.rest, a.skipped = a.rest/total, a.skipped/total
	return a
}

func (q *question) readName(name string) (decimal.Decimal, error) {
	if q.kind == quiz.Date {
		return quiz.ParseDay(name)
	}
	return decimal.Parse(name)
}

// place returns the place among the values, or among the stretches, that is nearest to
// a number.
func (a *amounts) place(n decimal.Decimal) int64 {
	if a.open == nil {
		return a.l.Nearest(n)
	}
	for i, s := range a.open {
		if n <= s.Last {
			return int64(i)
		}
	}
	return int64(len(a.open) - 1)
}

// each is the share of a value that is not named.
func (a *amounts) each() float64 {
	if a.others <= 0 {
		return 0
	}
	return a.rest / float64(a.others)
}

// at returns the share of the n-th value.
func (a *amounts) at(n int64) float64 {
	if share, named := a.named[n]; named {
		return share
	}
	return a.each()
}

// of returns the share of a stretch.
func (a *amounts) of(s quiz.Lattice) float64 {
	if a.open != nil {
		return a.at(a.place(one(s)))
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

// byValue tells whether each value of question i counts by itself, rather than what
// conditions and brackets say of it.
func (e *Explorer) byValue(i int) bool {
	if e.numbers[i] && e.asked[i] >= before(i) {
		return true
	}
	for _, w := range e.p.questions[i].weighs {
		if w.brackets == nil && w.factor != 0 && e.until[w.scale] >= before(i) {
			return true
		}
	}
	return false
}

// width returns how many answers to question i are told apart at the least.
func (e *Explorer) width(i int) int {
	q := &e.p.questions[i]
	switch {
	case q.form == ofOne:
		return len(q.answers)
	case q.form == ofAmount && e.byValue(i):
		return int(min(q.lattice.Count(), MostValues))
	}
	return 1
}

// numbersOf returns the answers to a question that is a number or a date. The error is
// ErrWide where they are too many to be told apart.
func (e *Explorer) numbersOf(i int) ([]piece, error) {
	q, a := &e.p.questions[i], &e.assumed.each[i].amounts
	var list []piece
	count := q.lattice.Count()
	add := func(n decimal.Decimal, share float64, ways int64) {
		list = append(list, piece{value: Value{State: Given, Number: n}, share: share, ways: big.NewInt(ways)})
	}
	switch {
	case count == 0: // a draft whose limits leave nothing
	case !e.byValue(i):
		for _, s := range q.stretches() {
			ways := s.Count()
			if a.open != nil {
				ways = 1
			}
			add(one(s), a.of(s), ways)
		}
	case a.open != nil || count > MostValues:
		return nil, ErrWide
	default:
		for n := range count {
			add(q.lattice.At(n), a.at(n), 1)
		}
	}
	if q.skippable() || len(list) == 0 {
		list = append(list, piece{value: Value{State: Skipped}, share: a.skipped, ways: big.NewInt(1)})
	}
	return list, nil
}
