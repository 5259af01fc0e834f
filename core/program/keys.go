package program

import (
	"omphalos/core/quiz"
)

// Key returns the key of question i.
func (p *Program) Key(i int) string { return p.Questions[i].Key }

// Position returns the position of the question under key, −1 where there is none.
func (p *Program) Position(key string) int {
	if i, found := p.QuestionIndex[key]; found {
		return i
	}
	return -1
}

// ScaleKeys returns the keys of the scales, in the order of Result.Scores.
func (p *Program) ScaleKeys() []string { return quiz.InOrder(p.Quiz.Scales) }

// AnswerKeys returns the keys of question i's answers in their order.
func (p *Program) AnswerKeys(i int) []string {
	keys := make([]string, len(p.Questions[i].Answers))
	for j, a := range p.Questions[i].Answers {
		keys[j] = a.Key
	}
	return keys
}

// RowKeys returns the keys of question i's rows in their order.
func (p *Program) RowKeys(i int) []string {
	keys := make([]string, len(p.Questions[i].Rows))
	for j, r := range p.Questions[i].Rows {
		keys[j] = r.Key
	}
	return keys
}

// ContactKeys returns the keys of the contact section's fields in their order.
func (p *Program) ContactKeys() []string {
	keys := make([]string, len(p.Contact))
	for i, f := range p.Contact {
		keys[i] = f.Key
	}
	return keys
}

// A Then names an answer or a rule of a question that leads somewhere.
type Then struct{ Answer, Rule string }

// Thens returns where question i can lead on, answers first.
func (p *Program) Thens(i int) []Then {
	var list []Then
	for _, a := range p.Questions[i].Answers {
		if a.Then != nil {
			list = append(list, Then{Answer: a.Key})
		}
	}
	for _, k := range quiz.InOrder(p.Question(i).Then) {
		list = append(list, Then{Rule: k})
	}
	return list
}

// OutcomeAt returns the key of the outcome at a position.
func (p *Program) OutcomeAt(i int) string { return p.Outcomes[i].Key }

// LandingAt returns the key of a landing of the outcome at a position.
func (p *Program) LandingAt(outcome, landing int) string {
	return p.Outcomes[outcome].Landings[landing].Key
}

// StepKey returns the key of the step at a position of the decision.
func (p *Program) StepKey(i int) string { return p.Steps[i].Key }

// PartKey returns the key of a step's part, as Finish names it: the row of a table,
// the cut that begins a band ("" for the lowest), the scale that leads; "" of a rule.
func (p *Program) PartKey(step, part int) string {
	s := &p.Steps[step]
	switch s.Kind {
	case quiz.TableStep:
		return s.Rules[part].Key
	case quiz.LeaderStep:
		return p.Scales[s.Contenders[part].Scale].Key
	case quiz.BandsStep:
		if part > 0 {
			return p.Quiz.Decision.Steps[s.Key].CutKeys()[part-1]
		}
	}
	return ""
}

// ThenKey returns the key of the then rule at a position of question i.
func (p *Program) ThenKey(i, rule int) string {
	return quiz.InOrder(p.Question(i).Then)[rule]
}
