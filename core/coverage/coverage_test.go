package coverage_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/coverage"
	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// table makes a quiz with a decision table. A rule is a cell per column and its
// outcome: "yes any no → fit", where "a|b" is one of them.
func table(t testing.TB, asked []string, rules ...[]string) *program.Program {
	m := quiztest.New("fit", "not")
	step := quiz.Step{Kind: quiz.TableStep, Columns: map[string]*quiz.Column{}, Rules: map[string]*quiz.TableRule{}}
	for i, answers := range asked {
		key := fmt.Sprintf("q%d", i)
		m.Ask(key, quiz.Single, split(answers)...).Required = true
		step.Columns[key] = &quiz.Column{Order: float64(i), Subject: quiz.Subject{Answer: key}}
	}
	for i, cells := range rules {
		r := &quiz.TableRule{Order: float64(i), Outcome: "fit", Cells: map[string]*quiz.Test{}}
		for k, cell := range cells {
			if cell != "any" {
				r.Cells[fmt.Sprintf("q%d", k)] = &quiz.Test{Op: quiz.IsOneOf, Value: words(cell)}
			}
		}
		step.Rules[fmt.Sprintf("r%d", i)] = r
	}
	m.Decide(step)
	return m.Compile(t)
}

func split(s string) []string {
	var list []string
	for _, r := range s {
		list = append(list, string(r))
	}
	return list
}

func words(letters string) *quiz.Value {
	var list []*quiz.Value
	for _, w := range split(letters) {
		list = append(list, quiz.Words(w))
	}
	return quiz.ListOf(list...)
}

// said writes what is left as rows of cells.
func said(p *program.Program, c *coverage.Coverage) []string {
	var list []string
	for _, r := range c.Left {
		s := ""
		for _, column := range c.Columns {
			s += p.Quiz.TestSentence(column.Subject, r.Cells[column.Key]) + "; "
		}
		list = append(list, s)
	}
	return list
}

// Common practice, no source: three questions with two answers have 8 combinations;
// with two rules that take three of them, five are left.
func TestThreeTwoAnswerQuestions(t *testing.T) {
	p := table(t, []string{"yn", "yn", "yn"}, []string{"y", "y", "any"}, []string{"n", "n", "n"})
	c, err := coverage.OfTable(p, "step_a", nil)
	require.NoError(t, err)
	assert.Equal(t, "8", c.All.String())
	assert.Equal(t, "3", c.Covered.String())
	assert.Equal(t, "0", c.Twice.String())
	assert.Equal(
		t,
		[]string{"is “n”; is “y”; any; ", "any; is “n”; is “y”; ", "is “y”; is “n”; any; "},
		said(p, c),
		"three rows for five combinations",
	)
}

// Three answers, three and two: 18, by a table of which one rule is hidden behind
// another and one says the half of it again.
func TestRulesThatCoverTwice(t *testing.T) {
	p := table(
		t,
		[]string{"abc", "abc", "xy"},
		[]string{"a", "any", "any"},
		[]string{"a", "b", "x"},
		[]string{"ab", "any", "x"},
	)
	c, err := coverage.OfTable(p, "step_a", nil)
	require.NoError(t, err)
	assert.Equal(t, "18", c.All.String())
	assert.Equal(t, "9", c.Covered.String())
	assert.Equal(t, "3", c.Twice.String())
	assert.Equal(t, []string{"6 0", "0 1", "3 3"}, []string{
		fmt.Sprint(
			c.Rules[0].New,
			" ",
			c.Rules[0].Again,
		), fmt.Sprint(c.Rules[1].New, " ", c.Rules[1].Again), fmt.Sprint(c.Rules[2].New, " ", c.Rules[2].Again)})
	assert.Equal(t, []string{"is “c”; any; any; ", "is one of “b”, “c”; any; is “y”; "}, said(p, c))
}

