// Package passage computes one respondent's way through a quiz: which
// questions show, what the answers add to the scales, which outcome the
// decision names and where it lands, and why.
//
// A quiz is compiled once into a Program, in which keys have become positions.
// A Program is read-only and serves any number of goroutines; walking it is a
// pure function of the quiz, the answers and the visitor: no clock, no chance,
// nothing outside.
package passage

import (
	"fmt"
	"slices"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/fillin"
	"omphalos/core/formula"
	"omphalos/core/quiz"
)

// A Program is a compiled quiz.
type Program struct {
	quiz      *quiz.Quiz
	questions []question
	sections  []section
	scales    []scale
	steps     []step
	otherwise int
	outcomes  []outcome

	questionIndex map[string]int
	scaleIndex    map[string]int
	outcomeIndex  map[string]int
	contactWhen   *condition
	contact       []question // the fields of the contact section
	averages      bool       // some scale is a mean or a percent
	leads         bool       // some step looks for a leader
	formulas      bool       // some scale is a formula
	bounded       bool       // no choice of answers takes a sum beyond the range
	zone          *time.Location
}

type section struct {
	key   string
	when  *condition
	start int // position of its first question, or of the first after it
}

type question struct {
	section  int
	when     *condition
	answers  []answer
	then     []thenRule
	form     form
	required bool
	thens    bool // an answer has a then

	key      string
	kind     quiz.Kind
	options  map[string]int
	rows     []row
	rowIndex map[string]int

	minPicks, maxPicks int
	low, high          *decimal.Decimal
	lattice            quiz.Lattice // of numbers and dates: what can be given
	words              *wordClasses // of answers in words

	weighs []weighing
	caps   []addition

	spans []span // what it can add to each scale that it feeds

	asked []decimal.Decimal // of numbers: where conditions change their mind
}

// A form is what a question's Value holds: kinds of the same form weigh alike.
type form uint8

const (
	ofNothing form = iota // or of what never weighs
	ofOne                 // Option
	ofSome                // Picks
	ofGrid                // Picks, by row
	ofAmount              // Number
)

func formOf(k quiz.Kind) form {
	switch {
	case k.Choice():
		return ofOne
	case k == quiz.Several:
		return ofSome
	case k == quiz.Grid:
		return ofGrid
	case k.Numeric(), k == quiz.Date:
		return ofAmount
	}
	return ofNothing
}

type answer struct {
	key     string
	adds    []addition
	then    *then
	writeIn bool
}

type row struct {
	key   string
	adds  [][]addition // per column
	feeds []int
}

type addition struct {
	scale  int
	amount decimal.Decimal
}

// A span is the least and the most that a question can add to a scale.
type span struct {
	scale             int
	low, high         decimal.Decimal
	bareLow, bareHigh decimal.Decimal // where it has been left unanswered, or a row of it
}

type weighing struct {
	scale    int
	factor   decimal.Decimal
	reversed decimal.Decimal // low + high where turns is set
	turns    bool
	brackets []bracket // rising; the first may be open below
}

type bracket struct {
	from decimal.Decimal
	adds decimal.Decimal
}

type then struct {
	way      quiz.Way
	question int // position to go on at
	outcome  int
}

type thenRule struct {
	when *condition
	then then
}

type scale struct {
	key      string
	method   quiz.Method
	money    bool
	start    decimal.Decimal
	decimals int
	formula  *formula.Formula
	reads    []operand // of the formula, per name
	feeders  []operand // what it comes from in the end: numbers, and scales that add up
	fees     []fee
}

// An operand of a formula is a scale, or a numeric question.
type operand struct {
	scale    int
	question int // −1 for a scale
}

type fee struct {
	name           string
	percent, fixed decimal.Decimal
}

type outcome struct {
	key      string
	landings []landing
}

type landing struct {
	key     string
	when    *condition
	address *fillin.Address
	blocks  []block
	named   []block
	tags    []block
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
// what would name an outcome that is not chosen names none.
func CompileDraft(q *quiz.Quiz) (*Program, error) {
	for _, p := range q.Check() {
		if !slices.Contains(unfinished, p.Code) {
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

// Quiz returns the quiz that was compiled; it must not be changed.
func (p *Program) Quiz() *quiz.Quiz { return p.quiz }

// Questions returns the number of questions.
func (p *Program) Questions() int { return len(p.questions) }

// Key returns the key of question i.
func (p *Program) Key(i int) string { return p.questions[i].key }

// Position returns the position of the question under key, −1 where there is none.
func (p *Program) Position(key string) int {
	if i, found := p.questionIndex[key]; found {
		return i
	}
	return -1
}

// Question returns the definition of question i.
func (p *Program) Question(i int) *quiz.Question { return p.quiz.Questions[p.questions[i].key] }

// Scales returns the keys of the scales, in the order of Result.Scores.
func (p *Program) Scales() []string { return quiz.InOrder(p.quiz.Scales) }

// AnswerKeys returns the keys of question i's answers in their order.
func (p *Program) AnswerKeys(i int) []string {
	keys := make([]string, len(p.questions[i].answers))
	for j, a := range p.questions[i].answers {
		keys[j] = a.key
	}
	return keys
}

// RowKeys returns the keys of question i's rows in their order.
func (p *Program) RowKeys(i int) []string {
	keys := make([]string, len(p.questions[i].rows))
	for j, r := range p.questions[i].rows {
		keys[j] = r.key
	}
	return keys
}

// Asks tells whether question i asks for anything; an interlude does not.
func (p *Program) Asks(i int) bool { return p.questions[i].kind != quiz.Interlude }

// Needs tells whether question i must be answered. An interlude never must.
func (p *Program) Needs(i int) bool { return p.questions[i].required }

// ContactKeys returns the keys of the contact section's fields in their order.
func (p *Program) ContactKeys() []string {
	keys := make([]string, len(p.contact))
	for i, f := range p.contact {
		keys[i] = f.key
	}
	return keys
}
