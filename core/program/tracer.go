package program

import (
	"omphalos/core/decimal"
	"omphalos/core/formula"
)

// A Tracer is told what happens on a walk, in the order in which it happens. Positions
// are those of the program. An ordinary walk has none.
type Tracer interface {
	PassedSection(section int)
	PassedQuestion(question int)
	Asked(question int, v *Value)
	Added(scale int, amount decimal.Decimal, row string) // by the question asked last
	Then(to *Onward)                                     // where it leads

	Formula(scale int, n formula.Notes)
	Reached(scale int, value decimal.Decimal)

	RuleHeld(s *Step)
	RuleFailed(s *Step)
	TableHit(s *Step, rule int)
	TableMissed(s *Step)
	Band(s *Step, Band int, score decimal.Decimal)
	LeaderUnfed(s *Step)
	LeaderBelow(s *Step, leader int, best decimal.Decimal)
	LeaderClose(s *Step, leader int, ahead decimal.Decimal)
	Leads(s *Step, leader int, best decimal.Decimal)
	Tied(w *Course, s *Step, scores []decimal.Decimal, best decimal.Decimal, outcome int)

	Landing(outcome, Landing int, taken bool)
}
