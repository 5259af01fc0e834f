package learn

import (
	"fmt"
	"slices"

	"omphalos/core/quiz"
	"omphalos/core/replay"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// Streams lead from the outcomes before to those after, as wide as there are people. Outcomes stand
// in the order of the sheet, and so do the streams at each.
type streams struct {
	Height        float64
	Before, After []stand
	Flows         []stream
}

// A stand is an outcome on one side.
type stand struct {
	desk.Share
	Y, Height, Words float64 // Words: where its name stands
	More             string  // how many more or fewer than before
}

// A stream is those who go from one to another.
type stream struct {
	Path, Class, Words string
	Stays              bool
	X, Y               float64 // of the figure, where it fits
	Figure             string
}

// The measures of the drawing, in pixels.
const (
	streamsLeft   = 170.0
	streamsRight  = 470.0
	streamsPost   = 10.0 // width of an outcome
	streamsHigh   = 340.0
	streamsApart  = 30.0 // between outcomes
	streamsNaming = 34.0 // height of a name with its figure
)

// streamsOf lays the streams of a flow out.
func streamsOf(before, after *quiz.Quiz, flow map[replay.Move]int) streams {
	all := 0
	was, is := map[string]int{}, map[string]int{}
	for m, n := range flow {
		all += n
		was[m.Before] += n
		is[m.After] += n
	}
	if all == 0 {
		return streams{}
	}
	per := streamsHigh / float64(all)
	var s streams
	left, leftTo := stands(before, was, per)
	right, rightTo := stands(after, is, per)
	for i := range right {
		if n := right[i].Count - was[right[i].Outcome]; n != 0 {
			right[i].More = minus(fmt.Sprintf("(%+d)", n))
		}
	}
	s.Before, s.After = left, right
	s.Height = max(leftTo, rightTo)
	out, in := map[string]float64{}, map[string]float64{} // how much of a stand is taken already
	for _, a := range left {
		for _, b := range right {
			n := flow[replay.Move{Before: a.Outcome, After: b.Outcome}]
			if n == 0 {
				continue
			}
			wide := float64(n) * per
			one := leading(a.Y+out[a.Outcome], b.Y+in[b.Outcome], wide)
			one.Class, one.Stays = a.Class, a.Outcome == b.Outcome
			one.Words = fmt.Sprintf("%s from %s to %s", ui.Count(n), a.Name, b.Name)
			if !one.Stays {
				one.Figure = ui.Count(n)
			}
			s.Flows = append(s.Flows, one)
			out[a.Outcome] += wide
			in[b.Outcome] += wide
		}
	}
	// Those who stay lie behind those who move.
	slices.SortStableFunc(s.Flows, func(a, b stream) int {
		switch {
		case a.Stays == b.Stays:
			return 0
		case a.Stays:
			return -1
		}
		return 1
	})
	return s
}

// leading is a stream of some width from a height on the left to one on the right.
func leading(from, to, wide float64) stream {
	x1, x2 := streamsLeft+streamsPost, streamsRight
	middle := (x1 + x2) / 2
	path := fmt.Sprintf("M%.1f %.1fC%.1f %.1f %.1f %.1f %.1f %.1fV%.1fC%.1f %.1f %.1f %.1f %.1f %.1fZ",
		x1, from, middle, from, middle, to, x2, to, to+wide, middle, to+wide, middle, from+wide, x1, from+wide)
	return stream{Path: path, X: x1 + (x2-x1)*0.3, Y: from + (to-from)*0.216 + wide/2 + 4} // on the curve at 0.3
}

// stands puts the outcomes of a side under each other, and returns how far they reach.
func stands(q *quiz.Quiz, counts map[string]int, per float64) ([]stand, float64) {
	keys := slices.DeleteFunc(quiz.InOrder(q.Outcomes), func(key string) bool { return counts[key] == 0 })
	var others []string
	for key := range counts {
		if q.Outcomes[key] == nil {
			others = append(others, key)
		}
	}
	slices.Sort(others)
	var list []stand
	y := 18.0
	for _, key := range append(keys, others...) {
		one := stand{Share: shownOutcome(q, key), Y: y, Height: float64(counts[key]) * per}
		one.Count = counts[key]
		one.Words = y + 12
		y += max(one.Height, streamsNaming) + streamsApart
		list = append(list, one)
	}
	return list, y
}
