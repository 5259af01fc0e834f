package program

import (
	"errors"
	"regexp"
	"slices"
	"strings"
	"time"

	"omphalos/core/atlas"
	"omphalos/core/decimal"
	"omphalos/core/excerpt"
	"omphalos/core/quiz"
)

type refusal func(why error, format string, args ...any) (Value, error)

const writeInLength = 2000

func (p *Program) readSeveral(q *Question, keys []string, writeIn string, refuse refusal) (Value, error) {
	v := Value{State: Given}
	for _, key := range keys {
		o, known := q.options[key]
		if !known {
			return refuse(ErrUnknown, "%q is not one of the answers", clip(key))
		}
		if !slices.Contains(v.Picks, int16(o)) {
			v.Picks = append(v.Picks, int16(o))
		}
		if q.Answers[o].writeIn {
			v.Text = excerpt.Bounded(clean(writeIn, false), writeInLength)
		}
	}
	for _, o := range v.Picks {
		if q.Answers[o].needsWords && strings.TrimSpace(v.Text) == "" {
			return refuse(ErrLimits, "write your own words beside the answer that asks for them")
		}
	}
	slices.Sort(v.Picks)
	switch n := len(v.Picks); {
	case n == 0:
		return Value{State: Skipped}, nil
	case n < q.MinPicks:
		return refuse(ErrLimits, "choose at least %s", counted{q.MinPicks, "answer"})
	case n > q.MaxPicks:
		return refuse(ErrLimits, "choose at most %s", counted{q.MaxPicks, "answer"})
	}
	return v, nil
}

func (p *Program) readGrid(q *Question, t Typed, refuse refusal) (Value, error) {
	v := Value{State: Skipped, Picks: make([]int16, len(q.Rows))}
	for i := range v.Picks {
		v.Picks[i] = -1
	}
	for row, column := range t.Rows {
		r, known := q.RowIndex[row]
		if !known {
			return refuse(ErrUnknown, "%q is not one of the rows", clip(row))
		}
		if column == "" {
			continue
		}
		o, known := q.options[column]
		if !known {
			return refuse(ErrUnknown, "%q is not one of the answers", clip(column))
		}
		v.Picks[r], v.State = int16(o), Given
	}
	return v, nil
}

func (q *Question) readTyped(s string, refuse refusal) (Value, error) {
	switch {
	case q.Kind == quiz.Date:
		day, err := quiz.ParseDay(s)
		if err != nil {
			return saying(notDay, clip(s))(refuse(ErrShape, "%v", err))
		}
		if low, high := q.outside(day); low || high {
			return q.refuseLimits(refuse, "", quiz.DayText)
		}
		if !q.Lattice.Has(day) {
			return refuse(
				ErrLimits,
				"must be a whole number of %s days from %s",
				q.Lattice.Step,
				quiz.DayText(q.Lattice.First),
			)
		}
		return Value{State: Given, Number: day}, nil
	case q.Kind.Numeric():
		return q.readNumber(s, refuse)
	case q.Kind == quiz.Consent:
		if s != "yes" {
			return Value{State: Skipped}, nil
		}
		return Value{State: Given, Text: "yes"}, nil
	case q.Kind == quiz.Email:
		if len(s) > 254 || !emailShape.MatchString(s) {
			return refuse(ErrShape, "%q is not an e-mail address such as name@example.org", clip(s))
		}
	case q.Kind == quiz.Phone:
		number, possible := Phone(s, "")
		if !possible {
			return refuse(ErrShape, "%q is not a phone number with its country code, such as +353 1 234 5678", clip(s))
		}
		return Value{State: Given, Text: number}, nil
	case q.Kind == quiz.Appointment:
		if at, err := time.Parse("2006-01-02T15:04", s); err == nil {
			s = at.Format(time.RFC3339) // as a browser's own field gives it
		} else if _, err := time.Parse(time.RFC3339, s); err != nil {
			return refuse(ErrShape, "%q is not a time such as 2026-04-30T09:30:00Z", clip(s))
		}
	case q.Kind == quiz.Interlude:
		return Value{State: Skipped}, nil
	case q.Kind == quiz.Country:
		if code, known := atlas.Code(s); known {
			return Value{State: Given, Text: code}, nil
		}
		return q.readText(s, refuse) // as it was written before countries were chosen
	default:
		return q.readText(s, refuse)
	}
	return Value{State: Given, Text: s}, nil
}

// emailShape is the form that HTML's e-mail field accepts, with a dot in the domain.
var emailShape = regexp.MustCompile(`^[a-zA-Z0-9.!#$%&'*+/=?^_{|}~-]+@[a-zA-Z0-9-]+(\.[a-zA-Z0-9-]+)+$`)

func (q *Question) readNumber(s string, refuse refusal) (Value, error) {
	n, err := decimal.Parse(s)
	if err != nil {
		n, _, err = decimal.Read(s, false) // as people type it
	}
	if err != nil && !errors.Is(err, decimal.ErrDoubt) {
		return saying(notNumber, clip(s))(refuse(ErrShape, "%v", err))
	}
	if low, high := q.outside(n); low || high {
		return q.refuseLimits(refuse, "", decimal.Decimal.Words)
	}
	if !q.Lattice.Has(n) {
		return q.refuseLattice(refuse, n)
	}
	return Value{State: Given, Number: n}, nil
}

// refuseLattice says why a number within the limits can't be given.
func (q *Question) refuseLattice(refuse refusal, n decimal.Decimal) (Value, error) {
	switch l := q.Lattice; {
	case n < l.First && l.Below:
		return refuse(ErrLimits, "is too far below 0 to be counted with")
	case n > l.Last && l.Above:
		return refuse(ErrLimits, "is too large to be counted with")
	case l.Below:
		return refuse(ErrLimits, "must go in steps of %s from %s", l.Step.String(), "0")
	default:
		return refuse(ErrLimits, "must go in steps of %s from %s", l.Step.String(), l.First.String())
	}
}

// How many characters may be typed: into a long text, a line, and what is no text.
const (
	longestText  = 20_000
	longestLine  = 2000
	longestOther = 200
)

func (q *Question) readText(s string, refuse refusal) (Value, error) {
	length := decimal.FromInt(int64(len([]rune(s))))
	most := decimal.FromInt(longestText)
	if q.Kind != quiz.LongText {
		most = decimal.FromInt(longestLine)
	}
	if low, high := q.outside(length); low || high {
		return q.refuseLimits(refuse, " characters", decimal.Decimal.Words)
	}
	if length > most {
		return refuse(ErrLimits, "must have at most %s characters", most)
	}
	return Value{State: Given, Text: s}, nil
}

func (q *Question) outside(n decimal.Decimal) (low, high bool) {
	return q.low != nil && n < *q.low, q.high != nil && n > *q.high
}

// refuseLimits says between which limits an answer must be, in some unit.
func (q *Question) refuseLimits(refuse refusal, unit string, text func(decimal.Decimal) string) (Value, error) {
	switch {
	case q.low == nil:
		return refuse(ErrLimits, "must be at most %s"+unit, text(*q.high))
	case q.high == nil:
		return refuse(ErrLimits, "must be at least %s"+unit, text(*q.low))
	}
	return refuse(ErrLimits, "must be between %s and %s"+unit, text(*q.low), text(*q.high))
}
