package sheet

import (
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

func orchard(t *testing.T) *quiz.Quiz {
	t.Helper()
	data, err := os.ReadFile("../../../cmd/omphalos/demo/orchard.json")
	require.NoError(t, err)
	q, err := quiz.Read(data)
	require.NoError(t, err)
	return q
}

func oddsOf(t *testing.T, q *quiz.Quiz) *odds.Odds {
	t.Helper()
	p, err := program.Compile(q)
	require.NoError(t, err)
	o, err := odds.Of(p, odds.Options{})
	require.NoError(t, err)
	return o
}

// Every thread is whole: from the row where it leaves to the row where it
// comes, it is in each row between, in one lane, and no two share a lane.
func TestThreadsAreWhole(t *testing.T) {
	q := orchard(t)
	q.Questions["crop"].Answers["none"].Then = &quiz.Then{Go: quiz.PartWays, To: "not_yet"}
	q.Questions["bloom"].Answers["not_now"].Then = &quiz.Then{Go: quiz.ToQuestion, To: "budget"}
	q.Questions["hives"].Answers["enough"].Then = &quiz.Then{Go: quiz.Decide}
	o := oddsOf(t, q)
	m := threads(q, o)

	rows := []quiz.Pointer{"/opening"}
	for _, k := range q.QuestionKeys() {
		rows = append(rows, quiz.At("questions", k))
		for _, a := range quiz.InOrder(q.Questions[k].Answers) {
			rows = append(rows, quiz.At("questions", k, "answers", a))
		}
	}
	rows = append(rows, "/decision", "/outcomes/walk", "/outcomes/plan", "/outcomes/not_yet")
	follow := func(name, from, to quiz.Pointer) {
		inside, x := false, 0.0
		for _, row := range rows {
			var found *piece
			for i, p := range m[row].Pieces {
				if p.Name == name {
					found = &m[row].Pieces[i]
				}
			}
			if row == from {
				inside = true
				require.NotNil(t, found, row)
				x = found.X
			}
			assert.Equal(t, inside, found != nil, "%s beside %s", name, row)
			if found != nil {
				assert.Equal(t, x, found.X, "%s keeps its lane", name)
				if row == to {
					assert.Equal(t, coming, found.Shape)
				}
			}
			if row == to {
				inside = false
			}
		}
	}
	follow("/questions/crop/answers/none", "/questions/crop/answers/none", "/outcomes/not_yet")
	follow("/questions/bloom/answers/not_now", "/questions/bloom/answers/not_now", "/questions/budget")
	follow("/questions/hives/answers/enough", "/questions/hives/answers/enough", "/decision")
	for _, k := range []string{"walk", "plan", "not_yet"} {
		follow(quiz.At("outcomes", k), "/decision", quiz.At("outcomes", k))
	}
	for _, row := range rows {
		lanes := map[float64]int{}
		for _, p := range m[row].Pieces {
			if p.Shape == passing && p.X != trunkX {
				lanes[p.X]++
				assert.Equal(t, 1, lanes[p.X], "two threads in one lane beside %s", row)
			}
			assert.True(t, p.X >= 4 && p.X <= trunkX)
		}
	}
}

func TestTheRulerIsTrueToScale(t *testing.T) {
	q := orchard(t)
	o := oddsOf(t, q)
	r := newRuler(q, "bands", q.Decision.Steps["bands"], o, o)
	assert.Equal(t, "-1", r.Low)
	assert.Equal(t, "29", r.High)
	require.Len(t, r.Cuts, 2)
	place := func(score float64) float64 { return r.Left + (score+1)*r.PerScore }
	assert.InDelta(t, place(10), r.Cuts[0].X, 1e-9)
	assert.InDelta(t, place(18), r.Cuts[1].X, 1e-9)
	for _, b := range r.Bars {
		score := decimal.Must(b.Words).Float64()
		assert.InDelta(t, place(score), b.X, 1)
		got := "walk"
		if score < 10 {
			got = "not_yet"
		} else if score < 18 {
			got = "plan"
		}
		assert.Equal(t, hueOf(q, got), b.Class, "the bar of %v has the colour of its band", score)
	}
	paints := r.Paints()
	require.Len(t, paints, 3, "a colour each")
	for i, key := range []string{"not_yet", "plan", "walk"} {
		own := slices.DeleteFunc(slices.Clone(r.Bars), func(b bar) bool { return b.Class != paints[i].Class })
		assert.Equal(t, hueOf(q, key), paints[i].Class)
		assert.Equal(t, len(own), strings.Count(paints[i].Path, "M"), "a bar each")
		assert.True(t, strings.HasPrefix(paints[i].Path, fmt.Sprintf("M%.2f %.2fh%.2fv", own[0].X, own[0].Y, own[0].Width)))
	}
	sum := 0.0
	for _, b := range r.Bands {
		sum += b.Share
	}
	assert.InDelta(t, 1, sum, 1e-12)
	assert.Equal(t, []string{"", "10", "18"}, []string{r.Bands[0].From, r.Bands[1].From, r.Bands[2].From})
	assert.InDelta(t, o.Outcomes["plan"], r.Bands[1].Share, 1e-12)
}

// Where there was no time for the odds, the sheet says so and shows the draft all the same.
func TestTheSheetSaysThatOddsAreMissing(t *testing.T) {
	q := orchard(t)
	p, err := program.Compile(q)
	require.NoError(t, err)
	sh := &Sheet{Doc: q, program: p}
	require.Len(t, sh.Notes(), 1)
	assert.Contains(t, sh.Notes()[0], "could not be worked out in time")
	sh.columns()
	require.Len(t, sh.Columns, 1)
	assert.Empty(t, sh.Columns[0].Lowest)
	assert.NotEmpty(t, threads(q, nil))
	assert.False(t, newRuler(q, "bands", q.Decision.Steps["bands"], nil, nil).Told)
}
