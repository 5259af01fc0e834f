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
		if !to.required {
			low, high = min(low, 0), max(high, 0)
		}
		to.spans = append(to.spans, span{scale, low, high})
	}
}

func (q *question) reach(scale int) (low, high decimal.Decimal) {
	switch {
	case q.kind == quiz.Grid:
		for _, r := range q.rows {
			amounts := make([]decimal.Decimal, len(r.adds))
			for column, adds := range r.adds {
				amounts[column] = amountOf(adds, scale)
			}
			if len(amounts) > 0 {
				low, high = low.Add(slices.Min(amounts)), high.Add(slices.Max(amounts))
			}
		}
	case q.kind == quiz.Several:
		low, high = q.reachSeveral(scale)
	case q.form == ofOne && len(q.answers) > 0:
		amounts := q.amounts(scale)
		low, high = slices.Min(amounts), slices.Max(amounts)
	default:
		for i := range q.weighs {
			if q.weighs[i].scale == scale {
				low, high = q.weighs[i].reach(q.low, q.high)
			}
		}
	}
	return low, high
}

func (q *question) amounts(scale int) []decimal.Decimal {
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

// reachSeveral adds up the least and the most of as many picks as are allowed.
func (q *question) reachSeveral(scale int) (low, high decimal.Decimal) {
	amounts := q.amounts(scale)
	slices.Sort(amounts)
	best := func(amounts []decimal.Decimal, better func(a, b decimal.Decimal) bool) decimal.Decimal {
		var sum decimal.Decimal
		for _, a := range amounts[:min(q.minPicks, len(amounts))] {
			sum = sum.Add(a)
		}
		found := sum
		for _, a := range amounts[min(q.minPicks, len(amounts)):min(q.maxPicks, len(amounts))] {
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

// reach returns the least and the most that values between low and high weigh.
func (w *weighing) reach(low, high *decimal.Decimal) (least, most decimal.Decimal) {
	if w.brackets == nil {
		if low == nil || high == nil {
			return 0, 0
		}
		a, b := w.weigh(*low), w.weigh(*high)
		return min(a, b), max(a, b)
	}
	var amounts []decimal.Decimal
	if low != nil {
		amounts = append(amounts, w.weigh(*low))
	} else if len(w.brackets) > 0 && w.brackets[0].from == decimal.Min {
		amounts = append(amounts, w.brackets[0].adds)
	} else {
		amounts = append(amounts, 0)
	}
	for _, b := range w.brackets {
		at := b.from
		if w.turns {
			at = w.reversed.Sub(at)
		}
		if (low == nil || at >= *low) && (high == nil || at <= *high) {
			amounts = append(amounts, b.adds)
		}
	}
	if high != nil {
		amounts = append(amounts, w.weigh(*high))
	}
	return slices.Min(amounts), slices.Max(amounts)
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
