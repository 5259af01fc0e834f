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

// branched is a quiz of 40 questions with branches and conditions.
func branched() quiztest.Maker {
	m := quiztest.Forty()
	for i := range 40 {
		if i%6 == 5 {
			m.Questions[fmt.Sprintf("q%d", i)].ShowWhen = is(fmt.Sprintf("q%d", i-1), "a2")
		}
	}
	for i := 0; i+2 < 40; i += 7 {
		m.Questions[fmt.Sprintf("q%d", i)].Answers["a3"].Then = &quiz.Then{
			Go: quiz.ToQuestion,
			To: fmt.Sprintf("q%d", i+2),
		}
	}
	return m
}

// BenchmarkEdit computes everything anew after one weight has changed: compiling,
// odds and findings of a 40-question quiz.
func BenchmarkEdit(b *testing.B) {
	q, err := quiz.Read(branched().Write())
	require.NoError(b, err)
	for i := 0; b.Loop(); i++ {
		q.Questions["q7"].Answers["a1"].Adds["need"] = decimal.FromInt(int64(i % 7))
		_, _, o := finding.Of(q, odds.Options{}, finding.Outside{})
		require.True(b, o.ExactOutcomes())
	}
}
