package coverage

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/odds/explore"
	"omphalos/core/program"
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

// CasesOf splits what a subject can be into the fewest cases that the tests tell
// apart, unanswered the last if it is possible. Scores lie in the range. It tells
// false where there would be too many.
func CasesOf(p *program.Program, s quiz.Subject, tests []quiz.Test, within Range) ([]Case, bool) {
	clauses := p.ClausesOf(s, tests)
	var list []Case
	add := func(to Case, holds func(*program.Condition) bool) {
		to.Holds = make([]bool, len(clauses))
		for i, c := range clauses {
			to.Holds[i] = holds(c)
		}
		list = append(list, to)
	}
	subject := p.ClausesOf(s, []quiz.Test{{Op: quiz.IsAnswered}})[0]
	maySkip := true
	if subject.Question >= 0 {
		maySkip = p.Questions[subject.Question].Skippable()
	}
	switch subject.Subject {
	case program.OfOption:
		for o, a := range p.Questions[subject.Question].Answers {
			add(Case{Weight: 1, Answers: []string{a.Key}}, func(c *program.Condition) bool { return c.Option(int16(o)) })
		}
	case program.OfPicks:
		asked := askedOf(clauses)
		if len(asked) > mostAsked {
			return nil, false
		}
		q := &p.Questions[subject.Question]
		rest := len(q.Answers) - len(asked)
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
				if len(picks) > 0 && (rest > 0 || !other) && least <= q.MaxPicks && most >= q.MinPicks {
					add(Case{Weight: 1, Picks: true}, func(c *program.Condition) bool { return c.Picks(picks) })
				}
			}
		}
	case program.OfNumber, program.OfScale:
		if subject.Question >= 0 {
			q := &p.Questions[subject.Question]
			within = Range{Origin: q.Lattice.First, Unit: q.Lattice.Step}
			if !q.Lattice.Below {
				within.Low = &q.Lattice.First
			}
			if !q.Lattice.Above {
				within.High = &q.Lattice.Last
			}
		}
		maySkip = maySkip && subject.Subject == program.OfNumber
		for _, span := range within.splitAt(clauses) {
			at := decimal.Decimal(0)
			if span[0] != nil {
				at = *span[0]
			} else if span[1] != nil {
				at = *span[1]
			}
			add(Case{Weight: 1, From: span[0], To: span[1]}, func(c *program.Condition) bool { return c.Number(at) })
		}
	default:
		if slices.ContainsFunc(clauses, func(c *program.Condition) bool {
			return program.Ordering(c.Op) || c.Op == quiz.Contains || c.Op == quiz.Includes
		}) {
			return nil, false // no test can say what is left out
		}
		anything := make([]bool, len(clauses))
		for i, c := range clauses {
			anything[i] = c.Text("(another)")
		}
		add(Case{Weight: 1}, func(c *program.Condition) bool { return c.Text("(another)") })
		for _, v := range program.Variants(clauses) {
			if program.Fold(v) != "" {
				add(Case{Weight: 1, Words: []string{v}}, func(c *program.Condition) bool { return c.Text(v) })
			}
		}
		// Nothing known is as anything else, unless a test asks for just that.
		for i, c := range clauses {
			maySkip = c.WithoutAnswer() != anything[i] || i > 0 && maySkip
		}
	}
	if maySkip {
		add(Case{Weight: 1, Unanswered: true}, (*program.Condition).WithoutAnswer)
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

func askedOf(clauses []*program.Condition) []int16 {
	var asked []int16
	for _, c := range clauses {
		asked = append(asked, c.Options...)
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

// splitAt splits a range where clauses change their mind.
func (r Range) splitAt(clauses []*program.Condition) [][2]*decimal.Decimal {
	unit := max(r.Unit, 1)
	var starts []decimal.Decimal // of spans, but the first
	for _, c := range clauses {
		starts = append(starts, c.Cuts()...)
	}
	for i, n := range starts {
		starts[i] = decimal.Decimal(explore.Ceiling(int64(n-r.Origin), int64(unit)))*unit + r.Origin
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
