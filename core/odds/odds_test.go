package odds_test

import (
	"fmt"
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Sum of three fair dice (de Moivre, Doctrine of Chances; any handbook of
// probability): 216 ways, 10 and 11 in 27 ways each, 3 and 18 in one.
func TestThreeDice(t *testing.T) {
	m := quiztest.New("low", "high")
	m.Scale("pips", quiz.Sum)
	for d := range 3 {
		var faces []string
		for f := 1; f <= 6; f++ {
			faces = append(faces, fmt.Sprintf("f%d pips=%d", f, f))
		}
		m.Ask(fmt.Sprintf("die_%d", d), quiz.Single, faces...).Required = true
	}
	m.Bands("pips", "low", "11=high")
	o, err := odds.Of(m.Compile(t), nil, odds.MostSteps)
	require.NoError(t, err)
	ways := map[string]float64{}
	for _, p := range o.Scores["pips"] {
		ways[p.Score.String()] = p.Share * 216
	}
	for score, want := range map[string]float64{"3": 1, "4": 3, "9": 25, "10": 27, "11": 27, "17": 3, "18": 1} {
		assert.InDelta(t, want, ways[score], 1e-9, score)
	}
	assert.Len(t, ways, 16)
	assert.InDelta(t, 0.5, o.Outcomes["high"], 1e-12)
	assert.Equal(t, big.NewInt(216), o.Passages)
	assert.Equal(t, "3", o.Lowest("pips").String())
	assert.Equal(t, "18", o.Highest("pips").String())
}

// Walking every passage one by one, as a respondent does, gives what the odds
// give: over generated quizzes with branches, show-whens, several picks, grids,
// means, percents, formulas, leaders with ties, decision tables and partings.
func TestOddsAreThoseOfEveryPassage(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.Draw(t, quiztest.Limits{Questions: 5, Answers: 3})
		read, err := quiz.Read(m.Write())
		require.NoError(t, err)
		p, err := passage.Compile(read)
		require.NoError(t, err)
		o, err := odds.Of(p, nil, odds.MostSteps)
		require.NoError(t, err)

		outcomes, seen, questions := map[string]float64{}, map[string]float64{}, 0.0
		answers := map[string]float64{}
		scores := make([]map[decimal.Decimal]float64, len(p.Scales()))
		for i := range scores {
			scores[i] = map[decimal.Decimal]float64{}
		}
		passages := 0
		e := p.Explore(nil)
		w := p.Walker()
		in := passage.Input{Answers: make(passage.Answers, p.Questions()), Stop: true}
		var walk func(share float64)
		walk = func(share float64) {
			r := w.Walk(in)
			if r.End != passage.Unfinished {
				passages++
				outcomes[p.OutcomeKey(r)] += share
				for _, i := range r.Seen {
					seen[p.Key(i)] += share
					questions += share
				}
				if r.End == passage.Decided {
					for i := range scores {
						scores[i][r.Scores[i]] += share
					}
				}
				return
			}
			next := r.Next
			values, shares := e.Values(next), e.Shares(next)
			for k, v := range values {
				in.Answers[next] = v
				for _, key := range chosen(p, next, v) {
					answers[p.Key(next)+"="+key] += share * shares[k]
				}
				walk(share * shares[k])
			}
			in.Answers[next] = passage.Value{}
		}
		walk(1)
		for _, k := range []string{"o0", "o1", "o2"} {
			require.InDelta(t, outcomes[k], o.Outcomes[k], 1e-12, "share of %s\n%s", k, m.Write())
		}
		for k, share := range o.Seen {
			require.InDelta(t, seen[k], share, 1e-12, "who sees %s", k)
			for a, share := range o.Answers[k] {
				require.InDelta(t, answers[k+"="+a], share, 1e-12, "who answers %s to %s", a, k)
			}
		}
		require.InDelta(t, questions, o.Questions, 1e-9)
		require.Equal(t, big.NewInt(int64(passages)), o.Passages)
		for i, key := range p.Scales() {
			require.Len(t, o.Scores[key], len(scores[i]), "scores of %s\n%s", key, m.Write())
			for _, point := range o.Scores[key] {
				require.InDelta(t, scores[i][point.Score], point.Share, 1e-12, "%s at %s", key, point.Score)
			}
		}
	})
}

func chosen(p *passage.Program, i int, v passage.Value) []string {
	kind := p.Question(i).Kind
	if v.State != passage.Given || !(kind.Choice() || kind == quiz.Several) {
		return nil
	}
	return p.Typed(i, v).Values
}
