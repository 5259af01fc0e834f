package program

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Leads tells whether anything leads on from a question elsewhere than to the next.
func (q *Question) Leads() bool { return q.thens || q.Then != nil }

// OwnThen returns the then of the chosen answer, of several the first that has one.
func (q *Question) OwnThen(v *Value) *Onward {
	if !q.thens || v.State != Given {
		return nil
	}
	if q.Form == OfOne {
		return q.Answers[v.Option].Then
	}
	if q.Form == OfSome {
		for _, o := range v.Picks {
			if t := q.Answers[o].Then; t != nil {
				return t
			}
		}
	}
	return nil
}

// A Question is a question, or a field of the contact section. Walks read the first
// fields most; they lie side by side.
type Question struct {
	Section  int
	When     *Condition
	Answers  []Answer
	Then     []ThenRule
	Form     Form
	Required bool
	thens    bool // an answer has a then

	Key      string
	Kind     quiz.Kind
	options  map[string]int // positions of Answers by key
	Rows     []Row          // of grids
	RowIndex map[string]int

	MinPicks, MaxPicks int              // of several picks, of those who pick any
	low, high          *decimal.Decimal // limits; of words in characters
	Lattice            quiz.Lattice     // of numbers and dates: what can be given
	Wordings           *Wordings        // of answers in words

	Weighs []Weighing // of numbers and dates
	caps   []Addition // of several picks: the most that they add together
	Spans  []Span     // what it can add to each scale that it feeds

	Asked []decimal.Decimal // of numbers: where conditions change their mind
}

// A Form is what a question's Value holds: kinds of the same form weigh alike.
type Form uint8

const (
	OfNothing Form = iota // or of what never weighs
	OfOne                 // Option
	OfSome                // Picks
	OfGrid                // Picks, by row
	OfAmount              // Number
)

func formOf(k quiz.Kind) Form {
	switch {
	case k.Choice():
		return OfOne
	case k == quiz.Several:
		return OfSome
	case k == quiz.Grid:
		return OfGrid
	case k.Numeric(), k == quiz.Date:
		return OfAmount
	}
	return OfNothing
}

// An Answer of a choice, one of several, or the column of a grid.
type Answer struct {
	Key        string
	Adds       []Addition
	Then       *Onward
	writeIn    bool // words can be written in beside it
	needsWords bool // and must
}

// A Row of a grid.
type Row struct {
	Key   string
	Adds  [][]Addition // per column
	Feeds []int        // the scales that some column adds to
}

// An Addition puts an amount on a scale.
type Addition struct {
	Scale  int
	Amount decimal.Decimal
}

// A Span is the least and the most that a question can add to a scale.
type Span struct {
	Scale             int
	Low, High         decimal.Decimal
	bareLow, bareHigh decimal.Decimal // where it has been left unanswered, or a row of it
}

// A Weighing puts a number, or a day, on a scale: times a factor, or by brackets;
// turned around where it is reversed.
type Weighing struct {
	Scale    int
	Factor   decimal.Decimal
	reversed decimal.Decimal // low + high where turns is set
	Turns    bool
	Brackets []Bracket // rising; the first may be open below
}

// A Bracket adds the same for every number from its lower end to the next one.
type Bracket struct {
	from decimal.Decimal
	adds decimal.Decimal
}

// An Onward is a then: where an answer or a rule leads.
type Onward struct {
	Way      quiz.Way
	Question int // position to go on at
	Outcome  int
}

// A ThenRule leads on where its condition holds.
type ThenRule struct {
	When *Condition
	Then Onward
}

// Listed tells whether the answers to the question are listed one by one, see Values: of
// choices, ratings, stars and words.
func (q *Question) Listed() bool {
	return q.Form != OfSome && q.Form != OfGrid && (q.Form != OfAmount || q.Rated())
}

// Rated tells whether the values of a number have names: those of ratings and stars.
func (q *Question) Rated() bool { return q.Kind == quiz.Rating || q.Kind == quiz.Stars }

// Skippable tells whether a question can be passed by without an answer.
func (q *Question) Skippable() bool { return !q.Required && q.Kind != quiz.Interlude }

// Complete tells whether a required question has all that it needs.
func (q *Question) Complete(v *Value) bool {
	if v.State != Given {
		return false
	}
	return q.Form != OfGrid || !slices.Contains(v.Picks, -1)
}
