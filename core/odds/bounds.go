package odds

import (
	"math/big"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// Bounds are numbers between which a score lies on every passage, wherever it stands;
// nil is none. They are proven without walking, and need not be reached.
type Bounds struct {
	Low  *decimal.Decimal `json:"low"`
	High *decimal.Decimal `json:"high"`
}

func between(low, high decimal.Decimal) Bounds { return Bounds{&low, &high} }

// BoundsOf returns the bounds of every scale: of a sum, the least and the most of each
// question that may be seen, added up; of a formula, interval arithmetic.
func BoundsOf(p *program.Program) []Bounds {
	b := make([]Bounds, len(p.Scales))
	done := make([]bool, len(p.Scales))
	var of func(i int) Bounds
	of = func(i int) Bounds {
		if !done[i] {
			done[i] = true // formulas lead in no circle
			if b[i] = boundsOf(p, i, of); p.Scales[i].Method != quiz.Percent {
				b[i] = b[i].with(p.Scales[i].Fees, &p.Scales[i])
			}
		}
		return b[i]
	}
	for i := range p.Scales {
		of(i)
	}
	return b
}

func boundsOf(p *program.Program, i int, of func(int) Bounds) Bounds {
	s := &p.Scales[i]
	switch s.Method {
	case quiz.Percent:
		return between(0, 100*decimal.One)
	case quiz.Formula:
		low, high := s.Formula.Range(func(n int) (low, high *big.Rat) {
			b := operandBounds(p, s.Reads[n], of)
			return rat(b.Low), rat(b.High)
		})
		return Bounds{rounded(low, s.Decimals), rounded(high, s.Decimals)}
	}
	sum, one := between(s.Start, s.Start), between(s.Start, s.Start)
	for k := range p.Questions {
		partsOf(&p.Questions[k], i, func(low, high decimal.Decimal, open [2]bool) {
			if open[0] {
				sum.Low, one.Low = nil, nil
			}
			if open[1] {
				sum.High, one.High = nil, nil
			}
			sum, one = sum.plus(min(low, 0), max(high, 0)), one.or(min(low, 0), max(high, 0))
		})
	}
	if s.Method == quiz.Mean { // of what single questions and rows add
		return one
	}
	return sum
}

// partsOf calls f with the least and the most that the question adds to a scale, and
// whether there is no least, or no most; for each row of a grid by itself.
func partsOf(q *program.Question, scale int, f func(low, high decimal.Decimal, open [2]bool)) {
	if q.Form == program.OfGrid {
		for _, r := range q.Rows {
			low, high := decimal.Decimal(0), decimal.Decimal(0)
			for _, adds := range r.Adds {
				amount := program.AmountOf(adds, scale)
				low, high = min(low, amount), max(high, amount)
			}
			f(low, high, [2]bool{})
		}
		return
	}
	if slices.ContainsFunc(q.Spans, func(s program.Span) bool { return s.Scale == scale }) {
		f(addsOf(q, scale))
	}
}

func addsOf(q *program.Question, scale int) (low, high decimal.Decimal, open [2]bool) {
	low, high = q.Reach(scale)
	for _, w := range q.Weighs {
		if w.Scale != scale || w.Brackets != nil || w.Factor == 0 {
			continue
		}
		below, above := q.Lattice.Below, q.Lattice.Above
		if w.Factor < 0 != w.Turns {
			below, above = above, below
		}
		open = [2]bool{below, above}
		if q.Lattice.Open() && !below {
			low = min(w.Weigh(q.Lattice.First), w.Weigh(q.Lattice.Last))
		}
		if q.Lattice.Open() && !above {
			high = max(w.Weigh(q.Lattice.First), w.Weigh(q.Lattice.Last))
		}
	}
	return low, high, open
}

func (b Bounds) plus(low, high decimal.Decimal) Bounds {
	add := func(p *decimal.Decimal, d decimal.Decimal) *decimal.Decimal {
		if p == nil {
			return nil
		}
		sum := p.Add(d)
		return &sum
	}
	return Bounds{add(b.Low, low), add(b.High, high)}
}

func (b Bounds) or(low, high decimal.Decimal) Bounds {
	if b.Low != nil {
		low = min(low, *b.Low)
		b.Low = &low
	}
	if b.High != nil {
		high = max(high, *b.High)
		b.High = &high
	}
	return b
}

// with puts fees on top. A percentage that is not negative keeps the order of amounts.
func (b Bounds) with(fees []program.Fee, s *program.Scale) Bounds {
	if slices.ContainsFunc(fees, func(f program.Fee) bool { return f.Percent < 0 }) {
		return Bounds{}
	}
	total := func(p *decimal.Decimal) *decimal.Decimal {
		if p == nil {
			return nil
		}
		sum := *p
		for i := range fees {
			sum = sum.Add(s.FeeOn(i, *p))
		}
		return &sum
	}
	return Bounds{total(b.Low), total(b.High)}
}

func operandBounds(p *program.Program, o program.Operand, of func(int) Bounds) Bounds {
	if o.Question < 0 {
		return of(o.Scale)
	}
	l := p.Questions[o.Question].Lattice
	b := between(min(l.First, 0), max(l.Last, 0)) // 0 where it is not answered
	if l.Below {
		b.Low = nil
	}
	if l.Above {
		b.High = nil
	}
	return b
}

func rat(d *decimal.Decimal) *big.Rat {
	if d == nil {
		return nil
	}
	return d.Rat()
}

// rounded rounds a bound; one beyond the range stands at its end.
func rounded(r *big.Rat, places int) *decimal.Decimal {
	if r == nil {
		return nil
	}
	d, _ := decimal.FromRat(r, places)
	return &d
}

// Overflows returns the scales that answers can take beyond the range of decimals.
func Overflows(p *program.Program) []int {
	closed := *p // what can be typed has ends
	closed.Questions = slices.Clone(p.Questions)
	for i := range closed.Questions {
		closed.Questions[i].Lattice.Below, closed.Questions[i].Lattice.Above = false, false
	}
	var list []int
	for i, b := range BoundsOf(&closed) {
		if b.Low != nil && *b.Low <= decimal.Min || b.High != nil && *b.High >= decimal.Max {
			list = append(list, i)
		}
	}
	return list
}
