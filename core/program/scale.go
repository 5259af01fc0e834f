package program

import (
	"cmp"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/formula"
	"omphalos/core/quiz"
)

func (c *compiler) scale(key string, s *quiz.Scale) {
	to := Scale{Key: key, Method: cmp.Or(s.Method, quiz.Sum), Start: s.Start, Decimals: 2, money: s.Kind == quiz.Money}
	if s.Kind == quiz.Money {
		to.Decimals = CurrencyPlaces(s.Currency)
	}
	if s.Decimals != nil {
		to.Decimals = *s.Decimals
	}
	if to.Method == quiz.Formula {
		c.p.Formulas = true
		// Check has compiled it before.
		to.Formula, _ = formula.Compile(s.Formula, c.names)
		for _, name := range to.Formula.Names() {
			if i, isScale := c.p.ScaleIndex[name]; isScale {
				to.Reads = append(to.Reads, Operand{i, -1})
			} else {
				to.Reads = append(to.Reads, Operand{-1, c.p.QuestionIndex[name]})
			}
		}
	}
	for _, k := range quiz.InOrder(s.Fees) {
		f := s.Fees[k]
		to.Fees = append(to.Fees, Fee{f.Name, f.Percent, f.Fixed})
	}
	c.p.Averages = c.p.Averages || to.Method == quiz.Mean || to.Method == quiz.Percent
	c.p.Scales = append(c.p.Scales, to)
}

// feeders finds what a formula comes from in the end.
func (c *compiler) feeders(i int) []Operand {
	s := &c.p.Scales[i]
	if s.Feeders != nil || len(s.Reads) == 0 {
		return s.Feeders
	}
	s.Feeders = []Operand{}
	for _, o := range s.Reads {
		found := []Operand{o}
		if o.Question < 0 && c.p.Scales[o.Scale].Method == quiz.Formula {
			found = c.feeders(o.Scale)
		}
		for _, f := range found {
			if !slices.Contains(s.Feeders, f) {
				s.Feeders = append(s.Feeders, f)
			}
		}
	}
	return s.Feeders
}

// A Scale is something that adds up.
type Scale struct {
	Key      string
	Method   quiz.Method
	money    bool
	Start    decimal.Decimal
	Decimals int
	Formula  *formula.Formula
	Reads    []Operand // of the formula, per name
	Feeders  []Operand // what it comes from in the end: numbers, and scales that add up
	Fees     []Fee
}

// An Operand of a formula is a scale, or a numeric question.
type Operand struct {
	Scale    int
	Question int // −1 for a scale
}

// A Fee on top of an amount of money: of it in percent, and a fixed amount.
type Fee struct {
	Name           string
	Percent, Fixed decimal.Decimal
}

// FeeOn returns one fee on a subtotal, rounded to the scale's decimals.
func (s *Scale) FeeOn(i int, subtotal decimal.Decimal) decimal.Decimal {
	f := s.Fees[i]
	return subtotal.Mul(f.Percent).Ratio(1, 100*decimal.One, s.Decimals).Add(f.Fixed.Round(s.Decimals))
}
