package quiz

import (
	"math"

	"omphalos/core/decimal"
)

// A Lattice is all values that a number, a rating, stars or a date can have: those
// within the limits that lie a whole number of steps from where steps are counted. It
// is what the respondent's page, a table of answers, the odds and the findings go by.
type Lattice struct {
	First, Last decimal.Decimal // of dates in days since 1970-01-01
	Step        decimal.Decimal // more than 0
	Below       bool            // no limit was set below: First is the end of what can be typed
	Above       bool            // none was set above
}

// The ends of what can be typed where no limit is set: a million million either way,
// and the years 1 to 9999.
const farthest = 1_000_000 * 1_000_000 * decimal.One

var (
	firstDay = -719162 * decimal.One // 0001-01-01
	lastDay  = 2932896 * decimal.One // 9999-12-31
)

// Lattice returns the values that a question of a numeric kind or a date can have.
// A number without a step goes in millionths, a date in days.
func (q *Question) Lattice() Lattice {
	low, high := q.Bounds()
	l := Lattice{First: -farthest, Last: farthest, Step: 1, Below: low == nil, Above: high == nil}
	origin := decimal.Decimal(0)
	switch q.Kind {
	case Date:
		l.First, l.Last, l.Step = firstDay, lastDay, decimal.One
	case Rating, Stars:
		l.Step = decimal.One
	}
	if q.Limits != nil && q.Limits.Step != nil && *q.Limits.Step > 0 {
		l.Step = *q.Limits.Step
	}
	if low != nil {
		l.First, origin = *low, *low
	}
	if high != nil {
		l.Last = *high
	}
	l.First, l.Last = l.up(l.First, origin), l.down(l.Last, origin)
	return l
}

// up returns the least value from n on, down the most up to n.
func (l Lattice) up(n, origin decimal.Decimal) decimal.Decimal { return -l.down(-n, -origin) }

func (l Lattice) down(n, origin decimal.Decimal) decimal.Decimal {
	off := (n - origin) % l.Step
	if off < 0 {
		off += l.Step
	}
	return n - off
}

// Open tells whether a limit is missing.
func (l Lattice) Open() bool { return l.Below || l.Above }

// Count returns how many values there are.
func (l Lattice) Count() int64 {
	if l.Last < l.First {
		return 0
	}
	return int64((l.Last-l.First)/l.Step) + 1
}

// At returns the n-th value from 0.
func (l Lattice) At(n int64) decimal.Decimal { return l.First + decimal.Decimal(n)*l.Step }

// Has tells whether a number is one of the values.
func (l Lattice) Has(n decimal.Decimal) bool {
	return n >= l.First && n <= l.Last && (n-l.First)%l.Step == 0
}

// Within returns the values from low to high, both included; Count tells whether
// there are any.
func (l Lattice) Within(low, high decimal.Decimal) Lattice {
	if low > l.First {
		l.First, l.Below = l.up(low, l.First), false
	}
	if high < l.Last {
		l.Last, l.Above = l.down(high, l.First), false
	}
	return l
}

// Nearest returns the place of the value that is nearest to a number.
func (l Lattice) Nearest(n decimal.Decimal) int64 {
	at := math.Round((n.Float64() - l.First.Float64()) / l.Step.Float64())
	return int64(min(max(at, 0), float64(l.Count()-1)))
}
