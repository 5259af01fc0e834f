package passage

import (
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A condition is a compiled quiz.Condition.
type condition struct {
	group string // "all", "any", "none"; "" for a clause
	parts []*condition

	subject  subject
	question int
	row      int
	scale    int
	fact     string

	op      quiz.Op
	options []int16 // answers or outcomes that are compared with
	numbers []decimal.Decimal
	words   []string // folded
	numeric bool     // all words read as numbers

	source *quiz.Condition // for explanations
}

type subject uint8

const (
	ofOption  subject = iota // a choice, or a row of a grid
	ofPicks                  // several
	ofNumber                 // a number or a date
	ofText                   // an answer in words
	ofContact                // a contact field
	ofScale
	ofFact
	ofOutcome
)

func (c *compiler) condition(q *quiz.Condition) *condition {
	if q == nil {
		return nil
	}
	to := &condition{source: q}
	var parts []*quiz.Condition
	if to.group, parts = q.Group(); to.group != "" {
		for _, part := range parts {
			to.parts = append(to.parts, c.condition(part))
		}
		return to
	}
	c.clause(to, q.Subject, q.Test)
	return to
}

func (c *compiler) clause(to *condition, s quiz.Subject, t quiz.Test) {
	to.op, to.question, to.row = t.Op, -1, -1
	if t.Value != nil {
		to.numeric = true
		for _, item := range t.Value.Items {
			number, err := decimal.Parse(item.String())
			to.numeric = to.numeric && err == nil
			to.words = append(to.words, fold(item.String()))
			to.numbers = append(to.numbers, number)
		}
	}
	switch {
	case s.Scale != "":
		to.subject, to.scale = ofScale, c.p.scaleIndex[s.Scale]
	case s.Visitor != "":
		to.subject, to.fact = ofFact, s.Visitor
	case s.Outcome:
		to.subject = ofOutcome
		c.pickOut(to, t, c.p.outcomeIndex)
	default:
		c.ofAnswer(to, s, t)
	}
}

func (c *compiler) ofAnswer(to *condition, s quiz.Subject, t quiz.Test) {
	position, known := c.p.questionIndex[s.Answer]
	if !known {
		to.subject, to.fact = ofContact, s.Answer
		return
	}
	to.question = position
	asked := &c.p.questions[position]
	switch {
	case asked.kind.Choice():
		to.subject = ofOption
		c.pickOut(to, t, asked.options)
	case asked.kind == quiz.Several:
		to.subject = ofPicks
		c.pickOut(to, t, asked.options)
	case asked.kind == quiz.Grid:
		to.subject, to.row = ofOption, asked.rowIndex[s.Row]
		c.pickOut(to, t, asked.options)
	case asked.kind.Numeric():
		to.subject = ofNumber
	case asked.kind == quiz.Date:
		to.subject = ofNumber
		c.readDays(to)
	default:
		to.subject = ofText
	}
	if to.subject == ofNumber {
		asked.asked = append(asked.asked, to.cuts()...)
	}
	if to.subject == ofText {
		asked.words.clauses = append(asked.words.clauses, to)
	}
}

// clausesOf compiles tests of one subject, to look at what they say of it; the Program is
// left as it is.
func (p *Program) clausesOf(s quiz.Subject, tests []quiz.Test) []*condition {
	scratch := *p // compiling a condition leaves its numbers with the question
	scratch.questions = slices.Clone(p.questions)
	for i := range scratch.questions {
		scratch.questions[i].words = &wordClasses{}
	}
	c := compiler{q: p.quiz, p: &scratch}
	clauses := make([]*condition, len(tests))
	for i, t := range tests {
		clauses[i] = c.condition(&quiz.Condition{Subject: s, Test: t})
	}
	return clauses
}

// pickOut turns the keys that a test compares with into positions.
func (c *compiler) pickOut(to *condition, t quiz.Test, index map[string]int) {
	if t.Value == nil {
		return
	}
	for _, item := range t.Value.Items {
		if i, known := index[item.String()]; known {
			to.options = append(to.options, int16(i))
		}
	}
}

func (c *compiler) readDays(to *condition) {
	for i, word := range to.words {
		to.numbers[i], _ = quiz.ParseDay(word) // Check has read it before
	}
}

func fold(s string) string { return strings.ToLower(strings.TrimSpace(s)) }

// holds evaluates the condition where the walk stands.
func (c *condition) holds(w *walk) bool {
	if c == nil {
		return true
	}
	switch c.group {
	case "":
		return c.clauseHolds(w)
	case "any":
		for _, part := range c.parts {
			if part.holds(w) {
				return true
			}
		}
		return false
	case "none":
		for _, part := range c.parts {
			if part.holds(w) {
				return false
			}
		}
		return true
	}
	for _, part := range c.parts {
		if !part.holds(w) {
			return false
		}
	}
	return true
}

func (c *condition) clauseHolds(w *walk) bool {
	switch c.subject {
	case ofOption, ofPicks, ofNumber, ofText:
		v := w.given(c.question)
		if v == nil || (c.row >= 0 && v.Picks[c.row] < 0) {
			return c.withoutAnswer()
		}
		switch c.subject {
		case ofOption:
			if c.row >= 0 {
				return c.option(v.Picks[c.row])
			}
			return c.option(v.Option)
		case ofPicks:
			return c.picks(v.Picks)
		case ofNumber:
			return c.number(v.Number)
		}
		return c.text(v.Text)
	case ofScale:
		w.scored = true
		return c.number(w.score(c.scale))
	case ofOutcome:
		return c.option(int16(w.outcome))
	}
	text := w.contact[c.fact]
	if c.subject == ofFact {
		text = w.visitor.Fact(c.fact)
	}
	if text == "" {
		return c.withoutAnswer()
	}
	return c.text(text)
}

// withoutAnswer compares with something that is not answered.
func (c *condition) withoutAnswer() bool { return c.op == quiz.IsNot || c.op == quiz.IsSkipped }

func (c *condition) option(o int16) bool {
	switch c.op {
	case quiz.Is, quiz.IsOneOf, quiz.Includes:
		return slices.Contains(c.options, o)
	case quiz.IsNot:
		return !slices.Contains(c.options, o)
	}
	return c.op == quiz.IsAnswered
}

func (c *condition) picks(picks []int16) bool {
	among := 0
	for _, o := range c.options {
		if slices.Contains(picks, o) {
			among++
		}
	}
	switch c.op {
	case quiz.Is:
		return among == len(c.options) && len(picks) == among
	case quiz.IsNot:
		return among != len(c.options) || len(picks) != among
	case quiz.IsOneOf:
		return among > 0
	case quiz.Includes:
		return among == len(c.options) && among > 0
	}
	return c.op == quiz.IsAnswered
}

func (c *condition) number(n decimal.Decimal) bool {
	switch c.op {
	case quiz.Is:
		return n == c.numbers[0]
	case quiz.IsNot:
		return n != c.numbers[0]
	case quiz.IsOneOf:
		return slices.Contains(c.numbers, n)
	case quiz.AtLeast:
		return n >= c.numbers[0]
	case quiz.AtMost:
		return n <= c.numbers[0]
	case quiz.MoreThan:
		return n > c.numbers[0]
	case quiz.LessThan:
		return n < c.numbers[0]
	case quiz.Between:
		return c.numbers[0] <= n && n <= c.numbers[1]
	}
	return c.op == quiz.IsAnswered
}

// text compares words, upper and lower case alike. Dates and times of day
// compare in their order, as their form (2026-04-30, 09:30) allows. More and
// less than numbers are only numbers.
func (c *condition) text(s string) bool {
	s = fold(s)
	switch c.op {
	case quiz.Is:
		return s == c.words[0]
	case quiz.IsNot:
		return s != c.words[0]
	case quiz.IsOneOf:
		return slices.Contains(c.words, s)
	case quiz.Includes, quiz.Contains:
		return !slices.ContainsFunc(c.words, func(word string) bool { return !strings.Contains(s, word) })
	case quiz.IsAnswered:
		return true
	case quiz.IsSkipped:
		return false
	}
	if c.numeric {
		n, err := decimal.Parse(s)
		return err == nil && c.number(n)
	}
	switch c.op {
	case quiz.AtLeast:
		return s >= c.words[0]
	case quiz.AtMost:
		return s <= c.words[0]
	case quiz.MoreThan:
		return s > c.words[0]
	case quiz.LessThan:
		return s < c.words[0]
	}
	return c.words[0] <= s && s <= c.words[1]
}
