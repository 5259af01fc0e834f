package odds_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/expect"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiztest"
)

// The odds are those of going on from each answer to a question, by how often it is given:
// the law of total probability.
func TestOddsFromHereAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.Draw(t, quiztest.Limits{Questions: 4, Answers: 3})
		p, err := program.Compile(m.Quiz)
		require.NoError(t, err)
		i := rapid.IntRange(0, len(p.Questions)-1).Draw(t, "question")
		each := expect.Assume(p, nil, expect.Expected(p)).Each[i]
		if len(each.Values) == 0 {
			t.Skip("its answers are not listed one by one")
		}
		all, err := odds.Of(p, odds.Options{Sample: -1})
		require.NoError(t, err)
		outcomes, means := map[string]float64{}, map[string]float64{}
		for k, v := range each.Values {
			given := make(program.Answers, len(p.Questions))
			given[i] = v
			from, err := odds.Of(p, odds.Options{Sample: -1, Given: given})
			require.NoError(t, err)
			for key, share := range from.Outcomes {
				outcomes[key] += each.Shares[k] * share
			}
			for key, s := range from.Scores {
				means[key] += each.Shares[k] * s.Mean
				require.GreaterOrEqual(t, s.Lowest(), all.Scores[key].Lowest(), "nothing new is reached")
				require.LessOrEqual(t, s.Highest(), all.Scores[key].Highest())
			}
		}
		for key, share := range all.Outcomes {
			require.InDelta(t, share, outcomes[key], 1e-9, key)
		}
		for key, s := range all.Scores {
			require.InDelta(t, s.Mean, means[key], 1e-6, key)
		}
	})
}

// Where all has been answered there is one way on; a sample keeps to what is given, too.
func TestOddsFromHereWhereAllIsAnswered(t *testing.T) {
	p := quiztest.Forty().Compile(t)
	in := quiztest.Input(t, p, "q0=a7", "q1=a7", "q2=a7")
	for _, steps := range []int{0, 1} { // one step is too few: then a sample is drawn
		o, err := odds.Of(p, odds.Options{Given: in.Answers, Steps: steps})
		require.NoError(t, err)
		require.InDelta(t, 1, o.Answers["q1"]["a7"], 1e-9)
		require.InDelta(t, 21+37*3.5, o.Scores["need"].Mean, 0.5)
	}
	for i := range in.Answers {
		in.Answers[i] = in.Answers[0]
	}
	o, err := odds.Of(p, odds.Options{Given: in.Answers})
	require.NoError(t, err)
	require.Equal(t, map[string]float64{"hot": 1}, o.Outcomes)
}
