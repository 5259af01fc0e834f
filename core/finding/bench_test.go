package finding_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// forty makes a quiz of 40 questions with 8 answers on 3 scales, some branches and
// conditions, bands and a table.
func forty() quiztest.Maker {
	m := quiztest.New("cold", "warm", "hot")
	for _, k := range []string{"need", "budget", "haste"} {
		m.Scale(k, quiz.Sum)
	}
	for i := range 40 {
		var answers []string
		for a := range 8 {
			answers = append(answers, fmt.Sprintf("a%d need=%d budget=%d haste=%d", a, a, (a*i)%5, i%3))
		}
		q := m.Ask(fmt.Sprintf("q%d", i), quiz.Single, answers...)
		q.Required = i%4 != 0
		if i%6 == 5 {
			q.ShowWhen = is(fmt.Sprintf("q%d", i-1), "a2")
		}
	}
	for i := 0; i+2 < 40; i += 7 {
		m.Questions[fmt.Sprintf("q%d", i)].Answers["a3"].Then = &quiz.Then{Go: quiz.ToQuestion, To: fmt.Sprintf("q%d", i+2)}
	}
	m.Bands("need", "cold", "120=warm", "160=hot")
	return m
}

// BenchmarkEdit computes everything anew after one weight has changed: compiling,
// odds and findings of a 40-question quiz.
func BenchmarkEdit(b *testing.B) {
	q, err := quiz.Read(forty().Write())
	require.NoError(b, err)
	for i := 0; b.Loop(); i++ {
		q.Questions["q7"].Answers["a1"].Adds["need"] = decimal.FromInt(int64(i % 7))
		_, _, o := finding.Of(q, odds.Options{}, finding.Outside{})
		require.True(b, o.ExactOutcomes())
	}
}
