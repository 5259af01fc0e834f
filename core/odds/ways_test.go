package odds_test

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// knotsOf returns the knots that a passage goes through, in their order.
func knotsOf(p *program.Program, in passage.Input, r *passage.Result) []odds.Knot {
	var list []odds.Knot
	for _, i := range r.Seen {
		k := odds.Knot{Question: i}
		if p.Questions[i].Listed() {
			k.Name = strings.Join(p.NamesOf(i, in.Answers[i]), ",")
		}
		list = append(list, k)
	}
	return append(list, odds.Knot{Question: odds.End, Name: passage.OutcomeKey(p, r), Parts: r.End == program.Parted})
}

// goes tells whether knots go through what is picked: of one question through any of it.
func goes(knots, picked []odds.Knot) bool {
	met := map[int]bool{}
	for _, pick := range picked {
		met[pick.Question] = met[pick.Question] || slices.Contains(knots, pick)
	}
	for _, ok := range met {
		if !ok {
			return false
		}
	}
	return true
}

// everyWay walks every passage one by one, and sorts them into kinds.
func everyWay(p *program.Program, picked []odds.Knot) *odds.Ways {
	w := &odds.Ways{Knots: map[odds.Knot]float64{}, Strands: map[odds.Strand]float64{}}
	kinds, walker := map[string]int{}, passage.NewWalker(p)
	quiztest.Passages(p, func(in passage.Input, r *passage.Result, share float64) {
		knots := knotsOf(p, in, r)
		if !goes(knots, picked) {
			return
		}
		w.Share += share
		for i, k := range knots {
			w.Knots[k] += share
			if i > 0 {
				w.Strands[odds.Strand{From: knots[i-1], To: k}] += share
			}
		}
		walker.Walk(in)
		f := walker.Finish()
		f.Tied = ""
		key := fmt.Sprint(r.Seen, f)
		if _, known := kinds[key]; !known {
			kinds[key] = len(w.Kinds)
			w.Kinds = append(w.Kinds, odds.Kind{Questions: slices.Clone(r.Seen), Finish: f})
		}
		w.Kinds[kinds[key]].Share += share
	})
	return w
}

// sameWays holds what was followed against what was walked: no kind is missing, none is
// there twice, and each has an example that goes so.
func sameWays(t require.TestingT, p *program.Program, want, got *odds.Ways) {
	require.InDelta(t, want.Share, got.Share, max(closely(p), 1e-9))
	shares, all := map[string]float64{}, 0.0
	for _, k := range want.Kinds {
		shares[fmt.Sprint(k.Questions, k.Finish)] = k.Share
	}
	require.Len(t, got.Kinds, len(want.Kinds))
	walker := passage.NewWalker(p)
	for _, k := range got.Kinds {
		key := fmt.Sprint(k.Questions, k.Finish)
		share, there := shares[key]
		require.True(t, there, "%s is there once and was walked", key)
		delete(shares, key)
		require.InDelta(t, share, k.Share, max(closely(p), 1e-9), key)
		all += k.Share
		r := walker.Walk(k.Example)
		f := walker.Finish()
		f.Tied = ""
		require.Equal(t, key, fmt.Sprint(r.Seen, f), "its example")
	}
	require.Empty(t, shares)
	require.InDelta(t, got.Share, all, max(closely(p), 1e-9))
	for k, share := range want.Knots {
		require.InDelta(t, share, got.Knots[k], max(closely(p), 1e-9), "%v", k)
	}
	for s, share := range want.Strands {
		require.InDelta(t, share, got.Strands[s], max(closely(p), 1e-9), "%v", s)
	}
	for s, share := range got.Strands {
		require.Contains(t, want.Strands, s, "only what goes through the pick")
		require.InDelta(t, want.Strands[s], share, max(closely(p), 1e-9), "%v", s)
	}
	for k := range got.Knots {
		require.Contains(t, want.Knots, k)
	}
}

// The kinds of ways of generated quizzes, whole and through picked knots, are those of every
// passage walked one by one.
func TestWaysAreThoseOfEveryPassage(t *testing.T) {
	rapid.Check(t, waysAreThoseOfEveryPassage)
}

func waysAreThoseOfEveryPassage(t *rapid.T) {
	p, _ := drawn(t)
	var picked []odds.Knot
	all := everyWay(p, nil)
	knots := make([]odds.Knot, 0, len(all.Knots))
	for k := range all.Knots {
		knots = append(knots, k)
	}
	slices.SortFunc(knots, func(a, b odds.Knot) int { return strings.Compare(fmt.Sprint(a), fmt.Sprint(b)) })
	for range rapid.IntRange(0, 3).Draw(t, "picks") {
		if k := rapid.SampledFrom(knots).Draw(t, "knot"); k.Name != "" {
			picked = append(picked, k)
		}
	}
	for i := range picked { // an outcome is picked however it is come to
		picked[i].Parts = false
	}
	got, err := odds.Through(p, odds.Options{}, picked)
	require.NoError(t, err)
	require.Zero(t, got.Sampled)
	want := everyWay(p, nil)
	if len(picked) > 0 {
		want = everyWay(p, either(picked))
	}
	sameWays(t, p, want, got)
}

// either lists outcomes twice: with parting and without.
func either(picked []odds.Knot) []odds.Knot {
	list := slices.Clone(picked)
	for _, k := range picked {
		if k.Question == odds.End {
			k.Parts = true
			list = append(list, k)
		}
	}
	return list
}

// The demo's quizzes have as many passages as can be walked one by one.
func TestWaysOfTheDemo(t *testing.T) {
	files, err := filepath.Glob("../../cmd/omphalos/demo/*.json")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for _, file := range files {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		q, err := quiz.Read(data)
		require.NoError(t, err, file)
		p, err := program.Compile(q)
		require.NoError(t, err, file)
		o, err := odds.Of(p, odds.Options{})
		require.NoError(t, err)
		w, err := odds.Through(p, odds.Options{}, nil)
		require.NoError(t, err)
		t.Logf("%s: %s passages in %d kinds, sampled %d", filepath.Base(file), o.Passages, len(w.Kinds), w.Sampled)
		assert.InDelta(t, 1, w.Share, max(closely(p), 1e-9), file)
		if o.Passages.IsInt64() && o.Passages.Int64() < 500_000 {
			sameWays(t, p, everyWay(p, nil), w)
		}
		for i, key := range p.Quiz.QuestionKeys() {
			seen := 0.0
			for k, share := range w.Knots {
				if k.Question == i {
					seen += share
				}
			}
			assert.InDelta(t, o.Seen[key], seen, max(closely(p), 1e-9), "%s %s", file, key)
		}
	}
}

// Forty questions of eight answers are 8⁴⁰ passages, and few kinds of them.
func TestWaysOfForty(t *testing.T) {
	p := quiztest.Forty().Compile(t)
	w, err := odds.Through(p, odds.Options{}, []odds.Knot{{Question: 3, Name: "a2"}, {Question: odds.End, Name: "hot"}})
	require.NoError(t, err)
	assert.Zero(t, w.Sampled)
	assert.Len(t, w.Kinds, 1)
	assert.Len(t, w.Kinds[0].Questions, 40)
	assert.Less(t, w.Share, 1.0/8)
}

func BenchmarkWays(b *testing.B) {
	p := quiztest.Forty().Compile(b)
	for b.Loop() {
		_, err := odds.Through(p, odds.Options{}, nil)
		require.NoError(b, err)
	}
}
