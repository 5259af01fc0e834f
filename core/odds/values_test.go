package odds_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/expect"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// hectares asks for a required number that weighs by a factor, with bands at 20 and 40.
func hectares(high int64, step, factor string) quiztest.Maker {
	m := quiztest.New("small", "middle", "large")
	m.Scale("land", quiz.Sum)
	q := m.Ask("hectares", quiz.Number)
	times := decimal.Must(factor)
	q.Required, q.Limits = true, &quiz.Limits{Low: quiztest.NumberBound(0), High: quiztest.NumberBound(high)}
	if step != "" {
		width := decimal.Must(step)
		q.Limits.Step = &width
	}
	q.Weigh = map[string]*quiz.Weighing{"land": {Factor: &times}}
	m.Bands("land", "small", "20=middle", "40=large")
	return m
}

// Common practice, no source: 0 to 100 hectares with a band from 20 to below 40 gives
// that band 20 of 101 values; turned around, those from 61 to 80.
func TestNumbersAreCounted(t *testing.T) {
	m := hectares(100, "1", "1")
	o := exactly(t, m.Compile(t))
	assert.InDelta(t, 20.0/101, o.Outcomes["middle"], 1e-12)
	assert.InDelta(t, 61.0/101, o.Outcomes["large"], 1e-12)
	assert.Len(t, o.Scores["land"].Points, 101)
	assert.Equal(t, int64(101), o.Passages.Int64())
	assert.InDelta(t, 50, o.Scores["land"].Mean, 1e-9)
	m.Questions["hectares"].Weigh["land"].Reversed = true
	assert.InDelta(t, 20.0/101, exactly(t, m.Compile(t)).Outcomes["middle"], 1e-12)

	o = exactly(t, hectares(5000, "0.5", "0.01").Compile(t)) // 10 001 values
	assert.InDelta(t, 4000.0/10001, o.Outcomes["middle"], 1e-12)

	o = exactly(t, hectares(100, "30", "1").Compile(t)) // 0, 30, 60, 90
	assert.InDelta(t, 0.25, o.Outcomes["middle"], 1e-12)
	assert.Equal(t, "90", o.Scores["land"].Highest().String())
}

// A quantity times a price, both numbers that are asked for: every pair is counted.
func TestFormulasOverNumbersAreCounted(t *testing.T) {
	m := hectares(10, "1", "0")
	price := m.Ask("price", quiz.Number)
	step := decimal.Must("0.5")
	price.Required = true
	price.Limits = &quiz.Limits{Low: quiztest.NumberBound(1), High: quiztest.NumberBound(3), Step: &step}
	m.Scale("quote", quiz.Formula).Formula = "hectares * price"
	m.Decision.Steps = map[string]*quiz.Step{}
	o := exactly(t, m.Compile(t))
	mean, ways := 0.0, map[string]float64{}
	for h := range 11 {
		for p := 2; p <= 6; p++ {
			ways[decimal.FromInt(int64(h*p)).Div(2*decimal.One).String()]++
			mean += float64(h*p) / 2 / 55
		}
	}
	require.Len(t, o.Scores["quote"].Points, len(ways))
	for _, at := range o.Scores["quote"].Points {
		assert.InDelta(t, ways[at.Score.String()]/55, at.Share, 1e-12, at.Score)
	}
	assert.InDelta(t, mean, o.Scores["quote"].Mean, 1e-9)
}

