package explore

import (
	"math/big"

	"omphalos/core/decimal"
	"omphalos/core/program"
)

// byValue tells whether each value of question i counts by itself, rather than what
// conditions and brackets say of it.
func (e *Explorer) byValue(i int) bool {
	if e.numbers[i] && e.asked[i] >= before(i) {
		return true
	}
	for _, w := range e.p.Questions[i].Weighs {
		if w.Brackets == nil && w.Factor != 0 && e.until[w.Scale] >= before(i) {
			return true
		}
	}
	return false
}

// width returns how many answers to question i are told apart at the least.
func (e *Explorer) width(i int) int {
	q := &e.p.Questions[i]
	switch {
	case q.Form == program.OfOne:
		return len(q.Answers)
	case q.Form == program.OfAmount && e.byValue(i):
		return int(min(q.Lattice.Count(), program.MostValues))
	}
	return 1
}

// numbersOf returns the answers to a question that is a number or a date. The error is
// ErrWide where they are too many to be told apart.
func (e *Explorer) numbersOf(i int) ([]piece, error) {
	q, a := &e.p.Questions[i], &e.assumed.Each[i].Amounts
	var list []piece
	count := q.Lattice.Count()
	add := func(n decimal.Decimal, share float64, ways int64) {
		list = append(list, piece{value: program.Value{State: program.Given, Number: n}, share: share,
			ways: big.NewInt(ways)})
	}
	switch {
	case count == 0: // a draft whose limits leave nothing
	case !e.byValue(i):
		for _, s := range q.Stretches() {
			ways := s.Count()
			if a.Open != nil {
				ways = 1
			}
			add(program.One(s), a.Of(s), ways)
		}
	case a.Open != nil || count > program.MostValues:
		return nil, ErrWide
	default:
		for n := range count {
			add(q.Lattice.At(n), a.At(n), 1)
		}
	}
	if q.Skippable() || len(list) == 0 {
		list = append(list, piece{value: program.Value{State: program.Skipped}, share: a.Skipped, ways: big.NewInt(1)})
	}
	return list, nil
}
