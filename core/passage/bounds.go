package passage

import (
	"math/big"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Bounds are numbers between which a score lies on every passage, wherever it stands;
// nil is none. They are proven without walking, and need not be reached.
type Bounds struct {
	Low  *decimal.Decimal `json:"low"`
	High *decimal.Decimal `json:"high"`
}

func between(low, high decimal.Decimal) Bounds { return Bounds{&low, &high} }

// Bounds returns the bounds of every scale: of a sum, the least and the most of each
// question that may be seen, added up; of a formula, interval arithmetic.
func (p *Program) Bounds() []Bounds {
	b := make([]Bounds, len(p.scales))
	done := make([]bool, len(p.scales))
	var of func(i int) Bounds
	of = func(i int) Bounds {
		if !done[i] {
			done[i] = true // formulas lead in no circle
			if b[i] = p.boundsOf(i, of); p.scales[i].method != quiz.Percent {
				b[i] = b[i].with(p.scales[i].fees, &p.scales[i])
			}
		}
		return b[i]
	}
	for i := range p.scales {
		of(i)
	}
	return b
}

func (p *Program) boundsOf(i int, of func(int) Bounds) Bounds {
	s := &p.scales[i]
	switch s.method {
	case quiz.Percent:
		return between(0, 100*decimal.One)
	case quiz.Formula:
		low, high := s.formula.Range(func(n int) (low, high *big.Rat) {
			b := p.operandBounds(s.reads[n], of)
			return rat(b.Low), rat(b.High)
		})
		return Bounds{rounded(low, s.decimals), rounded(high, s.decimals)}
	}
	sum, one := between(s.start, s.start), between(s.start, s.start)
	for k := range p.questions {
		p.questions[k].parts(i, func(low, high decimal.Decimal, open [2]bool) {
			if open[0] {
				sum.Low, one.Low = nil, nil
			}
			if open[1] {
				sum.High, one.High = nil, nil
			}
			sum, one = sum.plus(min(low, 0), max(high, 0)), one.or(min(low, 0), max(high, 0))
		})
	}
	if s.method == quiz.Mean { // of what single questions and rows add
		return one
	}
	return sum
}

// parts calls f with the least and the most that the question adds to a scale, and
// whether there is no least, or no most; for each row of a grid by itself.
func (q *question) parts(scale int, f func(low, high decimal.Decimal, open [2]bool)) {
	if q.form == ofGrid {
		for _, r := range q.rows {
			low, high := decimal.Decimal(0), decimal.Decimal(0)
			for _, adds := range r.adds {
				amount := amountOf(adds, scale)
				low, high = min(low, amount), max(high, amount)
			}
			f(low, high, [2]bool{})
		}
		return
	}
	if slices.ContainsFunc(q.spans, func(s span) bool { return s.scale == scale }) {
		f(q.adds(scale))
	}
}

func (q *question) adds(scale int) (low, high decimal.Decimal, open [2]bool) {
	low, high = q.reach(scale)
	for _, w := range q.weighs {
		if w.scale != scale || w.brackets != nil || w.factor == 0 {
			continue
		}
		below, above := q.lattice.Below, q.lattice.Above
		if w.factor < 0 != w.turns {
			below, above = above, below
		}
		open = [2]bool{below, above}
		if q.lattice.Open() && !below {
			low = min(w.weigh(q.lattice.First), w.weigh(q.lattice.Last))
		}
		if q.lattice.Open() && !above {
			high = max(w.weigh(q.lattice.First), w.weigh(q.lattice.Last))
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
func (b Bounds) with(fees []fee, s *scale) Bounds {
	if slices.ContainsFunc(fees, func(f fee) bool { return f.percent < 0 }) {
		return Bounds{}
	}
	total := func(p *decimal.Decimal) *decimal.Decimal {
		if p == nil {
			return nil
		}
		sum := *p
		for i := range fees {
			sum = sum.Add(s.feeOn(i, *p))
		}
		return &sum
	}
	return Bounds{total(b.Low), total(b.High)}
}

func (p *Program) operandBounds(o operand, of func(int) Bounds) Bounds {
	if o.question < 0 {
		return of(o.scale)
	}
	l := p.questions[o.question].lattice
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
func (p *Program) Overflows() []int {
	closed := *p // what can be typed has ends
	closed.questions = slices.Clone(p.questions)
	for i := range closed.questions {
		closed.questions[i].lattice.Below, closed.questions[i].lattice.Above = false, false
	}
	var list []int
	for i, b := range closed.Bounds() {
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

// Possible tells, per outcome, whether some passage may get it; false is proven.
func (p *Program) Possible() []bool {
	bounds := p.Bounds()
	can := make([]bool, len(p.outcomes))
	mark := func(outcome int) bool {
		if outcome >= 0 {
			can[outcome] = true
		}
		return outcome >= 0
	}
	for i := range p.questions {
		q := &p.questions[i]
		for _, a := range q.answers {
			if a.then != nil && (a.then.way == quiz.ToOutcome || a.then.way == quiz.PartWays) {
				mark(a.then.outcome)
			}
		}
		for _, r := range q.then {
			if r.then.way == quiz.ToOutcome || r.then.way == quiz.PartWays {
				if r.when.proven(bounds) != never {
					mark(r.then.outcome)
				}
			}
		}
	}
	for i := range p.steps {
		if p.steps[i].possible(bounds, mark) {
			return can // it always names one
		}
	}
	mark(p.otherwise)
	return can
}

// possible marks the outcomes that a step may name, and tells whether it always names one.
func (s *step) possible(bounds []Bounds, mark func(int) bool) bool {
	switch s.kind {
	case quiz.RuleStep:
		held := s.when.proven(bounds)
		return held != never && mark(s.outcome) && held == always
	case quiz.TableStep:
		for r := range s.rules {
			held := always
			for _, c := range s.rules[r].cells {
				switch c.proven(bounds) {
				case never:
					held = never
				case perhaps:
					held = min(held, perhaps)
				}
				if held == never {
					break
				}
			}
			if held != never && mark(s.rules[r].outcome) && held == always {
				return true
			}
		}
		return false
	case quiz.BandsStep:
		closed := true
		for k, c := range s.cuts {
			b := bounds[s.scale]
			above := b.High != nil && *b.High < c.at
			below := k+1 < len(s.cuts) && b.Low != nil && *b.Low >= s.cuts[k+1].at
			if !above && !below && !mark(c.outcome) {
				closed = false
			}
		}
		return closed
	}
	for _, c := range s.contenders {
		mark(c.outcome)
	}
	if s.ties == quiz.TieOutcome {
		mark(s.tieBy)
	}
	return false
}

// proven says what is known of a condition from the bounds of scores.
func (c *condition) proven(bounds []Bounds) truth {
	if c == nil {
		return always
	}
	switch c.group {
	case "":
		if c.subject != ofScale {
			return perhaps
		}
		return bounds[c.scale].proven(c)
	case "all":
		return allProven(c.parts, bounds)
	case "none":
		return opposite(anyProven(c.parts, bounds))
	}
	return anyProven(c.parts, bounds)
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

func allProven(parts []*condition, bounds []Bounds) truth {
	found := always
	for _, part := range parts {
		switch part.proven(bounds) {
		case never:
			return never
		case perhaps:
			found = perhaps
		}
	}
	return found
}

func anyProven(parts []*condition, bounds []Bounds) truth {
	found := never
	for _, part := range parts {
		switch part.proven(bounds) {
		case always:
			return always
		case perhaps:
			found = perhaps
		}
	}
	return found
}

// proven compares all numbers between the bounds.
func (b Bounds) proven(c *condition) truth {
	held, failed := false, false
	starts := slices.Sorted(slices.Values(c.cuts()))
	look := func(n decimal.Decimal) {
		if b.Low != nil && n < *b.Low || b.High != nil && n > *b.High {
			return
		}
		holds := c.number(n)
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
	var c condition
	(&compiler{p: &Program{}}).clause(&c, quiz.Subject{Scale: "-"}, t)
	switch b.proven(&c) {
	case never:
		return false, true
	case always:
		return true, false
	}
	return true, true
}
