package learn

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/inference"
	"omphalos/store/tally"
	"omphalos/web/ui"
)

// A beside is a figure of the other slice, with how far both differ.
type beside struct {
	Count int
	Part  float64
	Width float64 // of a bar of 100
	Words string  // the difference and its interval
	Sure  string  // whether it is chance, "" where that can not be told
}

// A comparing reads a second slice at the places of the first.
type comparing struct {
	in     tally.Slice
	count  int
	out    map[string]int // who were screened out, by outcome
	outAll int
	looks  []look
	asked  bool // answers are compared, not what came of them
	named  bool // the sentence itself is about what is compared: that they differ says nothing
}

// A look is a difference that was looked at.
type look struct {
	chance float64 // how often it is so large where there is nothing behind
	asked  bool    // it is of an answer
	says   string
	of     *beside
	apart  float64 // in standard terms, to put the largest first
}

// share compares how many of all have something in both slices.
func (v *comparing) share(what string, count1, all1, count2, all2 int) *beside {
	difference, low, high := inference.Newcombe(count1, all1, count2, all2)
	b := &beside{Count: count2, Part: part(count2, all2)}
	b.Width = 100 * b.Part
	if v.named || all1 == 0 || all2 == 0 {
		return b
	}
	b.Words = fmt.Sprintf("%s points (%s to %s)", points(difference), points(low), points(high))
	often := "more often"
	if difference < 0 {
		often = "less often"
	}
	says := fmt.Sprintf("%s %s: %s against %s", what, often, ui.Percent(part(count1, all1)), ui.Percent(b.Part))
	v.looks = append(v.looks, look{inference.TwoProportions(count1, all1, count2, all2), v.asked, says, b,
		math.Abs(difference)})
	return b
}

// mean compares the means of numbers in millionths.
func (v *comparing) mean(what string, of1, of2 []tally.Bin) *beside {
	difference, low, high, chance := inference.Welch(of1, of2)
	b := &beside{}
	if v.named || len(of2) == 0 || math.IsInf(low, 0) {
		return b
	}
	signed := func(n float64) string { return decimal.Decimal(rounded(n)).Signed() }
	b.Words = fmt.Sprintf("%s there, which is %s (%s to %s)", rounded(inference.Mean(of2)).Words(),
		signed(difference), signed(low), signed(high))
	says := fmt.Sprintf("%s: a mean of %s against %s", what, rounded(inference.Mean(of1)).Words(),
		rounded(inference.Mean(of2)).Words())
	v.looks = append(v.looks, look{chance, v.asked, says, b, 0})
	return b
}

// about says of which field of the sentence the figures are that are compared next.
func (r *reading) about(field string) {
	if r.versus != nil {
		r.versus.asked = strings.HasPrefix(field, "answer.") || strings.HasPrefix(field, "amount.")
		r.versus.named = r.slice.Asked.Has(field) || r.slice.versus == "vs."+field
	}
}

func part(count, all int) float64 { return float64(count) / float64(max(all, 1)) }

// points writes a difference of shares in percent points.
func points(n float64) string { return decimal.FromInt(int64(math.Round(100 * n))).Signed() }

// mostSaid is how many differences are said in sentences.
const mostSaid = 6

// A comparison is what two slices differ in.
type comparison struct {
	Words string // what it is compared with
	Drop  string // address without it
	Count int
	Few   string // a warning, "" where there are enough on both sides
	Looks int    // how many figures were looked at
	Said  []string
	Need  string // how many more would show the largest difference, where none is sure
}

// The chance that is left out of account, and the one that is hardly any, with all looks
// taken together.
const (
	likely     = 0.05
	veryLikely = 0.01
)

// settle says of each difference whether it is chance, with all of them taken together, and
// puts the surest into sentences.
func (v *comparing) settle(count1 int) comparison {
	c := comparison{Count: v.count, Looks: len(v.looks)}
	if least := min(count1, v.count); least < fewest {
		c.Few = fmt.Sprintf("%s on a side: wait for %d before you believe a difference.",
			ui.Plural(least, "response", "responses"), fewest)
	}
	// What came of them is asked first, and answers, of which there are many, by themselves.
	sure := append(surest(v.looks, false), surest(v.looks, true)...)
	for _, s := range sure[:min(len(sure), mostSaid)] {
		c.Said = append(c.Said, s.says+", "+s.of.Sure)
	}
	return c
}

// surest says of each look, at answers or at what came of them, whether it is chance with all
// of these taken together, and returns those that are not, the surest first.
func surest(looks []look, asked bool) []look {
	var these []look
	var chances []float64
	for _, l := range looks {
		if l.asked == asked {
			these, chances = append(these, l), append(chances, l.chance)
		}
	}
	var sure []look
	for i, together := range inference.Holm(chances) {
		l := these[i]
		switch {
		case together < veryLikely:
			l.of.Sure = "very likely not chance"
		case together < likely:
			l.of.Sure = "likely not chance"
		default:
			l.of.Sure = "may be chance"
			continue
		}
		sure = append(sure, l)
	}
	slices.SortStableFunc(sure, func(a, b look) int {
		return cmp.Or(cmp.Compare(a.chance, b.chance), cmp.Compare(b.apart, a.apart))
	})
	return sure
}

// need says how many more on each side would show that one of them is finished more often, or
// else the largest difference of outcomes, where that is not sure.
func (r *reading) need(list []outcomeFigure) string {
	best, words := 0, ""
	if f := r.flow; f.Beside != nil && f.Beside.Sure == "may be chance" && ui.Percent(f.Beside.Part) != f.FinishedPart {
		over := f.Began - f.Under
		if more := inference.Enough(part(f.Finished, over), f.Beside.Part) - min(over, f.otherOver); more > 0 {
			return fmt.Sprintf("If %s against %s who finish is how it is, about %s on each side would show it.",
				f.FinishedPart, ui.Percent(f.Beside.Part), ui.Plural(more, "more who begin", "more who begin"))
		}
	}
	for _, o := range list {
		if o.Beside == nil || o.Beside.Sure != "may be chance" || ui.Percent(o.Part) == ui.Percent(o.Beside.Part) {
			continue
		}
		enough := inference.Enough(o.Part, o.Beside.Part)
		if more := enough - min(r.count, r.versus.count); more > 0 && (best == 0 || more < best) {
			best = more
			words = fmt.Sprintf("If %s against %s for %s is how it is, about %s on each side would show it.",
				ui.Percent(o.Part), ui.Percent(o.Beside.Part), o.Name, ui.Plural(more, "more response", "more responses"))
		}
	}
	return words
}
