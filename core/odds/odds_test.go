package odds_test

import (
	"fmt"
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
	o, exact := odds.Of(m.Quiz)
	require.True(t, exact)
	ways := map[string]float64{}
	for _, p := range o.Scores["pips"] {
		ways[p.Score.String()] = p.Share * 216
	}
	for score, want := range map[string]float64{"3": 1, "4": 3, "9": 25, "10": 27, "11": 27, "17": 3, "18": 1} {
		assert.InDelta(t, want, ways[score], 1e-9, score)
	}
	assert.Len(t, ways, 16)
	assert.InDelta(t, 0.5, o.Outcomes["high"], 1e-12)
	assert.Equal(t, "3", o.Lowest("pips").String())
	assert.Equal(t, "18", o.Highest("pips").String())
}

// Walking every passage one by one gives what the odds give, over quizzes of
// choices that jump ahead, end and part ways.
func TestOddsAreThoseOfEveryPassage(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.New("o0", "o1", "o2")
		m.Scale("points", quiz.Sum).Start = decimal.Decimal(rapid.IntRange(-2, 2).Draw(t, "start")) * decimal.One
		n := rapid.IntRange(1, 5).Draw(t, "questions")
		for i := range n {
			q := m.Ask(fmt.Sprintf("q%d", i), quiz.Single, []string{"a", "b", "c"}[:rapid.IntRange(2, 3).Draw(t, "answers")]...)
			q.Required = rapid.Bool().Draw(t, "required")
			for _, k := range quiz.InOrder(q.Answers) {
				q.Answers[k].Adds = map[string]decimal.Decimal{"points": decimal.Decimal(rapid.IntRange(-20, 30).Draw(t, "tenths")) * decimal.One / 10}
				if rapid.IntRange(0, 3).Draw(t, "then") == 0 {
					to := quiz.Then{Go: rapid.SampledFrom([]quiz.Way{quiz.Decide, quiz.ToOutcome, quiz.PartWays}).Draw(t, "way")}
					if to.Go != quiz.Decide {
						to.To = "o2"
					} else if i+1 < n {
						to = quiz.Then{Go: quiz.ToQuestion, To: fmt.Sprintf("q%d", rapid.IntRange(i+1, n-1).Draw(t, "to"))}
					}
					q.Answers[k].Then = &to
				}
			}
		}
		m.Bands("points", "o0", "1.5=o1")
		o, exact := odds.Of(m.Quiz)
		require.True(t, exact)
		p, err := passage.Compile(m.Quiz)
		require.NoError(t, err)

		outcomes, scores := map[string]float64{}, map[decimal.Decimal]float64{}
		var walk func(in passage.Input, share float64)
		walk = func(in passage.Input, share float64) {
			r := p.Walk(in)
			if r.End != passage.Unfinished {
				outcomes[p.OutcomeKey(r)] += share
				if r.End == passage.Decided {
					scores[r.Scores[0]] += share
				}
				return
			}
			next := r.Next
			ways := p.AnswerKeys(next)
			if !p.Question(next).Required {
				ways = append(ways, "") // passed by
			}
			for _, way := range ways {
				in.Answers[next] = passage.Value{}
				require.NoError(t, p.ReadCell(next, way, &in.Answers[next]))
				walk(in, share/float64(len(ways)))
			}
			in.Answers[next] = passage.Value{}
		}
		walk(passage.Input{Answers: make(passage.Answers, n), Stop: true}, 1)
		for _, k := range []string{"o0", "o1", "o2"} {
			require.InDelta(t, outcomes[k], o.Outcomes[k], 1e-12, k)
		}
		require.Len(t, o.Scores["points"], len(scores))
		for _, point := range o.Scores["points"] {
			require.InDelta(t, scores[point.Score], point.Share, 1e-12)
		}
	})
}

// What can't be told exactly is not told.
func TestQuizzesThatAreNotTold(t *testing.T) {
	m := quiztest.New("a")
	m.Scale("points", quiz.Sum)
	m.Ask("q", quiz.Single, "x points=1", "y")
	m.Ask("r", quiz.Rating)
	_, exact := odds.Of(m.Quiz)
	assert.True(t, exact, "a rating that does not weigh changes nothing")
	one := decimal.One
	m.Questions["r"].Weigh = map[string]*quiz.Weighing{"points": {Factor: &one}}
	_, exact = odds.Of(m.Quiz)
	assert.False(t, exact)
	m.Questions["r"].Weigh, m.Questions["r"].ShowWhen = nil, &quiz.Condition{Subject: quiz.Subject{Answer: "q"}, Test: quiz.Test{Op: quiz.IsAnswered}}
	_, exact = odds.Of(m.Quiz)
	assert.False(t, exact)
}
