package passage

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// spans works out, per scale that the question feeds, the least and the most
// that it can add. A question that may be skipped can add 0.
func (c *compiler) spans(to *question, q *quiz.Question) {
	feeds := map[int]bool{}
	for _, a := range to.answers {
		if to.kind != quiz.Grid {
			for _, add := range a.adds {
				feeds[add.scale] = true
			}
		}
	}
	for _, r := range to.rows {
		for _, scale := range r.feeds {
			feeds[scale] = true
		}
	}
	for _, w := range to.weighs {
		feeds[w.scale] = true
	}
	for scale := range c.p.scales {
		if !feeds[scale] {
			continue
		}
		low, high := to.reach(scale)
		bareLow, bareHigh := min(low, 0), max(high, 0)
		if to.kind == quiz.Grid {
			bareLow, bareHigh = to.reachRows(scale, true)
		}
		if !to.required {
			low, high = bareLow, bareHigh
		}
		to.spans = append(to.spans, span{scale, low, high, bareLow, bareHigh})
	}
}

func (q *question) reach(scale int) (low, high decimal.Decimal) {
	switch {
	case q.kind == quiz.Grid:
		return q.reachRows(scale, !q.required)
	case q.kind == quiz.Several:
		low, high = q.reachSeveral(scale)
	case q.form == ofOne && len(q.answers) > 0:
		amounts := q.additions(scale)
		low, high = slices.Min(amounts), slices.Max(amounts)
	default:
		for i := range q.weighs {
			if q.weighs[i].scale == scale {
				low, high = q.weighs[i].reach(q)
			}
		}
	}
	return low, high
}

// reachRows adds up the least and the most of each row; alone tells whether rows can be
// left alone.
func (q *question) reachRows(scale int, alone bool) (low, high decimal.Decimal) {
	for _, r := range q.rows {
		amounts := make([]decimal.Decimal, len(r.adds))
		for column, adds := range r.adds {
			amounts[column] = amountOf(adds, scale)
		}
		if alone {
			amounts = append(amounts, 0)
		}
		if len(amounts) > 0 {
			low, high = low.Add(slices.Min(amounts)), high.Add(slices.Max(amounts))
		}
	}
	return low, high
}

func (q *question) additions(scale int) []decimal.Decimal {
	amounts := make([]decimal.Decimal, len(q.answers))
	for i, a := range q.answers {
		amounts[i] = amountOf(a.adds, scale)
	}
	return amounts
}

func amountOf(adds []addition, scale int) decimal.Decimal {
	for _, a := range adds {
		if a.scale == scale {
			return a.amount
		}
	}
	return 0
}

// reachSeveral adds up the least and the most of as many picks as are allowed where
// any are picked.
func (q *question) reachSeveral(scale int) (low, high decimal.Decimal) {
	amounts := q.additions(scale)
	least := min(max(q.minPicks, 1), len(amounts))
	slices.Sort(amounts)
	best := func(amounts []decimal.Decimal, better func(a, b decimal.Decimal) bool) decimal.Decimal {
		var sum decimal.Decimal
		for _, a := range amounts[:least] {
			sum = sum.Add(a)
		}
		found := sum
		for _, a := range amounts[least:max(q.maxPicks, least)] {
			if sum = sum.Add(a); better(sum, found) {
				found = sum
			}
		}
		return found
	}
	low = best(amounts, func(a, b decimal.Decimal) bool { return a < b })
	slices.Reverse(amounts)
	high = best(amounts, func(a, b decimal.Decimal) bool { return a > b })
	return q.capped(scale, low), q.capped(scale, high)
}

// capped stops what several picks add to a scale at the question's cap.
func (q *question) capped(scale int, amount decimal.Decimal) decimal.Decimal {
	for _, most := range q.caps {
		if most.scale == scale {
			return min(max(amount, -most.amount), most.amount)
		}
	}
	return amount
}

// reach returns the least and the most that the values of a question weigh; where a
// limit is missing, a factor's are not known, and 0.
func (w *weighing) reach(q *question) (least, most decimal.Decimal) {
	if q.lattice.Count() == 0 {
		return 0, 0
	}
	if w.brackets == nil {
		if q.lattice.Open() {
			return 0, 0
		}
		a, b := w.weigh(q.lattice.First), w.weigh(q.lattice.Last)
		return min(a, b), max(a, b)
	}
	for i, s := range split(q.lattice, w.cuts()) {
		adds := w.weigh(s.First)
		if i == 0 {
			least, most = adds, adds
		}
		least, most = min(least, adds), max(most, adds)
	}
	return least, most
}

// weigh returns what a value adds.
func (w *weighing) weigh(value decimal.Decimal) decimal.Decimal {
	if w.turns {
		value = w.reversed.Sub(value)
	}
	if w.brackets == nil {
		return value.Mul(w.factor)
	}
	var adds decimal.Decimal
	for i := range w.brackets {
		if value < w.brackets[i].from {
			break
		}
		adds = w.brackets[i].adds
	}
	return adds
}
