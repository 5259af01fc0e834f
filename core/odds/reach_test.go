package odds_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// The converse of the walk over every passage: fifty respondents of a generated quiz,
// whose numbers may have more values than can be counted, never get to what the odds
// call out of reach, be they exact or a sample, and no score or percent leaves its
// bounds.
func TestNobodyGetsToWhatIsOutOfReach(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.Draw(t, quiztest.Limits{Questions: 7, Answers: 4, Wide: true})
		document := string(m.Write())
		p, err := program.Compile(m.Quiz)
		require.NoError(t, err)
		o, err := odds.Of(p, odds.Options{Steps: 1 << 14, Sample: 200})
		require.NoError(t, err)
		r := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 1))
		w := passage.NewWalker(p)
		for range 50 {
			in := quiztest.RandomAnswers(r, p)
			got := w.Walk(in)
			outcome, landing := passage.OutcomeKey(p, got), passage.LandingKey(p, got)
			require.True(t, o.Possible[outcome], "%s\n%s", outcome, document)
			if o.ExactOutcomes() {
				require.Contains(t, o.Outcomes, outcome, "%s", document)
				require.Contains(t, o.Landings[outcome], landing, "%s", document)
			}
			if o.ExactPath() {
				for _, i := range got.Seen {
					require.Contains(t, o.Seen, p.Key(i), "%s", document)
				}
			}
			for i, key := range p.ScaleKeys() {
				within := o.Scores[key].Within
				require.False(
					t,
					within.Low != nil && got.Scores[i] < *within.Low,
					"%s of %s is below %s\n%s",
					got.Scores[i],
					key,
					within.Low,
					document,
				)
				require.False(
					t,
					within.High != nil && got.Scores[i] > *within.High,
					"%s of %s is above %s\n%s",
					got.Scores[i],
					key,
					within.High,
					document,
				)
				if p.Quiz.Scales[key].Method == quiz.Percent {
					require.True(
						t,
						got.Scores[i] >= 0 && got.Scores[i] <= 100*decimal.One,
						"%s of %s\n%s",
						got.Scores[i],
						key,
						document,
					)
				}
			}
		}
	})
}
