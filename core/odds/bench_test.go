package odds_test

import (
	"fmt"
	"math/big"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// tally makes a quiz that adds up one scale.
func tally(questions, answers int) quiztest.Maker {
	m := quiztest.New("cold", "warm", "hot")
	m.Scale("need", quiz.Sum)
	for i := range questions {
		var list []string
		for a := range answers {
			list = append(list, fmt.Sprintf("a%d need=%d", a, a))
		}
		m.Ask(fmt.Sprintf("q%d", i), quiz.Single, list...).Required = true
	}
	m.Bands("need", "cold", "60=warm", "100=hot")
	return m
}

// pulling makes a quiz whose answers pull one outcome by 2 and another by 1, and
// speak against a third.
func pulling(questions, answers, outcomes int) quiztest.Maker {
	r := rand.New(rand.NewPCG(7, 7))
	var keys []string
	for i := range outcomes {
		keys = append(keys, fmt.Sprintf("o%d", i))
	}
	m := quiztest.New(keys...)
	leader := quiz.Step{Kind: quiz.LeaderStep, Contenders: map[string]*quiz.Contender{}}
	for i, k := range keys {
		s := m.Scale("to_"+k, quiz.Sum)
		s.Kind, s.Outcome = quiz.Pull, k
		leader.Contenders["to_"+k] = &quiz.Contender{Order: float64(i)}
	}
	for i := range questions {
		var list []string
		for a := range answers {
			to := r.Perm(outcomes)
			list = append(list, fmt.Sprintf("a%d to_o%d=2 to_o%d=1 to_o%d=-1", a, to[0], to[1], to[2]))
		}
		m.Ask(fmt.Sprintf("q%d", i), quiz.Single, list...).Required = true
	}
	m.Decide(leader)
	return m
}

// rated makes a quiz of one grid.
func rated(rows, columns int) quiztest.Maker {
	m := quiztest.New("low", "high")
	m.Scale("sum", quiz.Sum)
	var list []string
	for c := range columns {
		list = append(list, fmt.Sprintf("c%d sum=%d", c, c))
	}
	q := m.Ask("grid", quiz.Grid, list...)
	q.Required, q.Rows = true, map[string]*quiz.Row{}
	for r := range rows {
		q.Rows[fmt.Sprintf("r%d", r)] = &quiz.Row{Order: float64(r), Label: "row", Reversed: r%2 == 1}
	}
	m.Bands("sum", "low", "14=high")
	return m
}

// numbers makes a quiz of choices and numbers that weigh by a factor: ten from 0 to
// 1000, or one from 0 to 10,000.
func numbers(choices, many int) quiztest.Maker {
	m := tally(choices, 5)
	high := int64(1000)
	if many == 1 {
		high = 10_000
	}
	for i := range many {
		factor, step := decimal.FromInt(int64(1+i%3))/2, decimal.One
		q := m.Ask(fmt.Sprintf("n%d", i), quiz.Number)
		q.Required = true
		q.Limits = &quiz.Limits{Low: quiztest.NumberBound(0), High: quiztest.NumberBound(high), Step: &step}
		q.Weigh = map[string]*quiz.Weighing{"need": {Factor: &factor}}
	}
	return m
}

// BenchmarkOdds tells the time, the most states that one question had, and the part
// of the outcomes that is exact: 1 or 0.
func BenchmarkOdds(b *testing.B) {
	for name, m := range map[string]quiztest.Maker{
		"40-questions-5-answers-1-scale":    tally(40, 5),
		"30-questions-branching-3-scales":   quiztest.Thirty(),
		"12-questions-4-answers-6-pulls":    pulling(12, 4, 6),
		"20-questions-5-answers-8-pulls":    pulling(20, 5, 8),
		"grid-of-7-rows-5-columns":          rated(7, 5),
		"40-questions-8-answers-one-weight": tally(40, 8),
		"40-questions-10-numbers":           numbers(30, 10),
		"5-questions-1-number-of-10001":     numbers(4, 1),
	} {
		b.Run(name, func(b *testing.B) {
			p := m.Compile(b)
			var o *odds.Odds
			for b.Loop() {
				var err error
				o, err = odds.Of(p, odds.Options{})
				require.NoError(b, err)
			}
			exact := 0.0
			if o.ExactOutcomes() {
				exact = 1
			}
			b.ReportMetric(float64(o.States), "states")
			b.ReportMetric(exact, "exact")
		})
	}
}

// BenchmarkEveryPassage walks the 4¹² passages of the quiz with 6 pulls one by one:
// what exactness costs otherwise.
func BenchmarkEveryPassage(b *testing.B) {
	p := pulling(12, 4, 6).Compile(b)
	o, err := odds.Of(p, odds.Options{})
	require.NoError(b, err)
	for b.Loop() {
		in := passage.Input{Answers: make(program.Answers, len(p.Questions))}
		w, n := passage.NewWalker(p), int64(0)
		var choose func(i int)
		choose = func(i int) {
			if i == len(p.Questions) {
				w.Walk(in)
				n++
				return
			}
			for a := range 4 {
				in.Answers[i] = program.Value{State: program.Given, Option: int16(a)}
				choose(i + 1)
			}
		}
		choose(0)
		require.Equal(b, o.Passages, big.NewInt(n))
	}
}
