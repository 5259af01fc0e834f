//go:build !race

package main

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// hostile are quizzes of up to a megabyte that nobody means: each would take minutes or
// gigabytes where something is worked out more often than it must be.
var hostile = map[string]func(m quiztest.Maker){
	"a chain of formulas": func(m quiztest.Maker) {
		choices(m, 5, 4)
		for i := 1; i < 600; i++ {
			m.Scale(fmt.Sprint("s", i), quiz.Formula).Formula = fmt.Sprintf(
				"(s%d + s%d * 2 - s%d) / 3",
				i-1,
				max(i-2, 0),
				max(i-3, 0),
			)
		}
		m.Bands("s599", "o1", "5=o2")
	},
	"nested conditions": func(m quiztest.Maker) {
		choices(m, 10, 4)
		for range 40 {
			m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "o1", When: nested(19, 12)})
		}
	},
	"a table of 1,000 rules": func(m quiztest.Maker) {
		choices(m, 12, 6)
		s := quiz.Step{Kind: quiz.TableStep, Columns: map[string]*quiz.Column{}, Rules: map[string]*quiz.TableRule{}}
		for i := range 12 {
			s.Columns[fmt.Sprint("c", i)] = &quiz.Column{
				Order:   float64(i),
				Subject: quiz.Subject{Answer: fmt.Sprint("q", i)},
			}
		}
		for i := range 1000 {
			s.Rules[fmt.Sprint("r", i)] = &quiz.TableRule{
				Order:   float64(i),
				Outcome: fmt.Sprint("o", i%3),
				Cells: map[string]*quiz.Test{
					fmt.Sprint("c", i%12):      {Op: quiz.Is, Value: quiz.Words(fmt.Sprint("a", i%6))},
					fmt.Sprint("c", (i/12)%12): {Op: quiz.Is, Value: quiz.Words(fmt.Sprint("a", i%5))}},
			}
		}
		m.Decide(s)
	},
	"1,000 questions": func(m quiztest.Maker) {
		choices(m, 1000, 4)
		m.Bands("s0", "o1", "900=o2")
		for i := 20; i < 1000; i++ {
			m.Questions[fmt.Sprint("q", i)].ShowWhen = &quiz.Condition{
				Any: []*quiz.Condition{isAnswer(i-13, 1), isAnswer(i-7, 2)},
			}
		}
	},
	"hundreds of picks": func(m quiztest.Maker) {
		choices(m, 1, 2)
		for i := range 12 {
			var answers []string
			for a := range 900 {
				answers = append(answers, fmt.Sprintf("a%d s0=%d", a, a%11))
			}
			q := m.Ask(fmt.Sprint("p", i), quiz.Several, answers...)
			q.Picks, q.Expect = &quiz.Picks{Min: 3, Max: 400}, map[string]decimal.Decimal{}
			for a := range 100 {
				q.Expect[fmt.Sprint("a", a)] = decimal.FromInt(int64(1 + a%60))
			}
		}
	},
	"words": func(m quiztest.Maker) {
		for i := range 60 {
			m.Ask(fmt.Sprint("w", i), quiz.ShortText)
		}
		for i := range 400 {
			var parts []*quiz.Condition
			for k := range 12 {
				word := strings.Map(func(r rune) rune { return 'a' + (r-'0')%10 }, fmt.Sprint(i*7919+k*104729))
				parts = append(
					parts,
					&quiz.Condition{
						Subject: quiz.Subject{Answer: fmt.Sprint("w", i%60)},
						Test:    quiz.Test{Op: quiz.Contains, Value: quiz.Words(word)},
					},
				)
			}
			m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "o1", When: &quiz.Condition{Any: parts}})
		}
	},
	"numbers": func(m quiztest.Maker) {
		choices(m, 1, 2)
		for i := range 40 {
			q := m.Ask(fmt.Sprint("n", i), quiz.Number)
			step, factor := decimal.One, decimal.FromInt(int64(1+i))
			q.Limits = &quiz.Limits{Low: quiztest.NumberBound(0), High: quiztest.NumberBound(10_000), Step: &step}
			q.Weigh = map[string]*quiz.Weighing{"s0": {Factor: &factor}}
		}
		for i := 1; i < 30; i++ {
			m.Scale(fmt.Sprint("s", i), quiz.Formula).Formula = fmt.Sprintf("n%d * n%d + s%d", i, i+1, i-1)
		}
		m.Bands("s20", "o1", "5000=o2")
	},
}

func choices(m quiztest.Maker, questions, answers int) {
	m.Scale("s0", quiz.Sum)
	for i := range questions {
		var list []string
		for a := range answers {
			list = append(list, fmt.Sprintf("a%d s0=%d", a, (a*7+i)%11))
		}
		m.Ask(fmt.Sprint("q", i), quiz.Single, list...).Required = true
	}
}

func isAnswer(question, answer int) *quiz.Condition {
	return &quiz.Condition{
		Subject: quiz.Subject{Answer: fmt.Sprint("q", question)},
		Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words(fmt.Sprint("a", answer))},
	}
}

func nested(deep, wide int) *quiz.Condition {
	if deep == 0 {
		return isAnswer(0, 1)
	}
	parts := []*quiz.Condition{nested(deep-1, wide)}
	for i := 1; i < wide; i++ {
		parts = append(parts, isAnswer((deep+i)%9, i%4))
	}
	return []*quiz.Condition{{All: parts}, {Any: parts}, {None: parts}}[deep%3]
}

// hostileFile writes one of the quizzes.
func hostileFile(t *testing.T, name string) string {
	m := quiztest.New("o0", "o1", "o2")
	hostile[name](m)
	document := m.Write()
	var short strings.Builder // without the spaces that keep its lines apart
	for _, line := range strings.Split(string(document), "\n") {
		short.WriteString(strings.TrimSpace(line))
	}
	require.Less(t, short.Len(), 1<<20, "%s is longer than a megabyte", name)
	return file(t, "quiz.json", short.String())
}

// What nobody means is told of all the same, without a claim that was not worked out, and
// in a few seconds: BenchmarkHostile measures them, and here a slow machine has many more.
func TestHostileDocuments(t *testing.T) {
	exact, all := forExact, forAll
	forExact, forAll = 20*exact, 20*all
	defer func() { forExact, forAll = exact, all }()
	for name := range hostile {
		t.Run(name, func(t *testing.T) {
			path := hostileFile(t, name)
			out, complaints, status := run(t, "", "check", path)
			assert.Less(t, status, 2, complaints)
			assert.NotContains(t, out, "odds-untold")
			out, complaints, status = run(t, "", "odds", path)
			require.Equal(t, 0, status, complaints)
			assert.Regexp(t, `(?m)^(exact|sampled over \d+ passages)`, out)
			_, complaints, status = run(t, "id\n1\n", "score", path)
			assert.Equal(t, 0, status, complaints)
		})
	}
}

// BenchmarkHostile measures check and odds of each, one after the other.
func BenchmarkHostile(b *testing.B) {
	for name := range hostile {
		b.Run(strings.ReplaceAll(name, " ", "-"), func(b *testing.B) {
			m := quiztest.New("o0", "o1", "o2")
			hostile[name](m)
			document := string(m.Write())
			for b.Loop() {
				for _, command := range []string{"check", "odds"} {
					c := root()
					c.SetArgs([]string{command, "-"})
					c.SetIn(strings.NewReader(document))
					c.SetOut(new(strings.Builder))
					_ = c.ExecuteContext(b.Context())
				}
			}
		})
	}
}
