// Package passage takes one respondent through a quiz: which questions show, what the
// answers add, which outcome the decision names and where it lands; and why, what is shown
// there, what it costs, what was right.
//
// A passage is a pure function of the quiz, the answers and the visitor: no clock, no
// chance, nothing from outside. The rules are those of package program.
package passage

import (
	"time"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/saying"
)

// An Input is all that a passage depends on beside the quiz.
type Input struct {
	Answers program.Answers
	Visitor *program.Visitor
	Contact map[string]string // what was typed into contact fields, by key
	// Place says what a place of a table is called, "" for unknown. It serves words alone;
	// nil knows none.
	Place func(table, key string) string
	// Voice says the sentences of explanations and bills, and writes figures and days; nil says
	// them in English.
	Voice *saying.Voice
	// Zone returns the zone of a calendar's times; nil is that of the quiz for all.
	Zone func(calendar string) *time.Location
	// Stop ends the walk at the first question that is Absent; otherwise such
	// questions count as skipped.
	Stop bool
}

// A Result is where a passage has come to. Its slices belong to the Walker and
// are good until its next Walk.
type Result struct {
	End     program.End
	Next    int               // position of the question to ask, when unfinished
	Seen    []int             // positions of the questions on the passage, in order
	Missing []int             // of them, the required ones without a full answer
	Scores  []decimal.Decimal // by scale; so far, when unfinished
	Step    int               // position of the deciding step or Otherwise, when Decided
	Outcome int               // position
	Landing int               // position among the outcome's landings
	Contact bool              // the contact section applies
	Beyond  bool              // a score is beyond the range of decimals, and stands at its end
}

// A Walker walks passages of one program, reusing its memory. It serves one
// goroutine at a time.
type Walker struct {
	course program.Course
	result Result
	voice  *saying.Voice
}

// NewWalker returns a new Walker.
func NewWalker(p *program.Program) *Walker {
	w := &Walker{course: *p.Course()}
	w.result = Result{Seen: make([]int, 0, len(p.Questions)), Scores: make([]decimal.Decimal, len(p.Scales))}
	return w
}

// Walk is Walker.Walk with a Walker of its own.
func Walk(p *program.Program, in Input) *Result { return NewWalker(p).Walk(in) }

// Walk computes a passage. The Result is good until the next Walk.
func (w *Walker) Walk(in Input) *Result { return w.run(in, nil) }

func (w *Walker) run(in Input, t program.Tracer) *Result {
	w.voice = in.Voice
	w.course.Begin(in.Answers, in.Visitor, in.Contact, t)
	r := &w.result
	*r = Result{Seen: r.Seen[:0], Missing: r.Missing[:0], Scores: r.Scores}
	w.questions(in.Stop)
	w.finish()
	return r
}

// questions walks until the passage ends, or to the question to ask.
func (w *Walker) questions(stop bool) {
	r, c := &w.result, &w.course
	r.End = program.Decided
	// Most passages need no more of a choice than its sums, which can't overflow.
	quick := c.Trace == nil && c.Program.Bounded && !c.Program.Averages && !c.Program.Leads
	for i := c.Ahead(0, program.None); i < len(c.Program.Questions); {
		q, v := &c.Program.Questions[i], c.Value(i)
		if stop && v.State == program.Absent {
			r.End, r.Next = program.Unfinished, i
			return
		}
		c.Seen[i] = true
		c.Moved()
		r.Seen = append(r.Seen, i)
		if q.Required && !q.Complete(v) {
			r.Missing = append(r.Missing, i)
		}
		if quick && q.Form == program.OfOne {
			if v.State == program.Given {
				for _, a := range q.Answers[v.Option].Adds {
					c.Sums[a.Scale] += a.Amount
				}
			}
		} else {
			if c.Trace != nil {
				c.Trace.Asked(i, v)
			}
			c.Weigh(q, v)
		}
		if !q.Leads() {
			i = c.Ahead(i+1, q.Section)
			continue
		}
		to := c.Leave(i, v)
		if to.End != program.Unfinished {
			r.End, c.Outcome = to.End, to.Outcome
			return
		}
		i = to.Next
	}
}

// finish computes the scores and, at the end of the passage, the outcome and
// the landing.
func (w *Walker) finish() {
	r, c := &w.result, &w.course
	for i := range r.Scores {
		r.Scores[i] = c.Score(i)
		c.Beyond = c.Beyond || r.Scores[i] == decimal.Max || r.Scores[i] == decimal.Min
		if c.Trace != nil {
			c.Trace.Reached(i, r.Scores[i])
		}
	}
	r.Beyond = c.Beyond
	if r.End == program.Unfinished {
		return
	}
	if r.End == program.Decided {
		r.Step = c.Decide(r.Scores)
	}
	r.Outcome = c.Outcome
	r.Landing = c.Land()
	r.Contact = c.Program.Quiz.Contact != nil && r.End != program.Parted && c.Program.ContactWhen.Holds(c)
}

// Added returns what the answer to a question added to a scale on the Walker's last passage.
func (w *Walker) Added(question, scale int) decimal.Decimal { return w.course.AddedBy(question, scale) }

// AddedByRow is Added of one row of a grid, and of a question that is none for the row
// program.None; answered tells whether it was answered at all.
func (w *Walker) AddedByRow(question, row, scale int) (added decimal.Decimal, answered bool) {
	v := w.course.Given(question)
	switch {
	case v == nil:
		return 0, false
	case row == program.None:
		return w.course.AddedBy(question, scale), true
	case v.Picks[row] < 0:
		return 0, false
	}
	return program.AmountOf(w.course.Program.Questions[question].Rows[row].Adds[v.Picks[row]], scale), true
}

// Finish returns how the Walker's last passage ended.
func (w *Walker) Finish() program.Finish {
	r := &w.result
	f := program.Finish{End: r.End, Step: program.Otherwise, Outcome: r.Outcome, Landing: r.Landing}
	if r.End != program.Decided {
		return f
	}
	if f.Step = r.Step; f.Step != program.Otherwise {
		f.Part = w.course.Part
	}
	f.Tied = program.Tied(w.course.Ties)
	return f
}
