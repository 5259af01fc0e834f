package program

import (
	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A Course is where one passage stands: what has been given on it, and what that added
// up to. It serves one goroutine at a time.
type Course struct {
	Program *Program
	Answers Answers
	Visitor *Visitor
	Contact map[string]string             // what was typed into contact fields, by key
	Trace   Tracer                        // nil but for explanations
	Watch   func(c *Condition, held bool) // of conditions on the way; nil but for walks of all passages

	Seen        []bool            // by question
	Sums        []decimal.Decimal // by scale, without its start
	Counts      []int64           // questions and rows answered, for means
	Lows, Highs []decimal.Decimal // what could have been added, for percents
	Fed         []bool            // something other than 0 was added
	Outcome     int               // or None

	Scored   bool     // a condition has asked for a score
	deciding int      // position of the step that is looked at
	Part     int      // of it: the row, the band or the contender that named the outcome
	Ties     []uint16 // positions of the steps whose contenders were tied

	values []decimal.Decimal // of formulas, worked out once wherever the passage stands
	fresh  []bool            // which of them are
	Beyond bool              // a sum has left the range
}

// Course returns the state of a passage before it begins.
func (p *Program) Course() *Course {
	n := len(p.Scales)
	return &Course{
		Program: p,
		Seen:    make([]bool, len(p.Questions)),
		Sums:    make([]decimal.Decimal, n),
		Counts:  make([]int64, n),
		Lows:    make([]decimal.Decimal, n),
		Highs:   make([]decimal.Decimal, n),
		Fed:     make([]bool, n),
		values:  make([]decimal.Decimal, n),
		fresh:   make([]bool, n),
		Outcome: None,
	}
}

// Begin puts the passage of other answers at its beginning.
func (w *Course) Begin(answers Answers, v *Visitor, contact map[string]string, t Tracer) {
	w.Answers, w.Visitor, w.Contact, w.Trace, w.Outcome, w.Beyond = answers, v, contact, t, None, false
	w.Ties = w.Ties[:0]
	clear(w.Seen)
	clear(w.Sums)
	clear(w.Fed)
	if w.Program.Averages {
		clear(w.Counts)
		clear(w.Lows)
		clear(w.Highs)
	}
}

// Moved forgets the values of formulas: the passage stands elsewhere.
func (w *Course) Moved() {
	if w.Program.Formulas {
		clear(w.fresh)
	}
}

// Given returns the value of a question that is answered on the passage so far.
func (w *Course) Given(question int) *Value {
	if !w.Seen[question] || question >= len(w.Answers) || w.Answers[question].State != Given {
		return nil
	}
	return &w.Answers[question]
}

// Value returns what is known of a question's answer.
func (w *Course) Value(i int) *Value {
	if i < len(w.Answers) {
		return &w.Answers[i]
	}
	return &absent
}

var absent Value

// Ahead returns the first question from i on that shows, the number of questions where
// none does. Inside is the section that the passage stands in, or none: a section's
// condition is asked once, on entering it.
func (w *Course) Ahead(i, inside int) int {
	for i < len(w.Program.Questions) {
		q := &w.Program.Questions[i]
		if q.Section != inside {
			inside = q.Section
			if when := w.Program.Sections[inside].When; when != nil && !w.Asks(when) {
				if w.Trace != nil {
					w.Trace.PassedSection(inside)
				}
				i = w.Program.SectionEnd(inside)
				continue
			}
		}
		if q.When == nil || w.Asks(q.When) {
			return i
		}
		if w.Trace != nil {
			w.Trace.PassedQuestion(i)
		}
		i++
	}
	return i
}

// A Turn is where a passage goes on from a question.
type Turn struct {
	Next    int // the question that it comes to, or the number of questions
	End     End // Unfinished where it goes on
	Outcome int // that a then named, or none
	Rule    int // the then rule that led on, or none
}

// Leave returns where a passage goes on from question i, whose answer has been weighed:
// by the then of the answer, else by the first rule that holds, else to the next in order.
func (w *Course) Leave(i int, v *Value) Turn {
	q, from := &w.Program.Questions[i], i+1
	t, rule := w.onward(q, v)
	to := Turn{Next: len(w.Program.Questions), End: Unfinished, Outcome: None, Rule: rule}
	if t != nil {
		if w.Trace != nil {
			w.Trace.Then(t)
		}
		switch t.Way {
		case quiz.Decide:
			to.End = Decided
			return to
		case quiz.ToOutcome:
			to.End, to.Outcome = Named, t.Outcome
			return to
		case quiz.PartWays:
			to.End, to.Outcome = Parted, t.Outcome
			return to
		}
		from = max(from, t.Question)
	}
	if to.Next = w.Ahead(from, q.Section); to.Next == len(w.Program.Questions) {
		to.End = Decided
	}
	return to
}

// onward returns the then that applies and, where a rule says so, its position; nil for
// the next in order.
func (w *Course) onward(q *Question, v *Value) (t *Onward, rule int) {
	if t := q.OwnThen(v); t != nil {
		return t, None
	}
	for i := range q.Then {
		if w.Asks(q.Then[i].When) {
			return &q.Then[i].Then, i
		}
	}
	return nil, None
}

// Asks tells whether a condition holds where the passage stands, and lets it be watched.
func (w *Course) Asks(c *Condition) bool {
	if c == nil {
		return true
	}
	held := c.Holds(w)
	if w.Watch != nil {
		w.Watch(c, held)
	}
	return held
}

// SectionEnd returns the position after the section's last question.
func (p *Program) SectionEnd(s int) int {
	if s+1 < len(p.Sections) {
		return p.Sections[s+1].start
	}
	return len(p.Questions)
}

// standing returns the standing of the outcome, "" for none.
func (w *Course) standing() string {
	if w.Outcome == None {
		return ""
	}
	return string(w.Program.Quiz.Outcomes[w.Program.Outcomes[w.Outcome].Key].Standing)
}

// Land returns the position of the first landing whose condition holds.
func (w *Course) Land() int {
	landings := w.Program.Outcomes[w.Outcome].Landings
	for i := range landings {
		holds := w.Asks(landings[i].When)
		if w.Trace != nil {
			w.Trace.Landing(w.Outcome, i, holds)
		}
		if holds {
			return i
		}
	}
	return len(landings) - 1
}
