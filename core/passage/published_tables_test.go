package passage_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// OMG, Decision Model and Notation 1.5, §8 (values from memory of the
// standard's examples): the applicant's risk rating, a unique table over an age
// in ranges and a medical history, and a discount with overlapping rules read
// with the hit policy "first".
func TestTablesOfDMN(t *testing.T) {
	m := quiztest.New("none", "high", "medium", "low")
	m.Ask("age", quiz.Number)
	m.Ask("history", quiz.Single, "good", "bad")
	test := func(op quiz.Op, v *quiz.Value) *quiz.Test { return &quiz.Test{Op: op, Value: v} }
	n := func(i int64) *quiz.Value { return quiz.Amount(decimal.FromInt(i)) }
	m.Decide(quiz.Step{Kind: quiz.TableStep,
		Columns: map[string]*quiz.Column{
			"age":     {Order: 1, Subject: quiz.Subject{Answer: "age"}},
			"history": {Order: 2, Subject: quiz.Subject{Answer: "history"}},
		},
		Rules: map[string]*quiz.TableRule{
			"r1": {
				Order: 1,
				Cells: map[string]*quiz.Test{
					"age":     test(quiz.MoreThan, n(60)),
					"history": test(quiz.Is, quiz.Words("good")),
				},
				Outcome: "medium",
			},
			"r2": {
				Order: 2,
				Cells: map[string]*quiz.Test{
					"age":     test(quiz.MoreThan, n(60)),
					"history": test(quiz.Is, quiz.Words("bad")),
				},
				Outcome: "high",
			},
			"r3": {
				Order:   3,
				Cells:   map[string]*quiz.Test{"age": test(quiz.Between, quiz.ListOf(n(25), n(60)))},
				Outcome: "medium",
			},
			"r4": {
				Order: 4,
				Cells: map[string]*quiz.Test{
					"age":     test(quiz.LessThan, n(25)),
					"history": test(quiz.Is, quiz.Words("good")),
				},
				Outcome: "low",
			},
			"r5": {
				Order: 5,
				Cells: map[string]*quiz.Test{
					"age":     test(quiz.LessThan, n(25)),
					"history": test(quiz.Is, quiz.Words("bad")),
				},
				Outcome: "medium",
			},
		}})
	p := m.Compile(t)
	for answers, want := range map[string]string{
		"age=60.1 history=good": "medium", "age=61 history=bad": "high", "age=60 history=bad": "medium",
		"age=25 history=good": "medium", "age=25 history=bad": "medium",
		"age=24.9 history=good": "low", "age=24 history=bad": "medium",
		"age=30": "medium", // the third rule asks for no history
		"age=61": "none",   // a gap: the decision goes on
		"":       "none",
	} {
		assert.Equal(t, want, quiztest.Walk(t, p, strings.Fields(answers)...).Outcome, answers)
	}

	// The hit policy "any": rules may overlap where they agree, so that their
	// order changes nothing.
	for _, orders := range [][2]float64{{1, 2}, {2, 1}} {
		overlapping := quiztest.New("declined", "approved")
		overlapping.Ask("vacation", quiz.Number)
		overlapping.Ask("months", quiz.Number)
		overlapping.Decide(quiz.Step{Kind: quiz.TableStep,
			Columns: map[string]*quiz.Column{
				"vacation": {Order: 1, Subject: quiz.Subject{Answer: "vacation"}},
				"months":   {Order: 2, Subject: quiz.Subject{Answer: "months"}},
			},
			Rules: map[string]*quiz.TableRule{
				"too_much": {
					Order:   orders[0],
					Cells:   map[string]*quiz.Test{"vacation": test(quiz.MoreThan, n(20))},
					Outcome: "declined",
				},
				"too_soon": {
					Order:   orders[1],
					Cells:   map[string]*quiz.Test{"months": test(quiz.LessThan, n(3))},
					Outcome: "declined",
				},
				"rest": {Order: 3, Outcome: "approved"},
			}})
		p := overlapping.Compile(t)
		for answers, want := range map[string]string{"vacation=21 months=2": "declined",
			"vacation=21 months=9": "declined", "vacation=20 months=2": "declined", "vacation=20 months=3": "approved"} {
			assert.Equal(t, want, quiztest.Walk(t, p, strings.Fields(answers)...).Outcome, answers)
		}
	}

	first := quiztest.New("zero", "five", "ten", "fifteen")
	first.Ask("customer", quiz.Single, "business", "private")
	first.Ask("amount", quiz.Number)
	first.Decide(quiz.Step{Kind: quiz.TableStep,
		Columns: map[string]*quiz.Column{
			"customer": {Order: 1, Subject: quiz.Subject{Answer: "customer"}},
			"amount":   {Order: 2, Subject: quiz.Subject{Answer: "amount"}},
		},
		Rules: map[string]*quiz.TableRule{
			"large": {
				Order: 1,
				Cells: map[string]*quiz.Test{
					"customer": test(quiz.Is, quiz.Words("business")),
					"amount":   test(quiz.AtLeast, n(10)),
				},
				Outcome: "fifteen",
			},
			"business": {
				Order:   2,
				Cells:   map[string]*quiz.Test{"customer": test(quiz.Is, quiz.Words("business"))},
				Outcome: "ten",
			},
			"any": {Order: 3, Outcome: "five"},
		}})
	p = first.Compile(t)
	for answers, want := range map[string]string{"customer=business amount=10": "fifteen",
		"customer=business amount=9": "ten", "customer=private amount=99": "five", "": "five"} {
		assert.Equal(t, want, quiztest.Walk(t, p, strings.Fields(answers)...).Outcome, answers)
	}
}
