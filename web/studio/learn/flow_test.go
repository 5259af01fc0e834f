package learn

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/quiz"
	"omphalos/store/tally"
)

// Nobody is lost on the way: whoever left is at a question, behind all of them or elsewhere; the
// stream is as wide as those who are still there, narrows by those who left, and ends as wide
// as those who finished or were asked who they are.
func TestTheStreamNarrows(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := reading{quiz: &quiz.Quiz{Questions: map[string]*quiz.Question{}},
			flow: flow{Told: true, left: map[string][]tally.Bin{}}}
		var list []questionFigure
		finished := rapid.IntRange(0, 500).Draw(t, "finished")
		for i := range rapid.IntRange(1, 8).Draw(t, "questions") {
			key := fmt.Sprint("q", i)
			r.keys = append(r.keys, key)
			if rapid.IntRange(0, 3).Draw(t, "kind") > 0 {
				list = append(list, questionFigure{Key: key, Asked: rapid.IntRange(0, finished).Draw(t, "asked")})
			}
		}
		gone := 0
		for _, place := range append([]string{contactPlace, "", "asked before"}, r.keys...) {
			n := rapid.IntRange(0, 60).Draw(t, "left")
			r.flow.left[place] = []tally.Bin{{Value: 5, Count: n}}
			gone += n
		}
		r.flow = r.flow.with(finished)
		require.Equal(t, gone, r.flow.gone())
		r.reaches(list)
		if len(list) == 0 || list[0].Reach == nil {
			return
		}
		var wide [][2]float64 // of each reach at its top and its bottom, in people
		here, along := finished+gone-r.flow.Elsewhere, 0
		for _, q := range list {
			var left, right, low float64
			_, err := fmt.Sscanf(q.Reach.All, "M%f 0H%f", &left, &right)
			require.NoError(t, err)
			var x [5]float64
			_, err = fmt.Sscanf(q.Reach.All, "M%f 0H%fC%f 60 %f 40 %f 100H%f", &left, &right, &x[0], &x[1], &x[2], &low)
			require.NoError(t, err)
			people := float64(finished+gone-r.flow.Elsewhere) / streamMost
			wide = append(wide, [2]float64{(right - left) * people, (x[2] - low) * people})
			assert.InDelta(t, here, wide[len(wide)-1][0], 0.2*people+0.01)
			here, along = here-q.Reach.Left, along+q.Reach.Left
			assert.InDelta(t, here, wide[len(wide)-1][1], 0.2*people+0.01)
			assert.LessOrEqual(t, q.Reach.Left, q.Reach.People)
		}
		assert.Equal(t, gone, along+r.flow.AtContact+r.flow.Elsewhere)
		assert.Equal(t, finished+r.flow.AtContact, here)
	})
}

// What is sure comes out surest first, and none that may be chance with all looks together.
func TestSurest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var looks []look
		for i, chance := range rapid.SliceOfN(rapid.Float64Range(0, 0.2), 1, 12).Draw(t, "chances") {
			looks = append(looks, look{chance: chance, asked: i%2 == 0, says: fmt.Sprint(i), of: &beside{}})
		}
		for _, asked := range []bool{true, false} {
			sure, before := surest(looks, asked), -1.0
			of := 0
			for _, l := range looks {
				if l.asked == asked {
					of++
				}
			}
			for _, l := range sure {
				assert.GreaterOrEqual(t, l.chance, before)
				assert.Equal(t, asked, l.asked)
				assert.NotEqual(t, "may be chance", l.of.Sure)
				before = l.chance
			}
			for _, l := range looks { // none is told as sure that not even alone would be
				if l.asked == asked && l.chance >= likely {
					assert.Equal(t, "may be chance", l.of.Sure)
				}
				if l.asked == asked && l.chance*float64(of) < likely { // Bonferroni's bound
					assert.NotEqual(t, "may be chance", l.of.Sure)
				}
			}
		}
	})
}