// More values than are counted one by one are a sample, and say so; what is never
// reached is told by bounds. Conditions and brackets need no sample.
func TestWideNumbers(t *testing.T) {
	p := hectares(100, "", "1").Compile(t) // in millionths
	o, err := odds.Of(p, odds.Options{})
	require.NoError(t, err)
	assert.False(t, o.ExactOutcomes())
	assert.InDelta(t, 0.2, o.Outcomes["middle"], 4*o.Sampled.Error(0.2))
	assert.Equal(t, "100", o.Scores["land"].Within.High.String())

	m := hectares(100, "", "1")
	m.Questions["hectares"].Weigh["land"] = &quiz.Weighing{Brackets: map[string]*quiz.Bracket{
		"few": {
			Adds: 0,
		}, "some": {From: quiztest.NumberBound(20), Adds: decimal.FromInt(20)},
		"many": {From: quiztest.NumberBound(40), Adds: decimal.FromInt(40)}}}
	o = exactly(t, m.Compile(t))
	assert.InDelta(t, 20_000_000.0/100_000_001, o.Outcomes["middle"], 1e-12)

	m = hectares(100, "", "1")
	m.Questions["hectares"].Limits = nil
	o, err = odds.Of(m.Compile(t), odds.Options{})
	require.NoError(t, err)
	assert.False(t, o.ExactOutcomes())
	assert.Nil(t, o.Scores["land"].Within.High, "unbounded")
	assert.True(t, o.Possible["large"] && o.Possible["small"])
	assert.Equal(t, []odds.Assumed{{Question: "hectares", Because: "no limits"}}, o.Assumed)
}

// Words that conditions tell apart: each way in which some text can meet them is as
// likely as the others, or as expected.
func TestWordsAreToldApart(t *testing.T) {
	m := quiztest.New("other", "bees", "both")
	m.Ask("wish", quiz.ShortText).Required = true
	says := func(op quiz.Op, word string) *quiz.Condition {
		return &quiz.Condition{Subject: quiz.Subject{Answer: "wish"}, Test: quiz.Test{Op: op, Value: quiz.Words(word)}}
	}
	m.Decide(
		quiz.Step{
			Kind:    quiz.RuleStep,
			Outcome: "both",
			When:    &quiz.Condition{All: []*quiz.Condition{says(quiz.Contains, "Bees"), says(quiz.Contains, "honey")}},
		},
	)
	m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "bees", When: says(quiz.Contains, "bees")})
	p := m.Compile(t)
	assert.ElementsMatch(
		t,
		[]string{"else", "contains bees", "contains honey", "contains bees and contains honey"},
		p.Names(0),
	)
	o := exactly(t, p)
	assert.InDelta(t, 0.25, o.Outcomes["both"], 1e-12)
	assert.InDelta(t, 0.25, o.Outcomes["bees"], 1e-12)
	assert.Equal(t, []odds.Assumed{{Question: "wish", Because: "words"}}, o.Assumed)
	o, err := odds.Of(
		p,
		odds.Options{
			Sample: -1,
			Shares: expect.Shares{"wish": {"contains bees": 40, "contains bees and contains honey": 10}},
		},
	)
	require.NoError(t, err)
	assert.InDelta(t, 0.4, o.Outcomes["bees"], 1e-12)
	assert.Empty(t, o.Assumed)
	w, err := odds.Witness(t.Context(), p, nil, 0)
	require.NoError(t, err)
	in, err := w.To(odds.Target{Outcome: "both"})
	require.NoError(t, err)
	text := in.Answers[0].Text
	assert.True(t, strings.Contains(text, "bees") && strings.Contains(text, "honey"), text)

	// Eight characters are too few for both, and "is" leaves no room beside it.
	m.Questions["wish"].Limits = &quiz.Limits{High: quiztest.NumberBound(8)}
	assert.NotContains(t, exactly(t, m.Compile(t)).Outcomes, "both")
	m.Questions["wish"].Limits.High = quiztest.NumberBound(9)
	assert.Contains(t, exactly(t, m.Compile(t)).Outcomes, "both")

	m.Questions["wish"].Kind, m.Questions["wish"].Limits = quiz.Email, nil
	p = m.Compile(t)
	o = exactly(t, p)
	assert.Contains(t, o.Outcomes, "both", "bees@honey.example is one")
	w, err = odds.Witness(t.Context(), p, nil, 0)
	require.NoError(t, err)
	in, err = w.To(odds.Target{Outcome: "both"})
	require.NoError(t, err)
	_, err = p.Read(0, program.Typed{Values: []string{in.Answers[0].Text}})
	assert.NoError(t, err, in.Answers[0].Text)

	// What a visitor brings along is told apart alike.
	m = quiztest.New("other", "both")
	from := func(word string) *quiz.Condition {
		return &quiz.Condition{
			Subject: quiz.Subject{Visitor: "campaign"},
			Test:    quiz.Test{Op: quiz.Contains, Value: quiz.Words(word)},
		}
	}
	m.Ask("crop", quiz.Single, "apples", "pears").Required = true
	m.Decide(
		quiz.Step{
			Kind:    quiz.RuleStep,
			Outcome: "both",
			When:    &quiz.Condition{All: []*quiz.Condition{from("spring"), from("fair")}},
		},
	)
	assert.Contains(t, exactly(t, m.Compile(t)).Outcomes, "both")
}

