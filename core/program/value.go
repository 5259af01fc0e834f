package program

import (
	"errors"
	"fmt"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
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
//
// Says is the same as a sentence for those who say it in other languages, with what is in it
// as Parts; "" where it has none.
type Refused struct {
	Question string
	Message  string
	Why      error
	Says     string
	Parts    []any
}

// sayings are what is wrong as sentences, by the words of Message.
var sayings = map[string]string{
	"choose one answer only":                  "Choose one answer only.",
	"write your own words beside this answer": "Write your own words beside this answer.",
	"write your own words beside the answer that asks for them": "Write your own words beside the answer " +
		"that asks for them.",
	"no day can be chosen any more":                        "No day can be chosen any more.",
	"is needed":                                            "This is needed.",
	"choose at least %s":                                   "Choose at least %d answers.",
	"choose at most %s":                                    "Choose at most %d answers.",
	"must be at most %s":                                   "This must be at most %s.",
	"must be at least %s":                                  "This must be at least %s.",
	"must be between %s and %s":                            "This must be between %s and %s.",
	"must be at most %s characters":                        "This must have at most %s characters.",
	"must be at least %s characters":                       "This must have at least %s characters.",
	"must be between %s and %s characters":                 "This must have between %s and %s characters.",
	"must have at most %s characters":                      "This must have at most %s characters.",
	"must go in steps of %s from %s":                       "This must go in steps of %s from %s.",
	"%q is not an e-mail address such as name@example.org": "“%s” is not an e-mail address such as name@example.org.",
	"%q is not a phone number with its country code, such as +353 1 234 5678": "“%s” is not a phone number " +
		"with its country code, such as +353 1 234 5678.",
}

// Sentences returns all sentences that a Refused can say, for those who put them into other
// languages.
func Sentences() []string {
	list := []string{notNumber, notDay}
	for _, sentence := range sayings {
		list = append(list, sentence)
	}
	slices.Sort(list)
	return slices.Compact(list)
}

const (
	notNumber = "“%s” is not a number such as 4 or 2.5."
	notDay    = "“%s” is not a day such as 2026-04-30."
)

// refusedFor says what is wrong with an answer, in the words of a format.
func refusedFor(question string, why error, format string, parts ...any) *Refused {
	r := &Refused{Question: question, Message: fmt.Sprintf(format, parts...), Why: why,
		Says: sayings[format], Parts: parts}
	for i, part := range r.Parts {
		if n, is := part.(counted); is {
			r.Parts[i] = n.n
		}
	}
	return r
}

// counted is a number of things as it is written in English.
type counted struct {
	n    int
	what string
}

func (c counted) String() string { return quiz.Count(c.n, c.what) }

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
