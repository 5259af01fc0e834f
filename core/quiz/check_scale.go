package quiz

import (
	"errors"
	"maps"
	"slices"
	"strings"

	"golang.org/x/text/currency"

	"omphalos/core/formula"
)

func (c *checker) scale(key string, s *Scale) {
	p := At("scales", key)
	c.key(p, key, true)
	if c.q.Ask(key) != nil {
		c.refuse("key", p, "the-key-is-a-questions", key)
	}
	c.text(p+"/name", s.Name, MaxTitle)
	if strings.TrimSpace(s.Name) == "" {
		c.note("empty", p+"/name", "the-scale-has-no")
	}
	c.text(p+"/unit", s.Unit, MaxTitle)
	c.amount(p+"/start", s.Start)
	c.oneOf(p+"/kind", string(s.Kind), string(Points), string(Keyword), string(Pull), string(Money))
	c.oneOf(p+"/method", string(s.Method), "", string(Sum), string(Mean), string(Percent), string(Formula))
	if s.Decimals != nil && (*s.Decimals < 0 || *s.Decimals > 4) {
		c.refuse("decimals", p+"/decimals", "a-scale-has-0")
	}
	if s.Kind == Money {
		if _, err := currency.ParseISO(s.Currency); err != nil {
			c.refuse("currency", p+"/currency", "is-not-a-currency", clip(s.Currency))
		}
	}
	if s.Kind == Pull && c.q.Outcomes[s.Outcome] == nil {
		c.note("unknown", p+"/outcome", "the-pull-is-of")
	}
	if (s.Kind == Keyword || s.Kind == Pull) && s.Start != 0 {
		c.refuse("start", p+"/start", "keyword-counts-and-pulls")
	}
	for _, k := range InOrder(s.Fees) {
		c.key(p.Join("fees", k), k, false)
		c.text(p.Join("fees", k, "name"), s.Fees[k].Name, MaxTitle)
		c.amount(p.Join("fees", k, "percent"), s.Fees[k].Percent)
		c.amount(p.Join("fees", k, "fixed"), s.Fees[k].Fixed)
	}
}

// formulas checks each formula, and that none leads back to itself.
func (c *checker) formulas() {
	reads := map[string][]string{}
	names := formula.NamesOf(c.q.FormulaNames())
	for _, key := range InOrder(c.q.Scales) {
		s := c.q.Scales[key]
		if s.Method != Formula {
			continue
		}
		f, err := formula.Compile(s.Formula, names)
		if err != nil {
			c.note("formula", At("scales", key, "formula"), "told-words", c.formulaWords(key, err))
			continue
		}
		reads[key] = f.Names()
	}
	for _, key := range slices.Sorted(maps.Keys(reads)) {
		if leadsTo(reads, key, key, map[string]bool{}) {
			c.note("circle", At("scales", key, "formula"), "the-formula-of-needs", key)
		}
	}
}

// formulaWords says what is wrong with a formula in the terms of the quiz.
func (c *checker) formulaWords(scale string, err error) string {
	var wrong *formula.Error
	if !errors.As(err, &wrong) {
		return err.Error()
	}
	if asked := c.q.Ask(wrong.Unknown); asked != nil {
		what := "words"
		switch {
		case asked.Kind == Grid:
			what = "a grid"
		case asked.Kind == Several:
			what = "several choices"
		case asked.Kind.HasAnswers():
			what = "a choice"
		case asked.Kind == Date:
			what = "a date"
		}
		return say(
			"is-it-has-no",
			wrong.Unknown,
			what,
			wrong.At+1,
		)
	}
	if wrong.Unknown != "" {
		for _, name := range c.q.FormulaNames() {
			if strings.EqualFold(name, wrong.Unknown) || name != scale && oneOff(name, wrong.Unknown) {
				return say("is-meant-perhaps", err, name)
			}
		}
	}
	return err.Error()
}

// oneOff tells whether two names differ by one letter that is other, more, or less, or
// by two that have changed places.
func oneOff(a, b string) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	i := 0
	for i < len(a) && a[i] == b[i] {
		i++
	}
	switch len(b) - len(a) {
	case 0:
		return i == len(a) || a[i+1:] == b[i+1:] ||
			i+1 < len(a) && a[i] == b[i+1] && a[i+1] == b[i] && a[i+2:] == b[i+2:]
	case 1:
		return a[i:] == b[i+1:]
	}
	return false
}

func leadsTo(reads map[string][]string, from, to string, seen map[string]bool) bool {
	for _, next := range reads[from] {
		if next == to {
			return true
		}
		if !seen[next] {
			seen[next] = true
			if leadsTo(reads, next, to, seen) {
				return true
			}
		}
	}
	return false
}

// FormulaNames returns what a formula may name: scales, and questions whose
// value is a number.
func (q *Quiz) FormulaNames() []string {
	names := InOrder(q.Scales)
	for _, k := range q.QuestionKeys() {
		if q.Questions[k].Kind.Numeric() {
			names = append(names, k)
		}
	}
	return names
}
