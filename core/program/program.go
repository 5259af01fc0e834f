// Package program is a quiz compiled: keys have become positions, conditions small
// trees, formulas exact evaluators. What a quiz says is stated here once: what can be
// answered, what an answer adds, where it leads, which conditions hold, what the
// decision names. A Course is where one passage stands by these rules; package passage
// takes one respondent along it, package explore all of them at once.
//
// A Program is read-only and serves any number of goroutines. There is no clock in it,
// no chance, and nothing from outside.
package program

import (
	"fmt"
	"slices"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A Program is a compiled quiz. It must not be changed.
type Program struct {
	Quiz      *quiz.Quiz // what was compiled
	Sections  []Section
	Questions []Question // of all sections, in their order
	Scales    []Scale
	Steps     []Step // of the decision, those that are not turned off
	Otherwise int    // the outcome where no step names one
	Outcomes  []Outcome

	FollowUps []FollowUp // that are not turned off

	Contact     []Question // the fields of the contact section
	ContactWhen *Condition

	QuestionIndex map[string]int // positions by key
	ScaleIndex    map[string]int
	outcomeIndex  map[string]int

	// What every walk can do without where nothing asks for it.
	Averages bool // some scale is a mean or a percent
	Leads    bool // some step looks for a leader
	Formulas bool // some scale is a formula
	Bounded  bool // no choice of answers takes a sum beyond the range

	zone *time.Location // of the quiz
}

// A Section holds the questions from start up to the next section's.
type Section struct {
	Key   string
	When  *Condition
	start int // position of its first question, or of the first after it
}

// Compile turns a quiz into a Program. A quiz that Check finds problems in is
// refused with the first of them.
func Compile(q *quiz.Quiz) (*Program, error) {
	if problems := q.Check(); len(problems) > 0 {
		return nil, fmt.Errorf("compiling the quiz: %w", problems[0])
	}
	c := newCompiler(q)
	c.compile()
	return c.p, nil
}

// unfinished are the codes of problems that leave nothing of a computation open.
var unfinished = []string{
	"empty",
	"address",
	"fillin",
	"signpost",
	"products",
	"table",
	"answers",
	"rows",
	"outcome",
	"leader",
}

// CompileDraft is Compile for a draft that may lack words, addresses, answers and
// outcomes of its decision's steps yet: its passages can be computed all the same, and
// what would name an outcome that is not chosen names none. The problems are those that
// Check finds in it.
func CompileDraft(q *quiz.Quiz, problems []quiz.Problem) (*Program, error) {
	for _, p := range problems {
		if !slices.Contains(unfinished, p.Code) && !slices.Contains(quiz.FollowUpProblems, p.Code) {
			return nil, fmt.Errorf("compiling the draft: %w", p)
		}
	}
	c := newCompiler(q)
	c.compile()
	return c.p, nil
}

// CompileReleased is Compile for a quiz that was released, and so had no problems then:
// what is looked for in drafts today does not take it off the air.
func CompileReleased(q *quiz.Quiz) (p *Program, err error) {
	defer func() {
		if fault := recover(); fault != nil {
			p, err = nil, fmt.Errorf("compiling a released quiz: %v", fault)
		}
	}()
	c := newCompiler(q)
	c.compile()
	return c.p, nil
}

// On returns the program of the quiz as it is asked on a day: itself, where today bounds no date.
func (p *Program) On(today decimal.Decimal) *Program {
	on := p.Quiz.On(today)
	if on == p.Quiz {
		return p
	}
	c := newCompiler(on)
	c.compile()
	return c.p
}

// Question returns the definition of question i.
func (p *Program) Question(i int) *quiz.Question { return p.Quiz.Questions[p.Questions[i].Key] }

// Asks tells whether question i asks for anything; an interlude does not.
func (p *Program) Asks(i int) bool { return p.Questions[i].Kind != quiz.Interlude }

// Needs tells whether question i must be answered. An interlude never must.
func (p *Program) Needs(i int) bool { return p.Questions[i].Required }
