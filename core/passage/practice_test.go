package passage_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Common practice, no source: an answer worth 1 or 10 and another worth 2 or 15
// give 3 to 25 points; with a cut at 16, 1 + 15 lands above and 10 + 2 below.
func TestTwoQuestionsWithACut(t *testing.T) {
	m := quiztest.New("below", "above")
	m.Scale("points", quiz.Sum)
	m.Ask("first", quiz.Single, "low points=1", "high points=10").Required = true
	m.Ask("second", quiz.Single, "low points=2", "high points=15").Required = true
	m.Bands("points", "below", "16=above")
	p := m.Compile(t)

	o, err := odds.Of(p, odds.Options{Sample: -1})
	require.NoError(t, err)
	assert.Equal(t, decimal.FromInt(3), o.Scores["points"].Lowest())
	assert.Equal(t, decimal.FromInt(25), o.Scores["points"].Highest())

	got := quiztest.Walk(t, p, "first=low", "second=high")
	assert.Equal(t, "16", got.Scores["points"])
	assert.Equal(t, "above", got.Outcome)
	got = quiztest.Walk(t, p, "first=high", "second=low")
	assert.Equal(t, "12", got.Scores["points"])
	assert.Equal(t, "below", got.Outcome)
}

// Common practice, no source: three yes/no questions at one point each with a
// cut at 2: one yes stays below, two or three land above. There are 8 combinations.
func TestThreeYesNoWithACut(t *testing.T) {
	m := quiztest.New("below", "above")
	m.Scale("yes", quiz.Sum)
	for _, k := range []string{"one", "two", "three"} {
		m.Ask(k, quiz.YesNo, "yes yes=1", "no yes=0").Required = true
	}
	m.Bands("yes", "below", "2=above")
	p := m.Compile(t)

	combinations, above := 0, 0
	quiztest.Every(p, func(answers []string) {
		combinations++
		yes := 0
		for _, a := range answers {
			if a[len(a)-3:] == "yes" {
				yes++
			}
		}
		got := quiztest.Walk(t, p, answers...)
		assert.Equal(t, yes >= 2, got.Outcome == "above", answers)
		if got.Outcome == "above" {
			above++
		}
	})
	assert.Equal(t, 8, combinations)
	assert.Equal(t, 4, above)

	o, err := odds.Of(p, odds.Options{Sample: -1})
	require.NoError(t, err)
	assert.InDelta(t, 0.5, o.Outcomes["above"], 1e-12)
}

// Common practice, no source: three bands 0–7, 8–14, 15 and more leave no gap
// on whole numbers; a band includes its lower cut.
func TestThreeBandsLeaveNoGap(t *testing.T) {
	m := quiztest.New("low", "middle", "high")
	m.Scale("points", quiz.Sum)
	one := decimal.One
	q := m.Ask("points_given", quiz.Number)
	q.Weigh = map[string]*quiz.Weighing{"points": {Factor: &one}}
	m.Bands("points", "low", "8=middle", "15=high")
	p := m.Compile(t)
	for score, want := range map[string]string{"0": "low", "7": "low", "7.999999": "low", "8": "middle", "14": "middle",
		"14.999999": "middle", "15": "high", "1000": "high", "-3": "low"} {
		assert.Equal(t, want, quiztest.Walk(t, p, "points_given="+score).Outcome, score)
	}
}

// Decimals are exact: 0.1 + 0.2 meets a cut at 0.3.
func TestDecimalsMeetTheirCut(t *testing.T) {
	m := quiztest.New("below", "above")
	m.Scale("points", quiz.Sum)
	m.Ask("first", quiz.Single, "a points=0.1")
	m.Ask("second", quiz.Single, "a points=0.2")
	m.Bands("points", "below", "0.3=above")
	p := m.Compile(t)
	assert.Equal(t, "above", quiztest.Walk(t, p, "first=a", "second=a").Outcome)
}
