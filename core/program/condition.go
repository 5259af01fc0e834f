package program

import (
	"slices"

	"omphalos/core/atlas"
	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A Condition is a compiled quiz.Condition.
type Condition struct {
	Group string // "all", "any", "none", "one"; "" for a clause
	Parts []*Condition

	Subject  SubjectKind
	Question int    // or None
	Row      int    // of a grid, else None
	Scale    int    // of a score
	Fact     string // of the visitor; a contact field's key

	Op      quiz.Op
	Options []int16 // answers or outcomes that are compared with
	Numbers []decimal.Decimal
	Words   []string // folded
	numeric bool     // all words read as numbers

	Source *quiz.Condition // for explanations
}

// A SubjectKind is what a clause looks at.
type SubjectKind uint8

// The kinds of subjects.
const (
	OfOption  SubjectKind = iota // a choice, or a row of a grid
	OfPicks                      // several
	OfNumber                     // a number or a date
	OfText                       // an answer in words
	OfContact                    // a contact field
	OfScale
	OfFact
	OfOutcome
	OfStanding
)

func (c *compiler) condition(q *quiz.Condition) *Condition {
	if q == nil {
		return nil
	}
	to := &Condition{Source: q}
	var parts []*quiz.Condition
	if to.Group, parts = q.Group(); to.Group != "" {
		for _, part := range parts {
			to.Parts = append(to.Parts, c.condition(part))
		}
		return to
	}
	c.clause(to, q.Subject, q.Test)
	return to
}

func (c *compiler) clause(to *Condition, s quiz.Subject, t quiz.Test) {
	to.Op, to.Question, to.Row = t.Op, -1, -1
	if t.Value != nil {
		to.numeric = true
		for _, item := range t.Value.Items {
			number, err := decimal.Parse(item.String())
			to.numeric = to.numeric && err == nil
			to.Words = append(to.Words, Fold(c.word(s, item)))
			to.Numbers = append(to.Numbers, number)
		}
	}
	switch {
	case s.Scale != "":
		to.Subject, to.Scale = OfScale, c.p.ScaleIndex[s.Scale]
	case s.Visitor != "":
		to.Subject, to.Fact = OfFact, s.Visitor
	case s.Standing:
		to.Subject = OfStanding
	case s.Outcome:
		to.Subject = OfOutcome
		c.pickOut(to, t, c.p.outcomeIndex)
	default:
		c.ofAnswer(to, s, t)
	}
}

// word is what an item of a test says: of a country its code.
func (c *compiler) word(s quiz.Subject, item quiz.Item) string {
	if c.q != nil && c.q.OfCountry(s) {
		if code, known := atlas.Code(item.String()); known {
			return code
		}
	}
	return item.String()
}

func (c *compiler) ofAnswer(to *Condition, s quiz.Subject, t quiz.Test) {
	position, known := c.p.QuestionIndex[s.Answer]
	if !known {
		to.Subject, to.Fact = OfContact, s.Answer
		return
	}
	to.Question = position
	asked := &c.p.Questions[position]
	switch {
	case asked.Kind.Choice():
		to.Subject = OfOption
		c.pickOut(to, t, asked.options)
	case asked.Kind == quiz.Several:
		to.Subject = OfPicks
		c.pickOut(to, t, asked.options)
	case asked.Kind == quiz.Grid:
		to.Subject, to.Row = OfOption, asked.RowIndex[s.Row]
		c.pickOut(to, t, asked.options)
	case asked.Kind.Numeric():
		to.Subject = OfNumber
	case asked.Kind == quiz.Date:
		to.Subject = OfNumber
		c.readDays(to)
	default:
		to.Subject = OfText
	}
	if to.Subject == OfNumber {
		asked.Asked = append(asked.Asked, to.Cuts()...)
	}
	if to.Subject == OfText {
		asked.Wordings.clauses = append(asked.Wordings.clauses, to)
	}
}

// ClausesOf compiles tests of one subject, to look at what they say of it; the Program is
// left as it is.
func (p *Program) ClausesOf(s quiz.Subject, tests []quiz.Test) []*Condition {
	scratch := *p // compiling a condition leaves its numbers with the question
	scratch.Questions = slices.Clone(p.Questions)
	for i := range scratch.Questions {
		scratch.Questions[i].Wordings = &Wordings{}
	}
	c := compiler{q: p.Quiz, p: &scratch}
	clauses := make([]*Condition, len(tests))
	for i, t := range tests {
		clauses[i] = c.condition(&quiz.Condition{Subject: s, Test: t})
	}
	return clauses
}

// OfScore compiles a test of a score by itself, to look at what it says of numbers.
func OfScore(t quiz.Test) *Condition {
	var to Condition
	(&compiler{p: &Program{}}).clause(&to, quiz.Subject{Scale: "-"}, t)
	return &to
}

// pickOut turns the keys that a test compares with into positions.
func (c *compiler) pickOut(to *Condition, t quiz.Test, index map[string]int) {
	if t.Value == nil {
		return
	}
	for _, item := range t.Value.Items {
		if i, known := index[item.String()]; known {
			to.Options = append(to.Options, int16(i))
		}
	}
}

func (c *compiler) readDays(to *Condition) {
	for i, word := range to.Words {
		to.Numbers[i], _ = quiz.ParseDay(word) // Check has read it before
	}
}

// Holds evaluates the condition where the walk stands.
func (c *Condition) Holds(w *Course) bool {
	if c == nil {
		return true
	}
	switch c.Group {
	case "":
		return c.clauseHolds(w)
	case "any":
		for _, part := range c.Parts {
			if part.Holds(w) {
				return true
			}
		}
		return false
	case "none":
		for _, part := range c.Parts {
			if part.Holds(w) {
				return false
			}
		}
		return true
	case "one":
		held := 0
		for _, part := range c.Parts {
			if part.Holds(w) {
				held++
			}
		}
		return held == 1
	}
	for _, part := range c.Parts {
		if !part.Holds(w) {
			return false
		}
	}
	return true
}

func (c *Condition) clauseHolds(w *Course) bool {
	switch c.Subject {
	case OfOption, OfPicks, OfNumber, OfText:
		v := w.Given(c.Question)
		if v == nil || (c.Row >= 0 && v.Picks[c.Row] < 0) {
			return c.WithoutAnswer()
		}
		switch c.Subject {
		case OfOption:
			if c.Row >= 0 {
				return c.Option(v.Picks[c.Row])
			}
			return c.Option(v.Option)
		case OfPicks:
			return c.Picks(v.Picks)
		case OfNumber:
			return c.Number(v.Number)
		}
		return c.Text(v.Text)
	case OfScale:
		w.Scored = true
		return c.Number(w.Score(c.Scale))
	case OfOutcome:
		return c.Option(int16(w.Outcome))
	}
	text := w.Contact[c.Fact]
	switch c.Subject {
	case OfFact:
		text = w.Visitor.Fact(c.Fact)
	case OfStanding:
		text = w.standing()
	}
	if text == "" {
		return c.WithoutAnswer()
	}
	return c.Text(text)
}
