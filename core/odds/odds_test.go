package odds_test

import (
	"fmt"
	"math"
	"math/big"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// exactly computes odds that must be exact.
func exactly(t require.TestingT, p *program.Program) *odds.Odds {
	o, err := odds.Of(p, odds.Options{Sample: -1})
	require.NoError(t, err)
	return o
}

// A truth is what every passage, walked one by one, comes to.
type truth struct {
	outcomes, seen, answers, threads, ties map[string]float64
	ends                                   map[program.End]float64
	landings, steps                        map[string]float64
	scores                                 []map[decimal.Decimal]map[program.End]float64
	lengths                                map[int]float64
	passages                               int64
}

func everyPassage(p *program.Program) truth {
	shares := func() map[string]float64 { return map[string]float64{} }
	t := truth{
		shares(),
		shares(),
		shares(),
		shares(),
		shares(),
		map[program.End]float64{},
		shares(),
		shares(),
		nil,
		map[int]float64{},
		0,
	}
	for range p.ScaleKeys() {
		t.scores = append(t.scores, map[decimal.Decimal]map[program.End]float64{})
	}
	quiztest.Passages(p, func(in passage.Input, r *passage.Result, share float64) {
		t.passages++
		t.outcomes[passage.OutcomeKey(p, r)] += share
		t.landings[passage.OutcomeKey(p, r)+" "+passage.LandingKey(p, r)] += share
		t.ends[r.End] += share
		asked := 0
		for _, i := range r.Seen {
			t.seen[p.Key(i)] += share
			if p.Question(i).Kind != quiz.Interlude {
				asked++
			}
			for _, name := range p.NamesOf(i, in.Answers[i]) {
				if !slices.Contains(p.Names(i), name) {
					continue // numbers have no names in odds
				}
				t.answers[p.Key(i)+" "+name] += share
			}
			if own := ownThen(p, i, in.Answers[i]); own != "" {
				t.threads[p.Key(i)+" "+own] += share
			}
		}
		t.lengths[asked] += share
		for i := range t.scores {
			if t.scores[i][r.Scores[i]] == nil {
				t.scores[i][r.Scores[i]] = map[program.End]float64{}
			}
			t.scores[i][r.Scores[i]][r.End] += share
		}
		if r.End != program.Decided {
			return
		}
		if r.Step != program.Otherwise {
			t.steps[p.StepKey(r.Step)] += share
		}
		for _, step := range tiedSteps(p, in) {
			t.ties[step] += share
		}
	})
	return t
}

// tiedSteps returns the leader steps, up to the one that decides, whose contenders are
// tied: read off the explanation.
func tiedSteps(p *program.Program, in passage.Input) (list []string) {
	in.Stop = false
	for _, s := range passage.Explain(p, in).Steps {
		if strings.Contains(s.Because, " are tied at ") {
			list = append(list, s.Key)
		}
	}
	return list
}

// ownThen returns the answer whose then leads on.
func ownThen(p *program.Program, i int, v program.Value) string {
	if p.Question(i).Kind == quiz.Grid {
		return ""
	}
	for _, key := range p.Typed(i, v).Values {
		if a := p.Question(i).Answers[key]; a != nil && a.Then != nil {
			return key
		}
	}
	return ""
}

// Walking every passage one by one, as a respondent does, gives what the odds
// give: over generated quizzes with branches, show-whens, several picks, grids,
// means, percents, formulas, leaders with ties, decision tables and partings. What
// has an entry can be reached, and what has none can't.
func TestOddsAreThoseOfEveryPassage(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p, document := drawn(t)
		o := exactly(t, p)
		require.Empty(t, o.Astray(), "%s", document)
		want, near := everyPassage(p), closely(p)

		same := func(what string, want, got map[string]float64) {
			require.Len(t, got, len(want), "%s: %v and %v\n%s", what, want, got, document)
			for k, share := range want {
				require.InDelta(t, share, got[k], near, "%s %s\n%s", what, k, document)
			}
		}
		same("outcome", want.outcomes, o.Outcomes)
		same("landing", want.landings, flat(o.Landings))
		same("seen", want.seen, o.Seen)
		steps := map[string]float64{}
		for step, parts := range o.Steps {
			for _, share := range parts {
				steps[step] += share
			}
		}
		same("step", want.steps, steps)
		same("tie", want.ties, o.Ties)
		for k, share := range want.answers {
			require.InDelta(t, share, flat(o.Answers)[k], near, "answer %s\n%s", k, document)
		}
		threads := map[string]float64{}
		for _, thread := range o.Threads {
			if thread.Answer != "" {
				threads[thread.Question+" "+thread.Answer] = thread.Share
			}
		}
		same("thread", want.threads, threads)
		for end, share := range want.ends {
			require.InDelta(t, share, o.Ends[end], near, end)
		}
		for n, share := range o.Lengths {
			require.InDelta(t, want.lengths[n], share, near, "%d questions", n)
		}
		require.Equal(t, big.NewInt(want.passages), o.Passages)
		flows(t, o, near)
		for i, key := range p.ScaleKeys() {
			require.Len(t, o.Scores[key].Points, len(want.scores[i]), "scores of %s\n%s", key, document)
			all, mean := 0.0, 0.0
			for _, point := range o.Scores[key].Points {
				ends := want.scores[i][point.Score]
				require.InDelta(
					t,
					ends[program.Decided]+ends[program.Named]+ends[program.Parted],
					point.Share,
					near,
					"%s at %s",
					key,
					point.Score,
				)
				require.InDelta(t, ends[program.Named], point.Named, near, "%s at %s", key, point.Score)
				require.InDelta(t, ends[program.Parted], point.Parted, near, "%s at %s", key, point.Score)
				all, mean = all+point.Share, mean+point.Share*point.Score.Float64()
			}
			require.InDelta(t, 1, all, 10*near, "shares of %s", key)
			require.InDelta(t, mean, o.Scores[key].Mean, 10*near, "mean of %s", key)
			for _, point := range o.Scores[key].Decided() {
				require.InDelta(t, want.scores[i][point.Score][program.Decided], point.Share, near)
			}
		}
	})
}

