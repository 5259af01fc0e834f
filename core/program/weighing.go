package program

import (
	"cmp"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

func (c *compiler) weighing(key string, q *quiz.Question, w *quiz.Weighing) Weighing {
	to := Weighing{Scale: c.p.ScaleIndex[key]}
	if w.Factor != nil {
		to.Factor = *w.Factor
	}
	if w.Reversed {
		low, high := q.Bounds()
		to.Turns, to.reversed = true, low.Add(*high)
	}
	if w.Brackets == nil {
		return to
	}
	to.Brackets = make([]Bracket, 0, len(w.Brackets))
	for _, b := range w.Brackets {
		from := decimal.Min
		if b.From != nil {
			from = b.From.Value()
		}
		to.Brackets = append(to.Brackets, Bracket{from, b.Adds})
	}
	slices.SortFunc(to.Brackets, func(a, b Bracket) int { return cmp.Compare(a.from, b.from) })
	return to
}

// reach returns the least and the most that the values of a question weigh; where a
// limit is missing, a factor's are not known, and 0.
func (w *Weighing) reach(q *Question) (least, most decimal.Decimal) {
	if q.Lattice.Count() == 0 {
		return 0, 0
	}
	if w.Brackets == nil {
		if q.Lattice.Open() {
			return 0, 0
		}
		a, b := w.Weigh(q.Lattice.First), w.Weigh(q.Lattice.Last)
		return min(a, b), max(a, b)
	}
	for i, s := range Split(q.Lattice, w.cuts()) {
		adds := w.Weigh(s.First)
		if i == 0 {
			least, most = adds, adds
		}
		least, most = min(least, adds), max(most, adds)
	}
	return least, most
}

// cuts returns where brackets change what a value adds.
func (w *Weighing) cuts() []decimal.Decimal {
	var starts []decimal.Decimal
	for _, b := range w.Brackets {
		switch {
		case b.from == decimal.Min:
		case w.Turns:
			starts = append(starts, w.reversed.Sub(b.from)+1)
		default:
			starts = append(starts, b.from)
		}
	}
	return starts
}