// Filling in the rows that are left covers everything, whatever the table; counting
// by boxes is as counting one by one.
func TestFilledInTablesLeaveNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var asked []string
		for range rapid.IntRange(1, 4).Draw(t, "columns") {
			asked = append(asked, rapid.SampledFrom([]string{"ab", "abc", "abcd"}).Draw(t, "answers"))
		}
		var rules [][]string
		for range rapid.IntRange(1, 5).Draw(t, "rules") {
			var cells []string
			for _, answers := range asked {
				some := answers[:rapid.IntRange(1, len(answers)).Draw(t, "some")]
				cells = append(
					cells,
					rapid.SampledFrom([]string{"any", some, answers[len(answers)-1:]}).Draw(t, "cell"),
				)
			}
			rules = append(rules, cells)
		}
		p := table(&testing.T{}, asked, rules...)
		c, err := coverage.OfTable(p, "step_a", nil)
		require.NoError(t, err)
		all, covered, twice := 0, 0, 0
		quiztest.Every(p, func(answers []string) {
			hits := 0
			for _, cells := range rules {
				hit := true
				for k, cell := range cells {
					hit = hit && (cell == "any" || contains(cell, answers[k][len("q0="):]))
				}
				if hit {
					hits++
				}
			}
			all++
			if hits > 0 {
				covered++
			}
			if hits > 1 {
				twice++
			}
		})
		require.Equal(t, fmt.Sprint(all, covered, twice), fmt.Sprint(c.All, " ", c.Covered, " ", c.Twice))
		filled := p.Quiz.Decision.Steps["step_a"]
		for i, r := range c.Left {
			filled.Rules[fmt.Sprintf("z%d", i)] = &quiz.TableRule{
				Order:   float64(100 + i),
				Outcome: "not",
				Cells:   r.Cells,
			}
		}
		p, err = program.Compile(p.Quiz)
		require.NoError(t, err)
		c, err = coverage.OfTable(p, "step_a", nil)
		require.NoError(t, err)
		require.Equal(t, c.All, c.Covered)
		require.Empty(t, c.Left)
	})
}

func contains(letters, letter string) bool {
	for _, r := range letters {
		if string(r) == letter {
			return true
		}
	}
	return false
}

// Scores in ranges, facts of the visitor and questions that can be passed by; rule
// steps are one table with a column for each thing that they ask for.
func TestRuleSteps(t *testing.T) {
	m := quiztest.New("a", "b")
	m.Scale("need", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples need=4", "pears need=2", "plums")
	clause := func(s quiz.Subject, op quiz.Op, v *quiz.Value) *quiz.Condition {
		return &quiz.Condition{Subject: s, Test: quiz.Test{Op: op, Value: v}}
	}
	need, crop, country := quiz.Subject{Scale: "need"}, quiz.Subject{Answer: "crop"}, quiz.Subject{Visitor: "country"}
	m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "a", When: &quiz.Condition{Any: []*quiz.Condition{
		clause(crop, quiz.IsNot, quiz.Words("apples")), clause(country, quiz.Is, quiz.Words("IE"))}}})
	m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "b", When: &quiz.Condition{None: []*quiz.Condition{
		clause(need, quiz.AtLeast, quiz.Amount(decimal.FromInt(3)))}}})
	p := m.Compile(t)
	low, high := decimal.Decimal(0), decimal.FromInt(4)
	c, err := coverage.OfRules(
		p,
		[]string{"step_a", "step_b"},
		func(string) coverage.Range { return coverage.Range{Low: &low, High: &high, Unit: decimal.One} },
	)
	require.NoError(t, err)
	assert.Equal(t, "16", c.All.String(), "four answers with passing by, Ireland or not, below 3 or not")
	assert.Equal(t, "15", c.Covered.String())
	require.Len(t, c.Left, 1)
	assert.Equal(t, "“crop” is “apples” and need is at least 3", m.Sentence(c.Condition(c.Left[0])))
}
