package program

import (
	"errors"

	"omphalos/core/decimal"
)

// State tells whether a question has been answered.
type State uint8

// The states.
const (
	Absent  State = iota // not asked yet
	Skipped              // asked, and passed by without an answer
	Given
)

// A Value is what a respondent gave for one question. Which fields count
// depends on the question's kind.
type Value struct {
	State  State
	Option int16           // choices: position of the answer
	Picks  []int16         // several: positions, rising; grid: column per row, −1 for none
	Number decimal.Decimal // numbers; dates in days since 1970-01-01
	Text   string          // texts; the written-in words of a choice
}

// Answers holds a Value per question, in the order of Program.Questions. The zero
// Value is Absent.
type Answers []Value

// Reasons why an answer is refused.
var (
	ErrUnknown  = errors.New("is not one of the answers")
	ErrLimits   = errors.New("is outside the limits")
	ErrShape    = errors.New("has the wrong form")
	ErrQuestion = errors.New("is not a question of this quiz")
)

// A Refused answer says which question's, what is wrong in words for the
// respondent, and why by one of the errors above.
type Refused struct {
	Question string
	Message  string
	Why      error
}

// Error returns the question and the message.
func (r *Refused) Error() string { return r.Question + ": " + r.Message }

// Unwrap returns Why.
func (r *Refused) Unwrap() error { return r.Why }

// Typed is an answer as it comes from a form or a file: the chosen keys or the
// typed words, the words written in, and for grids the column per row.
type Typed struct {
	Values  []string
	WriteIn string
	Rows    map[string]string
}