// drawn draws a quiz whose expectations can be had: others are told with the nearest that
// can, which are put in their place.
func drawn(t *rapid.T) (*program.Program, []byte) {
	m := quiztest.Draw(t, quiztest.Limits{Questions: 4, Answers: 3})
	read, err := quiz.Read(m.Write())
	require.NoError(t, err)
	p, err := program.Compile(read)
	require.NoError(t, err)
	p, document := expectWords(t, p)
	o := exactly(t, p)
	if len(o.Misfits) == 0 {
		return p, document
	}
	p, document = repaired(t, p, o)
	again := exactly(t, p)
	require.Empty(t, again.Misfits, "%s", document)
	for k, share := range again.Outcomes {
		require.InDelta(t, share, o.Outcomes[k], 1e-5, "%s\n%s", k, document)
	}
	return p, document
}

// expectWords expects some of what conditions tell apart of answers in words.
func expectWords(t *rapid.T, p *program.Program) (*program.Program, []byte) {
	for i := range p.Questions {
		if q := p.Question(i); q.Kind == quiz.ShortText && len(p.Names(i)) > 1 {
			q.Expect = map[string]decimal.Decimal{}
			for _, name := range p.Names(i) {
				if rapid.Bool().Draw(t, "named") {
					q.Expect[name] = decimal.FromInt(int64(rapid.SampledFrom([]int{0, 100, 50, 30}).Draw(t, "percent")))
				}
			}
		}
	}
	return again(t, p)
}

// repaired takes over what is proposed instead of expectations that can't be had.
func repaired(t *rapid.T, p *program.Program, o *odds.Odds) (*program.Program, []byte) {
	for _, m := range o.Misfits {
		q := p.Question(m.Question)
		q.Expect = map[string]decimal.Decimal{}
		for name, percent := range m.Nearest {
			q.Expect[name] = decimal.Decimal(math.Round(percent * 1e6))
		}
	}
	return again(t, p)
}

func again(t *rapid.T, p *program.Program) (*program.Program, []byte) {
	p, err := program.Compile(p.Quiz)
	require.NoError(t, err)
	return p, quiztest.Maker{Quiz: p.Quiz}.Write()
}

// closely is how far odds may lie from a walk: what is expected in parts of a percent has
// been rounded, and may be moved as far.
func closely(p *program.Program) float64 {
	for i := range p.Questions {
		for _, percent := range p.Question(i).Expect {
			if percent%decimal.One != 0 {
				return 2e-6
			}
		}
	}
	return 1e-10
}

// flows come to a question as often as it is seen, and go on from it as often.
func flows(t require.TestingT, o *odds.Odds, near float64) {
	to, from, end := map[string]float64{}, map[string]float64{}, 0.0
	for _, f := range o.Flows {
		from[f.From] += f.Share
		if f.To == "" {
			end += f.Share
		} else {
			to[f.To] += f.Share
		}
	}
	for k, share := range o.Seen {
		require.InDelta(t, share, to[k], near, k)
		require.InDelta(t, share, from[k], near, k)
	}
	require.InDelta(t, 1, end, near)
}

func flat(m map[string]map[string]float64) map[string]float64 {
	list := map[string]float64{}
	for a, inner := range m {
		for b, share := range inner {
			list[a+" "+b] = share
		}
	}
	return list
}

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
	o := exactly(t, m.Compile(t))
	ways := map[string]float64{}
	for _, p := range o.Scores["pips"].Points {
		ways[p.Score.String()] = p.Share * 216
	}
	for score, want := range map[string]float64{"3": 1, "4": 3, "9": 25, "10": 27, "11": 27, "17": 3, "18": 1} {
		assert.InDelta(t, want, ways[score], 1e-9, score)
	}
	assert.Len(t, ways, 16)
	assert.InDelta(t, 0.5, o.Outcomes["high"], 1e-10)
	assert.Equal(t, big.NewInt(216), o.Passages)
	assert.Equal(t, big.NewInt(216), o.Answered)
	assert.Equal(t, "3", o.Scores["pips"].Lowest().String())
	assert.Equal(t, "18", o.Scores["pips"].Highest().String())
	assert.InDelta(t, 10.5, o.Scores["pips"].Mean, 1e-10)
	assert.InDelta(
		t,
		3*35.0/12,
		o.Scores["pips"].Spread*o.Scores["pips"].Spread,
		1e-9,
		"the variance of a die is 35/12",
	)
	assert.InDelta(t, 3, o.Questions(), 1e-10)
}
