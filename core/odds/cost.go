package odds

import (
	"omphalos/core/program"
)

// Cost says about how much it takes to draw and to walk a passage, in steps such as
// adding one amount or comparing one answer.
func Cost(p *program.Program) int {
	cost := 1
	for i := range p.Questions {
		q := &p.Questions[i]
		each := len(q.Answers) * max(len(q.Rows), 1)
		switch {
		case q.Form == program.OfOne:
			each = 1
		case q.Form == program.OfSome:
			each *= 64 // each is drawn under the condition that the limits are met
		}
		adds := 0
		for _, a := range q.Answers {
			adds = max(adds, len(a.Adds))
		}
		if q.Form == program.OfSome {
			adds *= q.MaxPicks
		}
		cost += 4 + each + adds + len(q.Weighs) + len(q.Rows)*8 + costOf(q.When)
		for _, r := range q.Then {
			cost += costOf(r.When)
		}
	}
	for _, s := range p.Sections {
		cost += costOf(s.When)
	}
	for i := range p.Scales {
		if f := p.Scales[i].Formula; f != nil {
			cost += 2 * f.Nodes() // more often where conditions ask for it on the way
		}
		cost += 2
	}
	for i := range p.Steps {
		s := &p.Steps[i]
		cost += costOf(s.When) + len(s.Cuts) + 4*len(s.Contenders)
		for _, r := range s.Rules {
			for _, c := range r.Cells {
				cost += costOf(c)
			}
		}
	}
	return cost
}

func costOf(c *program.Condition) int {
	if c == nil {
		return 0
	}
	cost := 1 + len(c.Options) + len(c.Words)
	for _, part := range c.Parts {
		cost += costOf(part)
	}
	return cost
}
