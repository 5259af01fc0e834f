package quiz

import (
	"cmp"
	"slices"

	"omphalos/core/decimal"
)

// A Scale is something that adds up: points, the count of a keyword, the pull
// of an outcome, an amount of money.
type Scale struct {
	Order    float64         `json:"order"`
	Name     string          `json:"name"`
	Kind     ScaleKind       `json:"kind"`
	Method   Method          `json:"method,omitempty"`
	Start    decimal.Decimal `json:"start,omitempty"`    // for keywords and pulls 0
	Decimals *int            `json:"decimals,omitempty"` // 0 to 4, of means, percents and formulas; nil: 2
	Unit     string          `json:"unit,omitempty"`
	Outcome  string          `json:"outcome,omitempty"`  // of a pull
	Formula  string          `json:"formula,omitempty"`  // where the method is formula
	Currency string          `json:"currency,omitempty"` // ISO 4217, of money
	Fees     map[string]*Fee `json:"fees,omitzero"`      // of money, on top
}

// ScaleKind is what a scale counts.
type ScaleKind string

// The kinds of scale.
const (
	Points  ScaleKind = "points"
	Keyword ScaleKind = "keyword"
	Pull    ScaleKind = "pull"
	Money   ScaleKind = "money"
)

// Method is how what was added becomes the scale's value.
type Method string

// The methods; an empty Method is Sum.
const (
	Sum     Method = "sum"
	Mean    Method = "mean"
	Percent Method = "percent"
	Formula Method = "formula"
)

// A Fee is put on top of a money scale: Percent of what was added up, and Fixed.
type Fee struct {
	Order   float64         `json:"order"`
	Name    string          `json:"name"`
	Percent decimal.Decimal `json:"percent,omitempty"`
	Fixed   decimal.Decimal `json:"fixed,omitempty"`
}

// A Weighing says how a number or a date weighs on one scale: by a factor, or
// by brackets. Reversed first turns the value around within its limits
// (low + high − value).
type Weighing struct {
	Factor   *decimal.Decimal    `json:"factor,omitempty"`
	Reversed bool                `json:"reversed,omitempty"`
	Brackets map[string]*Bracket `json:"brackets,omitzero"`
}

// InOrderOfBrackets returns the keys of brackets by where they start, the open one first.
func InOrderOfBrackets(brackets map[string]*Bracket) []string {
	start := func(k string) decimal.Decimal {
		if b := brackets[k]; b.From != nil {
			return b.From.Value()
		}
		return decimal.Min
	}
	keys := make([]string, 0, len(brackets))
	for k, b := range brackets {
		if b != nil {
			keys = append(keys, k)
		}
	}
	slices.SortFunc(keys, func(a, b string) int { return cmp.Or(cmp.Compare(start(a), start(b)), cmp.Compare(a, b)) })
	return keys
}

// A Bracket adds an amount to a scale for values from its lower end, included,
// to the next bracket's. The one without From takes what lies below the others;
// without such a one, nothing is added there.
type Bracket struct {
	From *Bound          `json:"from,omitempty"`
	Adds decimal.Decimal `json:"adds"`
}
