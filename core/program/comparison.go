package program

import (
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Fold returns words as they are compared: upper and lower case alike.
func Fold(s string) string { return strings.ToLower(strings.TrimSpace(s)) }

// WithoutAnswer compares with something that is not answered.
func (c *Condition) WithoutAnswer() bool { return c.Op == quiz.IsNot || c.Op == quiz.IsSkipped }

// Option tells what a clause says of an answer, or an outcome, by its position.
func (c *Condition) Option(o int16) bool {
	switch c.Op {
	case quiz.Is, quiz.IsOneOf, quiz.Includes:
		return slices.Contains(c.Options, o)
	case quiz.IsNot:
		return !slices.Contains(c.Options, o)
	}
	return c.Op == quiz.IsAnswered
}

// Picks tells what a clause says of several picks.
func (c *Condition) Picks(picks []int16) bool {
	among := 0
	for _, o := range c.Options {
		if slices.Contains(picks, o) {
			among++
		}
	}
	switch c.Op {
	case quiz.Is:
		return among == len(c.Options) && len(picks) == among
	case quiz.IsNot:
		return among != len(c.Options) || len(picks) != among
	case quiz.IsOneOf:
		return among > 0
	case quiz.Includes:
		return among == len(c.Options) && among > 0
	}
	return c.Op == quiz.IsAnswered
}

// Number tells what a clause says of a number, a day or a score.
func (c *Condition) Number(n decimal.Decimal) bool {
	switch c.Op {
	case quiz.Is:
		return n == c.Numbers[0]
	case quiz.IsNot:
		return n != c.Numbers[0]
	case quiz.IsOneOf:
		return slices.Contains(c.Numbers, n)
	case quiz.AtLeast:
		return n >= c.Numbers[0]
	case quiz.AtMost:
		return n <= c.Numbers[0]
	case quiz.MoreThan:
		return n > c.Numbers[0]
	case quiz.LessThan:
		return n < c.Numbers[0]
	case quiz.Between:
		return c.Numbers[0] <= n && n <= c.Numbers[1]
	}
	return c.Op == quiz.IsAnswered
}

// Text compares words, upper and lower case alike. Dates and times of day
// compare in their order, as their form (2026-04-30, 09:30) allows. More and
// less than numbers are only numbers.
func (c *Condition) Text(s string) bool {
	s = Fold(s)
	switch c.Op {
	case quiz.Is:
		return s == c.Words[0]
	case quiz.IsNot:
		return s != c.Words[0]
	case quiz.IsOneOf:
		return slices.Contains(c.Words, s)
	case quiz.Includes, quiz.Contains:
		return !slices.ContainsFunc(c.Words, func(word string) bool { return !strings.Contains(s, word) })
	case quiz.IsAnswered:
		return true
	case quiz.IsSkipped:
		return false
	}
	if c.numeric {
		n, err := decimal.Parse(s)
		return err == nil && c.Number(n)
	}
	switch c.Op {
	case quiz.AtLeast:
		return s >= c.Words[0]
	case quiz.AtMost:
		return s <= c.Words[0]
	case quiz.MoreThan:
		return s > c.Words[0]
	case quiz.LessThan:
		return s < c.Words[0]
	}
	return c.Words[0] <= s && s <= c.Words[1]
}

// Cuts returns where a comparison with numbers changes its mind: it says the same of
// all numbers from one of them to below the next.
func (c *Condition) Cuts() []decimal.Decimal {
	var starts []decimal.Decimal
	for i, n := range c.Numbers {
		switch c.Op {
		case quiz.AtLeast, quiz.LessThan:
			starts = append(starts, n)
		case quiz.AtMost, quiz.MoreThan:
			starts = append(starts, n+1)
		case quiz.Between:
			starts = append(starts, n+decimal.Decimal(i))
		default:
			starts = append(starts, n, n+1)
		}
	}
	return starts
}

// Compares tells whether a clause looks at the words themselves.
func Compares(c *Condition) bool { return c.Op != quiz.IsAnswered && c.Op != quiz.IsSkipped }

// SignatureOf is equal for texts of which all clauses say the same.
func SignatureOf(clauses []*Condition, text string) string {
	sig := make([]byte, len(clauses))
	for i, c := range clauses {
		if c.Text(text) {
			sig[i] = 1
		}
	}
	return string(sig)
}

// Ordering tells whether an operator asks for an order.
func Ordering(op quiz.Op) bool {
	switch op {
	case quiz.AtLeast, quiz.AtMost, quiz.MoreThan, quiz.LessThan, quiz.Between:
		return true
	}
	return false
}
