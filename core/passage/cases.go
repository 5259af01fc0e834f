package passage

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A Case is a part of what a subject of conditions can be that tests do not tell
// apart further.
type Case struct {
	Holds  []bool // by test
	Weight int64  // how many answers it has; 1 of numbers and words

	Unanswered bool
	Answers    []string         // of choices and rows of grids: keys
	From, To   *decimal.Decimal // of numbers: both ends included; nil is open
	Words      []string         // of facts and texts; none of them is anything else
	Picks      bool             // of several answers
}

// mostAsked bounds how many of several answers may be asked for, all their sets
// being told apart.
const mostAsked = 8

// Cases splits what a subject can be into the fewest cases that the tests tell
// apart, unanswered the last if it is possible. Scores lie in the range. It tells
// false where there would be too many.
func (p *Program) Cases(s quiz.Subject, tests []quiz.Test, within Range) ([]Case, bool) {
	clauses := p.clausesOf(s, tests)
	var list []Case
	add := func(to Case, holds func(*condition) bool) {
		to.Holds = make([]bool, len(clauses))
		for i, c := range clauses {
			to.Holds[i] = holds(c)
		}
		list = append(list, to)
	}
	subject := p.clausesOf(s, []quiz.Test{{Op: quiz.IsAnswered}})[0]
	maySkip := true
	if subject.question >= 0 {
		maySkip = p.questions[subject.question].skippable()
	}
	switch subject.subject {
	case ofOption:
		for o, a := range p.questions[subject.question].answers {
			add(Case{Weight: 1, Answers: []string{a.key}}, func(c *condition) bool { return c.option(int16(o)) })
		}
	case ofPicks:
		asked := askedOf(clauses)
		if len(asked) > mostAsked {
			return nil, false
		}
		q := &p.questions[subject.question]
		rest := len(q.answers) - len(asked)
		for set := range 1 << len(asked) {
			for _, other := range []bool{false, true} {
				var picks []int16
				for i, o := range asked {
					if set>>i&1 == 1 {
						picks = append(picks, o)
					}
				}
				if other {
					picks = append(picks, -1)
				}
				least, most := len(picks), len(picks) // with as many others as can be
				if other {
					most += rest - 1
				}
				if len(picks) > 0 && (rest > 0 || !other) && least <= q.maxPicks && most >= q.minPicks {
					add(Case{Weight: 1, Picks: true}, func(c *condition) bool { return c.picks(picks) })
				}
			}
		}
	case ofNumber, ofScale:
		if subject.question >= 0 {
			q := &p.questions[subject.question]
			within = Range{Origin: q.lattice.First, Unit: q.lattice.Step}
			if !q.lattice.Below {
				within.Low = &q.lattice.First
			}
			if !q.lattice.Above {
				within.High = &q.lattice.Last
			}
		}
		maySkip = maySkip && subject.subject == ofNumber
		for _, span := range within.split(clauses) {
			at := decimal.Decimal(0)
			if span[0] != nil {
				at = *span[0]
			} else if span[1] != nil {
				at = *span[1]
			}
			add(Case{Weight: 1, From: span[0], To: span[1]}, func(c *condition) bool { return c.number(at) })
		}
	default:
		if slices.ContainsFunc(clauses, func(c *condition) bool {
			return ordering(c.op) || c.op == quiz.Contains || c.op == quiz.Includes
		}) {
			return nil, false // no test can say what is left out
		}
		anything := make([]bool, len(clauses))
		for i, c := range clauses {
			anything[i] = c.text("(another)")
		}
		add(Case{Weight: 1}, func(c *condition) bool { return c.text("(another)") })
		for _, v := range variants(clauses) {
			if fold(v) != "" {
				add(Case{Weight: 1, Words: []string{v}}, func(c *condition) bool { return c.text(v) })
			}
		}
		// Nothing known is as anything else, unless a test asks for just that.
		for i, c := range clauses {
			maySkip = c.withoutAnswer() != anything[i] || i > 0 && maySkip
		}
	}
	if maySkip {
		add(Case{Weight: 1, Unanswered: true}, (*condition).withoutAnswer)
	}
	return together(list), true
}

// together puts cases together of which every test says the same.
func together(list []Case) []Case {
	var merged []Case
	for _, c := range list {
		i := slices.IndexFunc(merged, func(m Case) bool {
			return slices.Equal(m.Holds, c.Holds) && m.Unanswered == c.Unanswered &&
				(m.Answers == nil) == (c.Answers == nil) &&
				m.From == nil &&
				c.From == nil &&
				m.To == nil &&
				c.To == nil
		})
		if i < 0 {
			merged = append(merged, c)
			continue
		}
		merged[i].Answers = append(merged[i].Answers, c.Answers...)
		merged[i].Words = append(merged[i].Words, c.Words...)
		if !c.Picks && c.Answers == nil {
			continue
		}
		merged[i].Weight += c.Weight
	}
	return merged
}

func askedOf(clauses []*condition) []int16 {
	var asked []int16
	for _, c := range clauses {
		asked = append(asked, c.options...)
	}
	slices.Sort(asked)
	return slices.Compact(asked)
}

// A Range is where numbers lie: from Low to High, nil where open, all of them a whole
// number of Units from Origin where Unit is not 0.
type Range struct {
	Low, High    *decimal.Decimal
	Origin, Unit decimal.Decimal
}

// split splits a range where clauses change their mind.
func (r Range) split(clauses []*condition) [][2]*decimal.Decimal {
	unit := max(r.Unit, 1)
	var starts []decimal.Decimal // of spans, but the first
	for _, c := range clauses {
		starts = append(starts, c.cuts()...)
	}
	for i, n := range starts {
		starts[i] = decimal.Decimal(ceiling(int64(n-r.Origin), int64(unit)))*unit + r.Origin
	}
	slices.Sort(starts)
	starts = slices.DeleteFunc(slices.Compact(starts), func(n decimal.Decimal) bool {
		return r.Low != nil && n <= *r.Low || r.High != nil && n > *r.High
	})
	var spans [][2]*decimal.Decimal
	from := r.Low
	for _, n := range starts {
		to := n - unit
		spans = append(spans, [2]*decimal.Decimal{from, &to})
		from = &n
	}
	return append(spans, [2]*decimal.Decimal{from, r.High})
}
