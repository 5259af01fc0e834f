package passage_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Donnellan et al., The Mini-IPIP Scales, Psychological Assessment
// 2006;18:192–203 (values from memory): 20 items on 1–5; items 6–10 and 15–20
// are reversed; a scale is the mean of every fifth item.
func TestMiniIPIP(t *testing.T) {
	scales := []string{"extraversion", "agreeableness", "conscientiousness", "neuroticism", "intellect"}
	reversed := func(item int) bool { return (item >= 6 && item <= 10) || item >= 15 }
	one := decimal.One
	five, low := decimal.FromInt(5), decimal.FromInt(1)

	ratings := quiztest.New("done")
	grid := quiztest.New("done")
	for _, s := range scales {
		ratings.Scale(s, quiz.Mean)
		grid.Scale(s, quiz.Mean)
	}
	columns := make([]string, 5)
	for i := range columns {
		columns[i] = fmt.Sprintf("c%d", i+1)
		for _, s := range scales {
			columns[i] += fmt.Sprintf(" %s=%d", s, i+1)
		}
	}
	g := grid.Ask("items", quiz.Grid, columns...)
	g.Rows = map[string]*quiz.Row{}
	for item := 1; item <= 20; item++ {
		scale := scales[(item-1)%5]
		q := ratings.Ask(fmt.Sprintf("i%d", item), quiz.Rating)
		q.Limits = &quiz.Limits{Low: quiz.NumberBound(low), High: quiz.NumberBound(five)}
		q.Weigh = map[string]*quiz.Weighing{scale: {Factor: &one, Reversed: reversed(item)}}
		g.Rows[fmt.Sprintf("i%d", item)] = &quiz.Row{
			Order:    float64(item),
			Label:    fmt.Sprint(item),
			Reversed: reversed(item),
			Scales:   []string{scale},
		}
	}
	p, pg := ratings.Compile(t), grid.Compile(t)
	for seed := range 40 {
		sums, counts := map[string]int{}, map[string]int{}
		var answers, cells []string
		for item := 1; item <= 20; item++ {
			value := 1 + (item*item*(seed+3)+seed)%5
			if (item+seed)%7 == 0 && seed > 20 {
				continue // not answered: the mean is over the others
			}
			answers = append(answers, fmt.Sprintf("i%d=%d", item, value))
			cells = append(cells, fmt.Sprintf("items.i%d=c%d", item, value))
			if reversed(item) {
				value = 6 - value
			}
			sums[scales[(item-1)%5]] += value
			counts[scales[(item-1)%5]]++
		}
		got, gotGrid := quiztest.Walk(t, p, answers...), quiztest.Walk(t, pg, cells...)
		for _, s := range scales {
			want := decimal.FromInt(int64(sums[s])).Ratio(1, decimal.FromInt(int64(counts[s])), 2)
			assert.Equal(t, want.String(), got.Scores[s], "%s of %v", s, answers)
		}
		assert.Equal(t, got.Scores, gotGrid.Scores, "asked as a grid it is the same")
	}
}

// Holland codes (RIASEC), public domain: the three highest of six counts form
// the code; here the first letter, with each way to settle a tie.
func TestHollandCode(t *testing.T) {
	letters := []string{"realistic", "investigative", "artistic", "social", "enterprising", "conventional"}
	build := func(ties *quiz.Ties) *program.Program {
		m := quiztest.New(append([]string{"nothing"}, append(letters, "between")...)...)
		s := quiz.Step{Kind: quiz.LeaderStep, Contenders: map[string]*quiz.Contender{}, Ties: ties}
		answers := []string{"none"}
		for i, l := range letters {
			m.Scale("n_"+l, quiz.Sum).Kind = quiz.Keyword
			s.Contenders["n_"+l] = &quiz.Contender{Order: float64(i), Outcome: l}
			answers = append(answers, l+" n_"+l+"=1")
		}
		for _, q := range []string{"one", "two", "three", "four"} {
			m.Ask(q, quiz.Single, answers...)
		}
		m.Decide(s)
		return m.Compile(t)
	}
	tied := []string{"one=social", "two=artistic", "three=artistic", "four=social"}
	for _, c := range []struct {
		ties *quiz.Ties
		want string
	}{
		{nil, "artistic"}, // the order of the step
		{&quiz.Ties{By: quiz.TieQuestion, Question: "one"}, "social"},
		{&quiz.Ties{By: quiz.TieQuestion, Question: "three"}, "artistic"},
		{&quiz.Ties{By: quiz.TieOutcome, Outcome: "between"}, "between"},
		{&quiz.Ties{By: quiz.TieNext}, "nothing"},
	} {
		p := build(c.ties)
		assert.Equal(t, c.want, quiztest.Walk(t, p, tied...).Outcome)
		assert.Equal(
			t,
			"social",
			quiztest.Walk(t, p, "one=social", "two=artistic", "three=realistic", "four=social").Outcome,
			"no tie",
		)
		assert.Equal(t, "nothing", quiztest.Walk(t, p, "one=none", "two=none").Outcome, "nothing was added")
	}
	// The three highest of six counts.
	p := build(nil)
	got := quiztest.Walk(t, p, "one=social", "two=social", "three=artistic", "four=realistic")
	code := slices.Clone(letters)
	slices.SortStableFunc(
		code,
		func(a, b string) int { return strings.Compare(got.Scores["n_"+b], got.Scores["n_"+a]) },
	)
	assert.Equal(t, []string{"social", "realistic", "artistic"}, code[:3])
}
