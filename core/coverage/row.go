package coverage

import (
	"math/bits"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// rows writes a box as rows of tests. What no test can say becomes "any": behind
// the rules that are there, such a row still takes only what they leave.
func (m *measure) rows(b box) []Row {
	list := []Row{{Cells: map[string]*quiz.Test{}, Count: m.count([]box{b})}}
	for i, set := range b {
		c := m.columns[i]
		tests := c.tests(set)
		var longer []Row
		for _, r := range list {
			for _, t := range tests {
				row := Row{Cells: map[string]*quiz.Test{}, Count: r.Count}
				for k, cell := range r.Cells {
					row.Cells[k] = cell
				}
				if t != nil {
					row.Cells[c.Key] = t
				}
				longer = append(longer, row)
			}
		}
		list = longer
	}
	return list
}

// tests says a set of cases in as few tests as it takes; nil is any.
func (c *Column) tests(set uint64) []*quiz.Test {
	chosen := make([]Case, 0, bits.OnesCount64(set))
	unanswered, all := false, true
	for i, k := range c.cases {
		switch in := set>>i&1 == 1; {
		case !in:
			all = false
		case k.Unanswered:
			unanswered = true
		default:
			chosen = append(chosen, k)
		}
	}
	if all {
		return []*quiz.Test{nil}
	}
	answered := len(c.cases)
	if c.cases[len(c.cases)-1].Unanswered {
		answered--
	}
	var tests []*quiz.Test
	switch {
	case len(chosen) == answered && answered > 0:
		tests = append(tests, &quiz.Test{Op: quiz.IsAnswered})
	case len(chosen) > 0 && (chosen[0].From != nil || chosen[0].To != nil):
		tests = append(tests, c.spans(set)...)
	case len(chosen) > 0 && chosen[0].Answers != nil:
		var keys []string
		for _, k := range chosen {
			keys = append(keys, k.Answers...)
		}
		tests = append(tests, oneOf(keys))
	case len(chosen) > 0:
		return c.words(chosen)
	}
	if unanswered {
		tests = append(tests, &quiz.Test{Op: quiz.IsSkipped})
	}
	return tests
}

func oneOf(words []string) *quiz.Test {
	if len(words) == 1 {
		return &quiz.Test{Op: quiz.Is, Value: quiz.Words(words[0])}
	}
	values := make([]*quiz.Value, len(words))
	for i, w := range words {
		values[i] = quiz.Words(w)
	}
	return &quiz.Test{Op: quiz.IsOneOf, Value: quiz.ListOf(values...)}
}

// words says facts and texts; "anything else" can be said where one word is left out.
func (c *Column) words(chosen []Case) []*quiz.Test {
	var words []string
	for _, k := range chosen {
		if k.Picks || len(k.Words) == 0 {
			return []*quiz.Test{nil}
		}
		words = append(words, k.Words...)
	}
	return []*quiz.Test{oneOf(words)}
}

// spans says runs of numbers that follow each other.
func (c *Column) spans(set uint64) []*quiz.Test {
	var tests []*quiz.Test
	in := func(i int) bool { return i < len(c.cases) && set>>i&1 == 1 && !c.cases[i].Unanswered }
	for i := range c.cases {
		if !in(i) || i > 0 && in(i-1) {
			continue
		}
		last := i
		for in(last + 1) {
			last++
		}
		from, to := c.cases[i].From, c.cases[last].To
		if i == 0 {
			from = nil // nothing is below
		}
		if last == len(c.cases)-1 || c.cases[last+1].Unanswered {
			to = nil
		}
		tests = append(tests, span(from, to))
	}
	return tests
}

// span says one run: up to below the next cut, where it ends just before one.
func span(from, to *decimal.Decimal) *quiz.Test {
	switch {
	case from == nil && to == nil:
		return &quiz.Test{Op: quiz.IsAnswered}
	case to == nil:
		return &quiz.Test{Op: quiz.AtLeast, Value: quiz.Amount(*from)}
	case from == nil:
		return &quiz.Test{Op: quiz.AtMost, Value: quiz.Amount(*to)}
	case *from == *to:
		return &quiz.Test{Op: quiz.Is, Value: quiz.Amount(*from)}
	}
	return &quiz.Test{Op: quiz.Between, Value: quiz.ListOf(quiz.Amount(*from), quiz.Amount(*to))}
}

// Condition returns the condition that a row's cells make together; nil where all
// are "any".
func (c *Coverage) Condition(r Row) *quiz.Condition {
	var parts []*quiz.Condition
	for _, column := range c.Columns {
		if t := r.Cells[column.Key]; t != nil {
			parts = append(parts, &quiz.Condition{Subject: column.Subject, Test: *t})
		}
	}
	switch len(parts) {
	case 0:
		return nil
	case 1:
		return parts[0]
	}
	return &quiz.Condition{All: slices.Clip(parts)}
}
