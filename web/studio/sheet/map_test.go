package sheet

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

func charted(t require.TestingT, q *quiz.Quiz, fold bool) (chart, *odds.Odds) {
	p, err := program.CompileDraft(q, q.Check())
	require.NoError(t, err)
	o, err := odds.Of(p, odds.Options{Steps: 1 << 16, Sample: 1 << 12})
	require.NoError(t, err)
	return newChart(q, o, fold), o
}

// Of any quiz: streams that lie beside the same places do not share a lane, a stream
// within another runs inside it, all that leave a place or come to it have room on its
// bar, and nothing lies outside the drawing.
func TestTheMapOfAnyQuiz(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.Draw(t, quiztest.Limits{Questions: 6, Answers: 3})
		for _, fold := range []bool{false, true} {
			c, _ := charted(t, m.Quiz, fold)
			out, in := map[int]float64{}, map[int]float64{}
			for i, s := range c.Streams {
				require.Less(t, s.a, s.b, "streams run down")
				out[s.a] += s.Share
				in[s.b] += s.Share
				for _, o := range c.Streams[:i] {
					if s.lane == 0 || o.lane == 0 {
						continue
					}
					over := s.a < o.b && o.a < s.b
					assert.False(
						t,
						over && s.lane == o.lane && s.b < len(c.Places)-len(m.Outcomes) &&
							o.b < len(c.Places)-len(m.Outcomes),
						"%v and %v share a lane",
						s,
						o,
					)
					if s.a <= o.a && o.b <= s.b && (s.a < o.a || o.b < s.b) && s.b < len(c.Places)-len(m.Outcomes) {
						assert.Greater(t, s.lane, o.lane, "%v runs around %v", s, o)
					}
				}
			}
			for i, p := range c.Places {
				if i > 0 {
					assert.InDelta(t, p.Share, in[i], 1e-6, "who comes to %s", p.Key)
				}
				if !p.Outcome && !(p.Key == "" && len(c.Streams) == 0) {
					assert.InDelta(t, p.Share, out[i], 1e-6, "who leaves %s", p.Key)
				}
				assert.LessOrEqual(t, p.X+p.Breadth, c.Width+0.1)
				assert.Less(t, p.Y+p.Tall, c.Height)
			}
		}
	})
}

// Forty questions stand apart; folded, they are one place.
func TestTheMapOfFortyQuestions(t *testing.T) {
	c, _ := charted(t, quiztest.Forty().Quiz, false)
	require.Len(t, c.Places, 1+40+1+3)
	for i := 1; i < 42; i++ {
		assert.GreaterOrEqual(t, c.Places[i].Y-c.Places[i-1].Y, 2*17.0+chartTall, "room for two lines of words")
	}
	folded, _ := charted(t, quiztest.Forty().Quiz, true)
	assert.Len(t, folded.Places, 1+1+1+3)
	assert.Less(t, folded.Height, c.Height/4)
	assert.Equal(t, []string{"q0", "and on to question 40"}, folded.Places[1].Words)
	assert.False(t, math.IsNaN(folded.Height))
}
