package passage

import (
	"omphalos/core/decimal"
	"omphalos/core/formula"
)

// A tracer is told what happens on a walk, in the order in which it happens. Positions
// are those of the program. An ordinary walk has none.
type tracer interface {
	passedSection(section int)
	passedQuestion(question int)
	asked(question int, v *Value)
	added(scale int, amount decimal.Decimal, row string) // by the question asked last
	then(to *then)                                       // where it leads

	formula(scale int, n formula.Notes)
	reached(scale int, value decimal.Decimal)

	ruleHeld(s *step)
	ruleFailed(s *step)
	tableHit(s *step, rule int)
	tableMissed(s *step)
	band(s *step, band int, score decimal.Decimal)
	leaderUnfed(s *step)
	leaderBelow(s *step, leader int, best decimal.Decimal)
	leaderClose(s *step, leader int, ahead decimal.Decimal)
	leads(s *step, leader int, best decimal.Decimal)
	tied(w *walk, s *step, scores []decimal.Decimal, best decimal.Decimal, outcome int)

	landing(outcome, landing int, taken bool)
}
