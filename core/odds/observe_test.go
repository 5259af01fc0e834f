package odds_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/expect"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiztest"
)

// Of passages that were walked, each is counted as it was: what was given together stays
// together, which shares of single answers can't tell.
func TestObservedPassagesAreCounted(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p, err := program.Compile(quiztest.Draw(t, quiztest.Limits{Questions: 6, Answers: 4}).Quiz)
		require.NoError(t, err)
		drawer := expect.NewDrawer(p, expect.Assume(p, nil, expect.Expected(p)))
		r := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 1))
		all := make([]passage.Input, rapid.IntRange(1, 40).Draw(t, "passages"))
		for i := range all {
			all[i].Answers = make(program.Answers, len(p.Questions))
			drawer.Draw(r, all[i].Answers)
		}
		outcomes, seen, means := map[string]float64{}, map[string]float64{}, make([]float64, len(p.ScaleKeys()))
		each := 1 / float64(len(all))
		for _, in := range all {
			got := passage.Walk(p, in)
			outcomes[passage.OutcomeKey(p, got)] += each
			for _, i := range got.Seen {
				seen[p.Key(i)] += each
			}
			for i, s := range got.Scores {
				means[i] += s.Float64() * each
			}
		}
		o := odds.Observe(p, all, nil)
		assert.Equal(t, len(all), o.Observed)
		assert.InDeltaMapValues(t, outcomes, o.Outcomes, 1e-9)
		assert.InDeltaMapValues(t, seen, o.Seen, 1e-9)
		for i, key := range p.ScaleKeys() {
			assert.InDelta(t, means[i], o.Scores[key].Mean, 1e-6*(1+abs(means[i])), key)
		}
		into, ends := map[string]float64{}, 0.0
		for _, f := range o.Flows {
			if f.To == "" {
				ends += f.Share
			} else {
				into[f.To] += f.Share
			}
		}
		assert.InDelta(t, 1, ends, 1e-9, "everybody comes to an end")
		assert.InDeltaMapValues(t, seen, into, 1e-9, fmt.Sprint("who sees a question has come to it", o.Flows))
	})
}

func abs(x float64) float64 { return max(x, -x) }
