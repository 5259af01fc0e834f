package odds_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// BenchmarkOdds tells the time and the most states that one question had.
func BenchmarkOdds(b *testing.B) {
	one := quiztest.New("cold", "warm", "hot")
	one.Scale("need", quiz.Sum)
	for i := range 40 {
		var answers []string
		for a := range 5 {
			answers = append(answers, fmt.Sprintf("a%d need=%d", a, a))
		}
		one.Ask(fmt.Sprintf("q%d", i), quiz.Single, answers...).Required = true
	}
	one.Bands("need", "cold", "60=warm", "100=hot")
	for name, m := range map[string]quiztest.Maker{"40-questions-5-answers-1-scale": one, "30-questions-branching-3-scales": quiztest.Thirty()} {
		b.Run(name, func(b *testing.B) {
			p := m.Compile(b)
			states := 0
			for b.Loop() {
				o, err := odds.Of(p, nil, odds.MostSteps)
				require.NoError(b, err)
				states = o.States
			}
			b.ReportMetric(float64(states), "states")
		})
	}
}
