package program

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// TrueMinus writes a number below 0 with a minus sign instead of a hyphen.
func TrueMinus(digits string) string {
	if below, found := strings.CutPrefix(digits, "-"); found {
		return "−" + below
	}
	return digits
}

// Words returns the answer to question i as a person reads it: labels, joined
// by commas, the written-in words instead of the label that asks for them. ""
// without an answer.
func (p *Program) Words(i int, v Value) string {
	if v.State != Given {
		return ""
	}
	q, asked := &p.Questions[i], p.Question(i)
	label := func(o int16) string { return p.LabelOf(i, o, v) }
	switch {
	case q.Kind.Choice():
		return label(v.Option)
	case q.Kind == quiz.Several:
		words := make([]string, len(v.Picks))
		for j, o := range v.Picks {
			words[j] = label(o)
		}
		return strings.Join(words, ", ")
	case q.Kind == quiz.Grid:
		var words []string
		for r, o := range v.Picks {
			if o >= 0 {
				words = append(words, asked.Rows[q.Rows[r].Key].Label+": "+label(o))
			}
		}
		return strings.Join(words, "; ")
	case q.Kind == quiz.Date:
		return quiz.DayText(v.Number)
	case q.Kind == quiz.Appointment:
		if at, err := time.Parse(time.RFC3339, v.Text); err == nil {
			return at.In(p.zone).Format("Monday 2 January 2006, 15:04")
		}
	case q.Kind.Numeric():
		if asked.Limits != nil && asked.Limits.Unit != "" {
			return v.Number.Words() + " " + asked.Limits.Unit
		}
		return v.Number.Words()
	}
	return v.Text
}

// Zone returns the time zone of the quiz.
func (p *Program) Zone() *time.Location { return p.zone }

// LabelOf returns the label of an answer, or what was written in instead: of several answers,
// instead of the first that takes words.
func (p *Program) LabelOf(question int, option int16, v Value) string {
	q := &p.Questions[question]
	a := p.Question(question).Answers[q.Answers[option].Key]
	first := slices.IndexFunc(v.Picks, func(o int16) bool { return o >= 0 && q.Answers[o].writeIn })
	if a.WriteIn && v.Text != "" && (first < 0 || v.Picks[first] == option) {
		return v.Text
	}
	return a.Label
}

// ScoreText returns a value of scale i as a person reads it: means, percents,
// formulas and money with their decimals, and the unit or currency.
func (p *Program) ScoreText(i int, value decimal.Decimal) string {
	s, def := &p.Scales[i], p.Quiz.Scales[p.Scales[i].Key]
	text := value.String()
	if s.Method != quiz.Sum || s.money {
		text = value.Text(s.Decimals)
	}
	text = TrueMinus(text)
	unit := cmp.Or(def.Unit, def.Currency)
	if s.Method == quiz.Percent && unit == "" {
		unit = "%"
	}
	if unit == "" {
		return text
	}
	return text + " " + unit
}

// HasRight tells whether question i has a right answer.
func (p *Program) HasRight(i int) bool {
	for _, a := range p.Question(i).Answers {
		if a.Right {
			return true
		}
	}
	return false
}

// IsRight tells whether v answers question i rightly.
func (p *Program) IsRight(i int, v Value) bool {
	q, asked := &p.Questions[i], p.Question(i)
	if v.State != Given {
		return false
	}
	if q.Kind.Choice() {
		return asked.Answers[q.Answers[v.Option].Key].Right
	}
	if q.Kind != quiz.Several {
		return false
	}
	chosen := map[string]bool{}
	for _, o := range v.Picks {
		chosen[q.Answers[o].Key] = true
	}
	for k, a := range asked.Answers {
		if a.Right != chosen[k] {
			return false
		}
	}
	return true
}
