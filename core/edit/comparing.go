package edit

import (
	"strings"

	"omphalos/core/atlas"
	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// fresh returns a comparison of what is nearest: of follow-ups the outcome, else the last question before that can be
// compared, the outcome's scale, or the visitor's country.
func (w *whenPlan) fresh() *quiz.Condition {
	if w.path.Fits("/followUps/*/when") && len(w.q.Outcomes) > 0 {
		c := w.compare(quiz.Subject{Outcome: true})
		return &c
	}
	keys := w.q.QuestionKeys()
	for i := w.q.AskedBefore(w.path) - 1; i >= 0; i-- {
		asked := w.q.Questions[keys[i]]
		if asked.Kind == quiz.Interlude || asked.Kind == quiz.Grid && len(asked.Rows) == 0 ||
			asked.Kind.HasAnswers() && len(asked.Answers) == 0 {
			continue
		}
		s := quiz.Subject{Answer: keys[i]}
		if asked.Kind == quiz.Grid {
			s.Row = quiz.InOrder(asked.Rows)[0]
		}
		c := w.compare(s)
		return &c
	}
	c := w.compare(quiz.Subject{Visitor: "country"})
	return &c
}

// compare returns a comparison of a subject by the operator that fits it best.
func (w *whenPlan) compare(s quiz.Subject) quiz.Condition {
	c := quiz.Condition{Subject: s}
	c.Op = w.q.OpsFor(s)[0]
	w.fit(&c)
	return c
}

// fit brings what a comparison compares with into the form of its operator, keeping
// what can be kept.
func (w *whenPlan) fit(c *quiz.Condition) {
	var items []quiz.Item
	if c.Value != nil {
		items = c.Value.Items
	}
	if len(items) == 0 {
		items = w.first(c.Subject)
	}
	switch c.Op {
	case quiz.IsAnswered, quiz.IsSkipped:
		c.Value = nil
	case quiz.Between:
		if len(items) == 1 {
			items = append(items, items[0])
		}
		c.Value = &quiz.Value{Items: items[:2], List: true}
	case quiz.IsOneOf, quiz.Includes:
		c.Value = &quiz.Value{Items: items, List: true}
	default:
		c.Value = &quiz.Value{Items: items[:1]}
	}
}

// first is what a comparison of a subject begins with.
func (w *whenPlan) first(s quiz.Subject) []quiz.Item {
	asked := w.q.Ask(s.Answer)
	switch {
	case asked != nil && asked.Kind.HasAnswers() && len(asked.Answers) > 0:
		return []quiz.Item{{Text: quiz.InOrder(asked.Answers)[0], IsText: true}}
	case asked != nil && asked.Kind == quiz.Date, s.Visitor == "date":
		return []quiz.Item{{Text: "2027-01-01", IsText: true}}
	case s.Scale != "", asked != nil && asked.Kind.Numeric():
		return []quiz.Item{{}}
	case s.Outcome && len(w.q.Outcomes) > 0:
		return []quiz.Item{{Text: quiz.InOrder(w.q.Outcomes)[0], IsText: true}}
	case s.Standing:
		return []quiz.Item{{Text: string(quiz.Fit), IsText: true}}
	case asked != nil && asked.Kind == quiz.Consent:
		return []quiz.Item{{Text: "yes", IsText: true}}
	}
	return []quiz.Item{{IsText: true}}
}

// read reads what was typed to compare a subject with: a number for numbers, words
// for all else. Words that are no number are left for Check to refuse.
func (w *whenPlan) read(s quiz.Subject, typed string) *quiz.Value {
	asked := w.q.Ask(s.Answer)
	if s.Scale != "" || asked != nil && asked.Kind.Numeric() {
		text := strings.NewReplacer("−", "-", ",", ".").Replace(strings.TrimPrefix(strings.TrimSpace(typed), "+"))
		if d, err := decimal.Parse(text); err == nil {
			return quiz.Amount(d)
		}
	}
	if w.q.OfCountry(s) {
		if code, known := atlas.Code(typed); known {
			return quiz.Words(code)
		}
	}
	return quiz.Words(strings.TrimSpace(typed))
}
