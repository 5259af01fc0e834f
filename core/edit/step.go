package edit

import (
	"encoding/json"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// freshStep returns a new step of the decision, filled in as far as the quiz tells.
func (t *plan) freshStep(kind quiz.StepKind) map[string]any {
	s := quiz.Step{Kind: kind}
	q, err := t.quiz()
	if err != nil {
		return map[string]any{"kind": string(kind)}
	}
	switch kind {
	case quiz.LeaderStep:
		s.Contenders = map[string]*quiz.Contender{}
		for i, k := range quiz.InOrder(q.Scales) {
			if scale := q.Scales[k]; scale.Kind == quiz.Pull || scale.Kind == quiz.Keyword {
				s.Contenders[k] = &quiz.Contender{Order: float64(i)}
			}
		}
	case quiz.TableStep:
		s.Columns, s.Rules = map[string]*quiz.Column{}, map[string]*quiz.TableRule{}
		for _, k := range q.QuestionKeys() {
			if q.Questions[k].Kind.Choice() && len(s.Columns) < 3 {
				s.Columns[k] = &quiz.Column{Order: float64(len(s.Columns)), Subject: quiz.Subject{Answer: k}}
			}
		}
	case quiz.RuleStep:
		return map[string]any{"kind": string(kind), "when": t.freshWhen("/decision/steps/new/when")}
	default:
		s.Kind = quiz.BandsStep
		for _, k := range quiz.InOrder(q.Scales) {
			if s.Scale == "" || q.Scales[k].Kind == quiz.Points && q.Scales[s.Scale].Kind != quiz.Points {
				s.Scale = k
			}
		}
		s.Cuts = map[string]*quiz.Cut{"cut_1": {At: decimal.One}}
	}
	b, _ := json.Marshal(s) // a Step can always be written
	var fresh map[string]any
	_ = readJSON(b, &fresh)
	return fresh
}

// freshColumn returns a column for the first question with answers that a table does
// not ask for yet, or for a scale.
func (t *plan) freshColumn(columns map[string]any) map[string]any {
	q, err := t.quiz()
	if err != nil {
		return map[string]any{}
	}
	asked := func(field, key string) bool {
		for _, c := range columns {
			if column, _ := c.(map[string]any); column[field] == key {
				return true
			}
		}
		return false
	}
	for _, k := range q.QuestionKeys() {
		if q.Questions[k].Kind.Choice() && !asked("answer", k) {
			return map[string]any{"answer": k}
		}
	}
	for _, k := range quiz.InOrder(q.Scales) {
		if !asked("scale", k) {
			return map[string]any{"scale": k}
		}
	}
	return map[string]any{"visitor": "country"}
}

// freshWhen returns a condition to begin with.
func (t *plan) freshWhen(path quiz.Pointer) *quiz.Condition {
	q, err := t.quiz()
	if err != nil {
		return nil
	}
	w := whenPlan{q: q, path: path}
	return &quiz.Condition{All: []*quiz.Condition{w.fresh()}}
}
