package program

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// spans works out, per scale that the question feeds, the least and the most
// that it can add. A question that may be skipped can add 0.
func (c *compiler) spans(to *Question, q *quiz.Question) {
	feeds := map[int]bool{}
	for _, a := range to.Answers {
		if to.Kind != quiz.Grid {
			for _, add := range a.Adds {
				feeds[add.Scale] = true
			}
		}
	}
	for _, r := range to.Rows {
		for _, scale := range r.Feeds {
			feeds[scale] = true
		}
	}
	for _, w := range to.Weighs {
		feeds[w.Scale] = true
	}
	for scale := range c.p.Scales {
		if !feeds[scale] {
			continue
		}
		low, high := to.Reach(scale)
		bareLow, bareHigh := min(low, 0), max(high, 0)
		if to.Kind == quiz.Grid {
			bareLow, bareHigh = to.reachRows(scale, true)
		}
		if !to.Required {
			low, high = bareLow, bareHigh
		}
		to.Spans = append(to.Spans, Span{scale, low, high, bareLow, bareHigh})
	}
}

// Reach returns the least and the most that an answer adds to a scale.
func (q *Question) Reach(scale int) (low, high decimal.Decimal) {
	switch {
	case q.Kind == quiz.Grid:
		return q.reachRows(scale, !q.Required)
	case q.Kind == quiz.Several:
		low, high = q.reachSeveral(scale)
	case q.Form == OfOne && len(q.Answers) > 0:
		amounts := q.additions(scale)
		low, high = slices.Min(amounts), slices.Max(amounts)
	default:
		for i := range q.Weighs {
			if q.Weighs[i].Scale == scale {
				low, high = q.Weighs[i].reach(q)
			}
		}
	}
	return low, high
}

// reachRows adds up the least and the most of each row; alone tells whether rows can be
// left alone.
func (q *Question) reachRows(scale int, alone bool) (low, high decimal.Decimal) {
	for _, r := range q.Rows {
		amounts := make([]decimal.Decimal, len(r.Adds))
		for column, adds := range r.Adds {
			amounts[column] = AmountOf(adds, scale)
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

func (q *Question) additions(scale int) []decimal.Decimal {
	amounts := make([]decimal.Decimal, len(q.Answers))
	for i, a := range q.Answers {
		amounts[i] = AmountOf(a.Adds, scale)
	}
	return amounts
}

// AmountOf returns what additions put on a scale.
func AmountOf(adds []Addition, scale int) decimal.Decimal {
	for _, a := range adds {
		if a.Scale == scale {
			return a.Amount
		}
	}
	return 0
}

// reachSeveral adds up the least and the most of as many picks as are allowed where
// any are picked.
func (q *Question) reachSeveral(scale int) (low, high decimal.Decimal) {
	amounts := q.additions(scale)
	least := min(max(q.MinPicks, 1), len(amounts))
	slices.Sort(amounts)
	best := func(amounts []decimal.Decimal, better func(a, b decimal.Decimal) bool) decimal.Decimal {
		var sum decimal.Decimal
		for _, a := range amounts[:least] {
			sum = sum.Add(a)
		}
		found := sum
		for _, a := range amounts[least:max(q.MaxPicks, least)] {
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
func (q *Question) capped(scale int, amount decimal.Decimal) decimal.Decimal {
	for _, most := range q.caps {
		if most.Scale == scale {
			return min(max(amount, -most.Amount), most.Amount)
		}
	}
	return amount
}

// Weigh returns what a value adds.
func (w *Weighing) Weigh(value decimal.Decimal) decimal.Decimal {
	if w.Turns {
		value = w.reversed.Sub(value)
	}
	if w.Brackets == nil {
		return value.Mul(w.Factor)
	}
	var adds decimal.Decimal
	for i := range w.Brackets {
		if value < w.Brackets[i].from {
			break
		}
		adds = w.Brackets[i].adds
	}
	return adds
}