// Rows of a grid that is not required can be left alone, and a least number of picks is
// of those who pick any.
func TestWhatCanBeLeftAlone(t *testing.T) {
	m := quiztest.New("only")
	m.Scale("share", quiz.Percent)
	grid := m.Ask("habits", quiz.Grid, "never share=-3", "often share=-1")
	grid.Rows = map[string]*quiz.Row{
		"mow": {Label: "mow"},
		"feed": {
			Label: "feed",
			Adds: map[string]map[string]decimal.Decimal{
				"never": quiztest.Amounts("share=1"),
				"often": quiztest.Amounts("share=5"),
			},
		},
	}
	o := exactly(t, m.Compile(t))
	assert.Equal(t, int64(9), o.Passages.Int64())
	assert.InDelta(t, 1.0/9, o.Answers["habits"]["-"], 1e-12)
	assert.InDelta(t, 2.0/9, o.Answers["habits"]["mow.-"], 1e-12)
	assert.InDelta(t, 1.0/3, o.Answers["habits"]["mow.often"], 1e-12)
	assert.Equal(t, "0", o.Scores["share"].Lowest().String())
	assert.Equal(t, "100", o.Scores["share"].Highest().String())

	m = quiztest.New("only")
	m.Ask("some", quiz.Several, "a", "b", "c").Picks = &quiz.Picks{Min: 2}
	p := m.Compile(t)
	o = exactly(t, p)
	assert.Equal(t, int64(5), o.Passages.Int64(), "none, three pairs, all")
	assert.InDelta(t, 0.2, o.Answers["some"]["-"], 1e-12)
	_, err := p.Read(0, program.Typed{Values: []string{"a"}})
	assert.ErrorIs(t, err, program.ErrLimits)
	_, err = p.Read(0, program.Typed{})
	assert.NoError(t, err)
}

// Scores are those of all passages: who is sent away early has one, too.
func TestScoresOfAllPassages(t *testing.T) {
	m := quiztest.New("stay", "leave")
	m.Scale("need", quiz.Sum)
	m.Ask("budget", quiz.Single, "none need=1", "some need=2", "much need=9").Required = true
	m.Questions["budget"].Answers["none"].Then = &quiz.Then{Go: quiz.PartWays, To: "leave"}
	m.Questions["budget"].Answers["much"].Then = &quiz.Then{Go: quiz.ToOutcome, To: "stay"}
	s := exactly(t, m.Compile(t)).Scores["need"]
	third := 1.0 / 3
	assert.Equal(
		t,
		[]odds.Point{
			{Score: decimal.One, Share: third, Parted: third},
			{Score: 2 * decimal.One, Share: third},
			{Score: 9 * decimal.One, Share: third, Named: third},
		},
		s.Points,
	)
	assert.InDelta(t, 4, s.Mean, 1e-12)
	assert.Equal(t, "1", s.Lowest().String())
	assert.Equal(t, "9", s.Highest().String())
	assert.Equal(t, []odds.Point{{Score: 2 * decimal.One, Share: third}}, s.Decided())
}
