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

// A truth is what can be said of a condition without walking.
type truth uint8

const (
	perhaps truth = iota
	never
	always
)

// PossibleOutcomes tells, per outcome, whether some passage may get it; false is proven.
func PossibleOutcomes(p *program.Program) []bool {
	bounds := BoundsOf(p)
	can := make([]bool, len(p.Outcomes))
	mark := func(outcome int) bool {
		if outcome >= 0 {
			can[outcome] = true
		}
		return outcome >= 0
	}
	for i := range p.Questions {
		q := &p.Questions[i]
		for _, a := range q.Answers {
			if a.Then != nil && (a.Then.Way == quiz.ToOutcome || a.Then.Way == quiz.PartWays) {
				mark(a.Then.Outcome)
			}
		}
		for _, r := range q.Then {
			if r.Then.Way == quiz.ToOutcome || r.Then.Way == quiz.PartWays {
				if provenOf(r.When, bounds) != never {
					mark(r.Then.Outcome)
				}
			}
		}
	}
	for i := range p.Steps {
		if possibleBy(&p.Steps[i], bounds, mark) {
			return can // it always names one
		}
	}
	mark(p.Otherwise)
	return can
}

// possibleBy marks the outcomes that a step may name, and tells whether it always names one.
func possibleBy(s *program.Step, bounds []Bounds, mark func(int) bool) bool {
	switch s.Kind {
	case quiz.RuleStep:
		held := provenOf(s.When, bounds)
		return held != never && mark(s.Outcome) && held == always
	case quiz.TableStep:
		for r := range s.Rules {
			held := always
			for _, c := range s.Rules[r].Cells {
				switch provenOf(c, bounds) {
				case never:
					held = never
				case perhaps:
					held = min(held, perhaps)
				}
				if held == never {
					break
				}
			}
			if held != never && mark(s.Rules[r].Outcome) && held == always {
				return true
			}
		}
		return false
	case quiz.BandsStep:
		closed := true
		for k, c := range s.Cuts {
			b := bounds[s.Scale]
			above := b.High != nil && *b.High < c.At
			below := k+1 < len(s.Cuts) && b.Low != nil && *b.Low >= s.Cuts[k+1].At
			if !above && !below && !mark(c.Outcome) {
				closed = false
			}
		}
		return closed
	}
	for _, c := range s.Contenders {
		mark(c.Outcome)
	}
	if s.Ties == quiz.TieOutcome {
		mark(s.TieBy)
	}
	return false
}

// provenOf says what is known of a condition from the bounds of scores.
func provenOf(c *program.Condition, bounds []Bounds) truth {
	if c == nil {
		return always
	}
	switch c.Group {
	case "":
		if c.Subject != program.OfScale {
			return perhaps
		}
		return bounds[c.Scale].proven(c)
	case "all":
		return allProven(c.Parts, bounds)
	case "none":
		return opposite(anyProven(c.Parts, bounds))
	}
	return anyProven(c.Parts, bounds)
}

func opposite(t truth) truth {
	switch t {
	case never:
		return always
	case always:
		return never
	}
	return perhaps
}

func allProven(parts []*program.Condition, bounds []Bounds) truth {
	found := always
	for _, part := range parts {
		switch provenOf(part, bounds) {
		case never:
			return never
		case perhaps:
			found = perhaps
		}
	}
	return found
}

func anyProven(parts []*program.Condition, bounds []Bounds) truth {
	found := never
	for _, part := range parts {
		switch provenOf(part, bounds) {
		case always:
			return always
		case perhaps:
			found = perhaps
		}
	}
	return found
}

// proven compares all numbers between the bounds.
func (b Bounds) proven(c *program.Condition) truth {
	held, failed := false, false
	starts := slices.Sorted(slices.Values(c.Cuts()))
	look := func(n decimal.Decimal) {
		if b.Low != nil && n < *b.Low || b.High != nil && n > *b.High {
			return
		}
		holds := c.Number(n)
		held, failed = held || holds, failed || !holds
	}
	for _, end := range []*decimal.Decimal{b.Low, b.High} {
		if end != nil {
			look(*end)
		}
	}
	for _, n := range starts {
		look(n - 1)
		look(n)
	}
	if len(starts) == 0 {
		look(0)
	}
	switch {
	case !held && failed:
		return never
	case held && !failed:
		return always
	}
	return perhaps
}

// Meets tells whether scores between the bounds meet a test: never, always, or else
// perhaps.
func (b Bounds) Meets(t quiz.Test) (meets, fails bool) {
	switch b.proven(program.OfScore(t)) {
	case never:
		return false, true
	case always:
		return true, false
	}
	return true, true
}
