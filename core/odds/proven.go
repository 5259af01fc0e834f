package odds

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

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
	case "one":
		return oneProven(c.Parts, bounds)
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

// oneProven says what is known of a group of which exactly one part holds.
func oneProven(parts []*program.Condition, bounds []Bounds) truth {
	holds, open := 0, 0
	for _, part := range parts {
		switch provenOf(part, bounds) {
		case always:
			holds++
		case perhaps:
			open++
		}
	}
	switch {
	case holds > 1, holds+open == 0:
		return never
	case open == 0:
		return always
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
