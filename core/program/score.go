package program

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// feeds tells whether anything was added to the scale, or to one that its
// formula reads.
func (w *Course) feeds(scale int) bool {
	s := &w.Program.Scales[scale]
	if s.Method == quiz.Mean {
		return w.Counts[scale] > 0
	}
	if s.Method != quiz.Formula {
		return w.Fed[scale]
	}
	return slices.ContainsFunc(s.Feeders, func(o Operand) bool {
		if o.Question >= 0 {
			return w.Given(o.Question) != nil
		}
		return w.feeds(o.Scale)
	})
}

// AddedBy returns what the answer to a question added to a scale.
func (w *Course) AddedBy(question, scale int) decimal.Decimal {
	v := w.Given(question)
	if v == nil {
		return 0
	}
	q := &w.Program.Questions[question]
	var sum decimal.Decimal
	switch q.Form {
	case OfOne:
		return AmountOf(q.Answers[v.Option].Adds, scale)
	case OfSome:
		for _, o := range v.Picks {
			sum = sum.Add(AmountOf(q.Answers[o].Adds, scale))
		}
		return q.capped(scale, sum)
	case OfGrid:
		for r, column := range v.Picks {
			if column >= 0 {
				sum = sum.Add(AmountOf(q.Rows[r].Adds[column], scale))
			}
		}
		return sum
	}
	for i := range q.Weighs {
		if q.Weighs[i].Scale == scale {
			sum = q.Weighs[i].Weigh(v.Number)
		}
	}
	return sum
}

// Weigh adds what the answer is worth.
func (w *Course) Weigh(q *Question, v *Value) {
	if w.Program.Averages {
		bare := q.Required && !q.Complete(v) // passed by all the same, in a table of answers
		for _, s := range q.Spans {
			low, high := s.Low, s.High
			if bare {
				low, high = s.bareLow, s.bareHigh
			}
			w.Lows[s.Scale] = w.Lows[s.Scale].Add(low)
			w.Highs[s.Scale] = w.Highs[s.Scale].Add(high)
			if v.State == Given && q.Form != OfGrid {
				w.Counts[s.Scale]++
			}
		}
	}
	if v.State != Given {
		return
	}
	switch q.Form {
	case OfOne:
		w.add(q.Answers[v.Option].Adds, "")
	case OfSome:
		w.addPicks(q, v.Picks)
	case OfGrid:
		for r, column := range v.Picks {
			if column < 0 {
				continue
			}
			for _, scale := range q.Rows[r].Feeds {
				w.Counts[scale]++
			}
			w.add(q.Rows[r].Adds[column], q.Rows[r].Key)
		}
	case OfAmount:
		for i := range q.Weighs {
			w.addTo(q.Weighs[i].Scale, q.Weighs[i].Weigh(v.Number), "")
		}
	}
}

func (w *Course) add(adds []Addition, row string) {
	for _, a := range adds {
		w.addTo(a.Scale, a.Amount, row)
	}
}

func (w *Course) addTo(scale int, amount decimal.Decimal, row string) {
	sum := w.Sums[scale].Add(amount)
	w.Beyond = w.Beyond || sum == decimal.Max || sum == decimal.Min
	w.Sums[scale] = sum
	w.Fed[scale] = w.Fed[scale] || amount != 0
	if w.Trace != nil {
		w.Trace.Added(scale, amount, row)
	}
}

func (w *Course) addPicks(q *Question, picks []int16) {
	if len(q.caps) == 0 {
		for _, o := range picks {
			w.add(q.Answers[o].Adds, "")
		}
		return
	}
	for _, s := range q.Spans {
		var sum decimal.Decimal
		for _, o := range picks {
			sum = sum.Add(AmountOf(q.Answers[o].Adds, s.Scale))
		}
		w.addTo(s.Scale, q.capped(s.Scale, sum), "")
	}
}

// Score returns the scale's value so far.
func (w *Course) Score(i int) decimal.Decimal {
	s := &w.Program.Scales[i]
	switch s.Method {
	case quiz.Mean:
		if w.Counts[i] == 0 {
			return s.Start
		}
		return w.Sums[i].Ratio(1, decimal.FromInt(w.Counts[i]), s.Decimals)
	case quiz.Percent:
		return w.Sums[i].Sub(w.Lows[i]).Ratio(100, w.Highs[i].Sub(w.Lows[i]), s.Decimals)
	case quiz.Formula:
		if !w.fresh[i] {
			value, notes := s.Formula.Eval(s.Decimals, func(n int) decimal.Decimal { return w.Operand(s.Reads[n]) })
			if w.Trace != nil {
				w.Trace.Formula(i, notes)
			}
			w.values[i], w.fresh[i] = w.withFees(s, value), true
		}
		return w.values[i]
	}
	return w.withFees(s, s.Start.Add(w.Sums[i]))
}

// Operand returns what a formula reads: a scale's value, or the number that
// was answered, 0 without one.
func (w *Course) Operand(o Operand) decimal.Decimal {
	if o.Question < 0 {
		return w.Score(o.Scale)
	}
	if v := w.Given(o.Question); v != nil {
		return v.Number
	}
	return 0
}

func (w *Course) withFees(s *Scale, value decimal.Decimal) decimal.Decimal {
	total := value
	for i := range s.Fees {
		total = total.Add(s.FeeOn(i, value))
	}
	return total
}
