package passage

import (
	"omphalos/core/quiz"
)

// A Then names an answer or a rule of a question that leads somewhere.
type Then struct{ Answer, Rule string }

// Thens returns where question i can lead on, answers first.
func (p *Program) Thens(i int) []Then {
	var list []Then
	for _, a := range p.questions[i].answers {
		if a.then != nil {
			list = append(list, Then{Answer: a.key})
		}
	}
	for _, k := range quiz.InOrder(p.Question(i).Then) {
		list = append(list, Then{Rule: k})
	}
	return list
}

// OutcomeAt returns the key of the outcome at a position.
func (p *Program) OutcomeAt(i int) string { return p.outcomes[i].key }

// LandingAt returns the key of a landing of the outcome at a position.
func (p *Program) LandingAt(outcome, landing int) string {
	return p.outcomes[outcome].landings[landing].key
}
