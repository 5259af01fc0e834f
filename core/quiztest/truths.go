package quiztest

import (
	"slices"
	"strconv"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// Tests calls f with every test that something makes of the answer to a question; what goes
// out after a passage changes nothing of it.
func Tests(q *quiz.Quiz, key string, f func(quiz.Test)) {
	var visit func(c *quiz.Condition)
	visit = func(c *quiz.Condition) {
		if c.Answer == key {
			f(c.Test)
		}
		_, parts := c.Group()
		for _, part := range parts {
			visit(part)
		}
	}
	q.EachCondition(func(at quiz.Pointer, c *quiz.Condition) {
		if !at.Within("/followUps") {
			visit(c)
		}
	})
	for _, s := range q.Decision.Steps {
		for k, c := range s.Columns {
			for _, r := range s.Rules {
				if cell := r.Cells[k]; cell != nil && c.Answer == key {
					f(*cell)
				}
			}
		}
	}
}

// texts returns a text of up to three letters a, b and c for each truth of the tests.
func texts(p *program.Program, i int) []string {
	all, from := []string{"a", "b", "c"}, 0
	for range 2 {
		n := len(all)
		for _, text := range all[from:] {
			for _, letter := range []string{"a", "b", "c"} {
				all = append(all, text+letter)
			}
		}
		from = n
	}
	var tests []quiz.Test
	Tests(p.Quiz, p.Key(i), func(t quiz.Test) { tests = append(tests, t) })
	told := map[string]bool{}
	return slices.DeleteFunc(all, func(text string) bool {
		sig := ""
		for _, t := range tests {
			sig += strconv.FormatBool(textHolds(t, text))
		}
		_, seen := told[sig]
		told[sig] = true
		return seen
	})
}

func textHolds(t quiz.Test, text string) bool {
	switch t.Op {
	case quiz.IsAnswered:
		return true
	case quiz.Is:
		return text == t.Value.Items[0].Text
	case quiz.IsNot:
		return text != t.Value.Items[0].Text
	case quiz.Contains:
		return strings.Contains(text, t.Value.Items[0].Text)
	}
	return false
}

// apart returns a number for each stretch of the numbers without a limit throughout
// which tests and brackets say the same.
func apart(p *program.Program, i int) []decimal.Decimal {
	q := p.Question(i)
	var tests []quiz.Test
	var points []decimal.Decimal
	Tests(p.Quiz, p.Key(i), func(t quiz.Test) {
		if tests = append(tests, t); t.Value != nil {
			points = append(points, t.Value.Items[0].Number)
		}
	})
	for _, w := range q.Weigh {
		for _, b := range w.Brackets {
			if b.From != nil {
				points = append(points, b.From.Value())
			}
		}
	}
	for _, n := range slices.Clone(points) {
		points = append(points, n-1, n+1)
	}
	points = append(points, -decimal.FromInt(900), q.Lattice().First, decimal.FromInt(900))
	slices.Sort(points)
	var list []decimal.Decimal
	last := "none"
	for _, n := range points {
		if !q.Lattice().Has(n) {
			continue
		}
		sig := ""
		for _, t := range tests {
			sig += strconv.FormatBool(numberHolds(t, n))
		}
		brackets := 0 // that it has come past
		for _, w := range q.Weigh {
			for _, b := range w.Brackets {
				if b.From == nil || n >= b.From.Value() {
					brackets++
				}
			}
		}
		sig += strconv.Itoa(brackets)
		if sig != last {
			list, last = append(list, n), sig
		}
	}
	return list
}

func numberHolds(t quiz.Test, n decimal.Decimal) bool {
	switch t.Op {
	case quiz.IsAnswered:
		return true
	case quiz.AtLeast:
		return n >= t.Value.Items[0].Number
	case quiz.LessThan:
		return n < t.Value.Items[0].Number
	case quiz.Is:
		return n == t.Value.Items[0].Number
	}
	return false
}
