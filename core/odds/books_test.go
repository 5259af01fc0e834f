package odds_test

import (
	"fmt"
	"math"
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/stat/distuv"

	"omphalos/core/decimal"
	"omphalos/core/expect"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// n yes/no questions at p: the number of yes is binomial (any handbook; values from
// gonum's distuv.Binomial).
func TestBinomial(t *testing.T) {
	const n, chance = 20, 0.3
	m := quiztest.New("few", "many")
	m.Scale("yes", quiz.Sum)
	shares := expect.Shares{}
	for i := range n {
		key := fmt.Sprintf("q%d", i)
		m.Ask(key, quiz.YesNo, "yes yes=1", "no").Required = true
		shares[key] = map[string]float64{"yes": 100 * chance}
	}
	m.Bands("yes", "few", "9=many")
	o, err := odds.Of(m.Compile(t), odds.Options{Shares: shares})
	require.NoError(t, err)
	book := distuv.Binomial{N: n, P: chance}
	require.Len(t, o.Scores["yes"].Points, n+1)
	for _, p := range o.Scores["yes"].Points {
		assert.InDelta(t, book.Prob(p.Score.Float64()), p.Share, 1e-12, p.Score)
	}
	assert.InDelta(t, book.Mean(), o.Scores["yes"].Mean, 1e-12)
	assert.InDelta(t, book.StdDev(), o.Scores["yes"].Spread, 1e-12)
	assert.InDelta(t, 1-book.CDF(8), o.Outcomes["many"], 1e-12)
	assert.InDelta(t, chance, o.Answers["q3"]["yes"], 1e-12)
	assert.Equal(t, new(big.Int).Exp(big.NewInt(2), big.NewInt(n), nil), o.Passages)
}

// Keywords met in n questions of three answers each are multinomial: n! / (a! b! c!)
// · p^a q^b r^c (any handbook). The leader's share and that of ties are sums of them.
func TestMultinomialLeader(t *testing.T) {
	const n = 7
	p := []float64{0.5, 0.3, 0.2}
	m := quiztest.New("a", "b", "c")
	leader := quiz.Step{Kind: quiz.LeaderStep, Contenders: map[string]*quiz.Contender{}}
	for i, k := range []string{"a", "b", "c"} {
		m.Scale("word_"+k, quiz.Sum).Kind = quiz.Keyword
		leader.Contenders["word_"+k] = &quiz.Contender{Order: float64(i), Outcome: k}
	}
	for i := range n {
		q := m.Ask(fmt.Sprintf("q%d", i), quiz.Single, "a word_a=1", "b word_b=1", "c word_c=1")
		q.Required = true
		q.Expect = map[string]decimal.Decimal{"a": decimal.FromInt(50), "b": decimal.FromInt(30)} // and the rest for c
	}
	m.Decide(leader)
	o := exactly(t, m.Compile(t))
	factorial := func(k int) float64 { return math.Gamma(float64(k) + 1) }
	want, ties := map[string]float64{}, 0.0
	for a := range n + 1 {
		for b := range n + 1 - a {
			c := n - a - b
			share := factorial(n) / (factorial(a) * factorial(b) * factorial(c)) * math.Pow(
				p[0],
				float64(a),
			) * math.Pow(p[1], float64(b)) * math.Pow(p[2], float64(c))
			switch most := max(a, b, c); {
			case a == most:
				want["a"] += share
			case b == most:
				want["b"] += share
			default:
				want["c"] += share
			}
			if most := max(a, b, c); a == most && b == most || a == most && c == most || b == most && c == most {
				ties += share
			}
		}
	}
	for k, share := range want {
		assert.InDelta(t, share, o.Outcomes[k], 1e-12, k)
	}
	assert.InDelta(t, ties, o.Ties["step_a"], 1e-12)
}

// A sum like that of the Glasgow Coma Scale: three items of 4, 5 and 6 steps from 1
// give 3 to 15, in 120 ways (Teasdale & Jennett, Lancet 1974;304:81–84; values from
// memory of the ranges). The ways are counted by hand with three loops.
func TestThreeItemsOfDifferentLength(t *testing.T) {
	m := quiztest.New("low", "high")
	m.Scale("sum", quiz.Sum)
	for _, steps := range []int{4, 5, 6} {
		var answers []string
		for s := 1; s <= steps; s++ {
			answers = append(answers, fmt.Sprintf("s%d sum=%d", s, s))
		}
		m.Ask(fmt.Sprintf("item_%d", steps), quiz.Single, answers...).Required = true
	}
	m.Bands("sum", "low", "9=high")
	o := exactly(t, m.Compile(t))
	ways := map[string]float64{}
	for a := 1; a <= 4; a++ {
		for b := 1; b <= 5; b++ {
			for c := 1; c <= 6; c++ {
				ways[fmt.Sprint(a+b+c)]++
			}
		}
	}
	require.Len(t, o.Scores["sum"].Points, 13)
	for _, p := range o.Scores["sum"].Points {
		assert.InDelta(t, ways[p.Score.String()]/120, p.Share, 1e-12, p.Score)
	}
	assert.Equal(t, int64(120), o.Passages.Int64())
}

// Common practice, no source: three questions with two answers each have 8
// combinations; three answers, three and two have 18.
func TestCombinationsAreCounted(t *testing.T) {
	for want, sizes := range map[int64][]int{8: {2, 2, 2}, 18: {3, 3, 2}} {
		m := quiztest.New("only")
		for i, n := range sizes {
			m.Ask(fmt.Sprintf("q%d", i), quiz.Single, []string{"a", "b", "c"}[:n]...).Required = true
		}
		o := exactly(t, m.Compile(t))
		assert.Equal(t, want, o.Answered.Int64())
		assert.Equal(t, want, o.Passages.Int64())
	}
	m := quiztest.New("only")
	m.Ask("some", quiz.Several, "a", "b", "c", "d").Picks = &quiz.Picks{Min: 1, Max: 2}
	assert.Equal(t, int64(11), exactly(t, m.Compile(t)).Answered.Int64(), "4 choose 1, 4 choose 2, and none")
	m.Questions["some"].Required = true
	assert.Equal(t, int64(10), exactly(t, m.Compile(t)).Answered.Int64(), "4 choose 1 and 4 choose 2")
}

// What is seen and answered on branches, with the passages counted by hand.
func TestBranchesAreCounted(t *testing.T) {
	m := quiztest.New("stay", "leave")
	m.Ask("budget", quiz.Single, "none", "some", "much").Required = true
	m.Ask("when", quiz.Single, "now", "later").Required = true
	m.Ask("where", quiz.Single, "near", "far").Required = true
	m.Questions["budget"].Answers["none"].Then = &quiz.Then{Go: quiz.PartWays, To: "leave"}
	m.Questions["budget"].Answers["much"].Then = &quiz.Then{Go: quiz.ToQuestion, To: "where"}
	o := exactly(t, m.Compile(t))
	third := 1.0 / 3
	assert.Equal(t, int64(1+2*2+2), o.Passages.Int64())
	assert.Equal(t, int64(3*2*2), o.Answered.Int64())
	assert.InDelta(t, third, o.Ends[program.Parted], 1e-12)
	assert.InDelta(t, third, o.Seen["when"], 1e-12)
	assert.InDelta(t, 2*third, o.Seen["where"], 1e-12)
	assert.InDelta(t, third/2, o.Answers["when"]["now"], 1e-12)
	assert.InDeltaSlice(t, []float64{0, third, third, third}, o.Lengths, 1e-12)
	assert.InDelta(t, 2, o.Questions(), 1e-12)
	assert.Equal(
		t,
		[]odds.Thread{
			{Question: "budget", Answer: "none", Share: o.Threads[0].Share},
			{Question: "budget", Answer: "much", Share: o.Threads[1].Share},
		},
		o.Threads,
	)
	assert.InDelta(t, third, o.Threads[1].Share, 1e-12)
	assert.Contains(t, o.Flows, odds.Flow{From: "budget", To: "where", Share: o.Threads[1].Share})
}

// Beyond the bound a sample is drawn: the same for the same seed on any number of
// cores, and within four standard errors of what is exact.
func TestSampleIsNearTheExactOdds(t *testing.T) {
	for name, m := range map[string]quiztest.Maker{"branching": quiztest.Thirty(), "pulls": pulling(8, 4, 5)} {
		t.Run(name, func(t *testing.T) {
			p := m.Compile(t)
			exact := exactly(t, p)
			_, err := odds.Of(p, odds.Options{Steps: 3, Sample: -1})
			require.ErrorIs(t, err, odds.ErrSteps)
			o, err := odds.Of(p, odds.Options{Steps: 3, Sample: 20_000, Seed: 11})
			require.NoError(t, err)
			require.True(t, o.Sampled.Path && o.Sampled.Outcomes)
			near := func(what string, want, got float64) {
				assert.InDelta(t, want, got, 4*o.Sampled.Error(want)+1e-12, what)
			}
			for k, share := range exact.Outcomes {
				near(k, share, o.Outcomes[k])
			}
			for k, share := range exact.Seen {
				near(k, share, o.Seen[k])
			}
			for k, share := range flat(exact.Answers) {
				near(k, share, flat(o.Answers)[k])
			}
			for k, share := range exact.Ties {
				near("ties "+k, share, o.Ties[k])
			}
			for k, s := range exact.Scores {
				if s.Spread > 0 {
					assert.InDelta(t, s.Mean, o.Scores[k].Mean, 4*s.Spread/math.Sqrt(20_000), "the mean of %s", k)
				}
			}
			again, err := odds.Of(p, odds.Options{Steps: 3, Sample: 20_000, Seed: 11})
			require.NoError(t, err)
			assert.Equal(t, o.Outcomes, again.Outcomes)
		})
	}
}

// Several picks and grids are as likely as the shares say, and those that are
// sampled agree: picks under their limits, rows one by one.
func TestSharesOfPicksAndGrids(t *testing.T) {
	m := quiztest.New("only")
	m.Scale("sum", quiz.Sum)
	some := m.Ask("some", quiz.Several, "a sum=1", "b sum=2", "c sum=4")
	some.Picks, some.Required = &quiz.Picks{Min: 1, Max: 2}, true
	g := m.Ask("grid", quiz.Grid, "no", "yes sum=8")
	g.Required, g.Rows = true, map[string]*quiz.Row{"r": {Label: "r"}, "s": {Label: "s"}}
	m.Ask("stars", quiz.Stars)
	p := m.Compile(t)
	shares := expect.Shares{"some": {"a": 80, "b": 50, "c": 0}, "grid": {"r.yes": 25}, "stars": {"5": 60, "-": 20}}
	o, err := odds.Of(p, odds.Options{Shares: shares})
	require.NoError(t, err)
	assert.InDelta(t, 0.8, o.Answers["some"]["a"], 1e-9)
	assert.InDelta(t, 0.5, o.Answers["some"]["b"], 1e-9)
	assert.Equal(t, 0.0, o.Answers["some"]["c"])
	assert.InDelta(t, 0.25, o.Answers["grid"]["r.yes"], 1e-12)
	assert.InDelta(t, 0.5, o.Answers["grid"]["s.yes"], 1e-12)
	assert.InDelta(t, 0.6, o.Answers["stars"]["5"], 1e-12)
	assert.InDelta(t, 0.05, o.Answers["stars"]["2"], 1e-12)
	assert.InDelta(t, 0.2, o.Answers["stars"]["-"], 1e-12)
	assert.InDelta(t, 0.8+2*0.5+8*0.75, o.Scores["sum"].Mean, 1e-9)
	sampled, err := odds.Of(p, odds.Options{Shares: shares, Steps: 1, Sample: 20_000})
	require.NoError(t, err)
	for k, share := range flat(o.Answers) {
		assert.InDelta(t, share, flat(sampled.Answers)[k], 4*sampled.Sampled.Error(share)+1e-12, k)
	}
}

// What is expected of several picks is had, within the limits, and of all ways to have
// it the one of maximum entropy: Chen, Dempster & Liu, Weighted finite population
// sampling to maximize entropy, Biometrika 81 (1994). Its marks, in small cases by
// enumeration: of one pick, the shares themselves; of all but one, those who are left
// out; without limits, picks that know nothing of each other; and of any two pairs of
// sets that hold the same picks together, shares with the same product.
func TestSharesOfPicksAreHad(t *testing.T) {
	of := func(least, most int, percents ...float64) *odds.Odds {
		m := quiztest.New("only")
		m.Scale("which", quiz.Sum)
		q := m.Ask("some", quiz.Several, "a which=1", "b which=2", "c which=4", "d which=8")
		q.Picks, q.Required = &quiz.Picks{Min: least, Max: most}, least > 0
		shares := map[string]float64{}
		for i, percent := range percents {
			shares[string(rune('a'+i))] = percent
		}
		o, err := odds.Of(m.Compile(t), odds.Options{Sample: -1, Shares: expect.Shares{"some": shares}})
		require.NoError(t, err)
		for name, percent := range shares {
			require.InDelta(t, percent/100, o.Answers["some"][name], 1e-9, name)
		}
		return o
	}
	sets := func(o *odds.Odds) map[int]float64 {
		shares := map[int]float64{}
		for _, p := range o.Scores["which"].Points {
			shares[int(p.Score/decimal.One)] = p.Share
		}
		return shares
	}
	one := sets(of(1, 1, 40, 30, 20, 10))
	assert.InDeltaMapValues(t, map[int]float64{1: 0.4, 2: 0.3, 4: 0.2, 8: 0.1}, one, 1e-9)
	allButOne := sets(of(3, 3, 60, 70, 80, 90))
	assert.InDeltaMapValues(t, map[int]float64{14: 0.4, 13: 0.3, 11: 0.2, 7: 0.1}, allButOne, 1e-9)
	free := sets(of(0, 4, 50, 20, 10, 40))
	assert.InDelta(t, 0.5*0.2*0.9*0.6, free[3], 1e-9)
	assert.InDelta(t, 0.5*0.8*0.9*0.6, free[0], 1e-9)
	two := sets(of(2, 2, 80, 50, 40, 30))
	assert.Len(t, two, 6)
	assert.InDelta(t, two[1|2]*two[4|8], two[1|4]*two[2|8], 1e-9)
	assert.InDelta(t, two[1|2]*two[4|8], two[1|8]*two[2|4], 1e-9)
	upToTwo := sets(of(0, 2, 60, 30, 20, 10))
	assert.InDelta(t, upToTwo[0]*upToTwo[1|2], upToTwo[1]*upToTwo[2], 1e-9)
}

// Shares at the ends of what can be had: what adds up to the least or the most picks that
// are allowed, all or nothing. Found by an independent program, which had 202 % of
// respondents in one outcome.
func TestSharesAtTheEnds(t *testing.T) {
	for name, c := range map[string]struct {
		least, most int
		required    bool
		percents    map[string]float64
		sum         float64
	}{
		"one pick each":          {0, 3, true, map[string]float64{"a": 50, "b": 30, "c": 20}, 1.7},
		"two picks each":         {2, 3, true, map[string]float64{"a": 100, "b": 50, "c": 50}, 3.5},
		"all of them":            {1, 3, true, map[string]float64{"a": 100, "b": 100, "c": 100}, 6},
		"two at the most":        {0, 2, false, map[string]float64{"a": 100, "b": 100, "c": 0}, 3},
		"none":                   {0, 3, false, map[string]float64{"a": 0, "b": 0, "c": 0}, 0},
		"one with any other":     {2, 3, false, map[string]float64{"a": 50, "b": 25, "c": 25}, 1.75},
		"some pass by, two each": {2, 3, false, map[string]float64{"a": 40, "b": 40, "c": 40, "-": 40}, 2.4},
	} {
		t.Run(name, func(t *testing.T) {
			m := quiztest.New("low", "high")
			m.Scale("sum", quiz.Sum)
			q := m.Ask("some", quiz.Several, "a sum=1", "b sum=2", "c sum=3")
			q.Required, q.Picks = c.required, &quiz.Picks{Min: c.least, Max: c.most}
			m.Bands("sum", "low", "2=high")
			p := m.Compile(t)
			o, err := odds.Of(p, odds.Options{Sample: -1, Shares: expect.Shares{"some": c.percents}})
			require.NoError(t, err)
			assert.Empty(t, o.Astray())
			assert.Empty(t, o.Misfits)
			assert.InDelta(t, c.sum, o.Scores["sum"].Mean, 1e-6)
			for answer, percent := range c.percents {
				assert.InDelta(t, percent/100, o.Answers["some"][answer], 1e-6, answer)
			}
			sampled, err := odds.Of(p, odds.Options{Steps: 1, Sample: 20_000, Shares: expect.Shares{"some": c.percents}})
			require.NoError(t, err)
			share := o.Outcomes["high"]
			assert.InDelta(t, share, sampled.Outcomes["high"], 4*sampled.Sampled.Error(share)+1e-6)
		})
	}
}

// Odds that don't add up to everybody say so, part by part.
func TestOddsThatDoNotAddUp(t *testing.T) {
	m := quiztest.New("low", "high")
	m.Scale("sum", quiz.Sum)
	m.Ask("one", quiz.Single, "a sum=1", "b sum=2").Required = true
	m.Bands("sum", "low", "2=high")
	for what, breaks := range map[string]func(o *odds.Odds){
		"outcomes come to 200.00 % of 100.00 %":      func(o *odds.Odds) { o.Outcomes["high"]++; o.Landings["high"]["page"]++ },
		"landings come to 50.00 % of 100.00 %":       func(o *odds.Odds) { o.Landings["high"]["page"] = 0 },
		"ends come to 50.00 % of 100.00 %":           func(o *odds.Odds) { o.Ends[program.Decided] = 0.5 },
		"steps come to 150.00 % of 100.00 %":         func(o *odds.Odds) { o.Open = 0.5 },
		"lengths come to NaN % of 100.00 %":          func(o *odds.Odds) { o.Lengths[0] = math.NaN() },
		"points of sum come to 110.00 % of 100.00 %": func(o *odds.Odds) { o.Scores["sum"].Points[0].Share += 0.1 },
		"arrivals come to 0.00 % of 100.00 %":        func(o *odds.Odds) { o.Flows = nil },
	} {
		o := exactly(t, m.Compile(t))
		require.Empty(t, o.Astray())
		breaks(o)
		assert.Contains(t, o.Astray(), what)
	}
}

// Forty answers to one question are more sets of picks than can be listed; they are
// followed all the same.
func TestManyPicksAreExact(t *testing.T) {
	m := quiztest.New("low", "high")
	m.Scale("sum", quiz.Sum)
	var answers []string
	for a := range 40 {
		answers = append(answers, fmt.Sprintf("a%d sum=1", a))
	}
	m.Ask("some", quiz.Several, answers...)
	m.Bands("sum", "low", "21=high")
	o := exactly(t, m.Compile(t))
	book := distuv.Binomial{N: 40, P: 0.5}
	assert.InDelta(t, 1-book.CDF(20), o.Outcomes["high"], 1e-12)
	assert.Equal(t, new(big.Int).Lsh(big.NewInt(1), 40), o.Passages)
}
