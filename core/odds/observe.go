package odds

import (
	"maps"
	"slices"

	"omphalos/core/passage"
	"omphalos/core/program"
)

// Observe counts passages that respondents have walked, each as the program walks it:
// answers stay together as they were given together. The odds have shares of all of them,
// 0 to 1, and their number in Observed; what can be reached and what always holds are no
// matter of counting and stay empty, as do Threads and Passages. The inputs are not kept.
func Observe(p *program.Program, passages []passage.Input) *Odds {
	o := empty()
	o.Observed = len(passages)
	o.Lengths = make([]float64, len(p.Questions)+1)
	all := &Sampled{Path: true, Outcomes: true, Scales: map[string]bool{}}
	for _, key := range p.ScaleKeys() {
		all.Scales[key] = true
	}
	each := 1 / float64(max(len(passages), 1))
	t, w := newTally(p), passage.NewWalker(p)
	flows := map[Flow]int{}
	for _, in := range passages {
		got := t.take(all, p, w, in)
		from := ""
		for _, i := range got.Seen {
			flows[Flow{From: from, To: p.Key(i)}]++
			from = p.Key(i)
		}
		end := Flow{From: from, End: got.End}
		if got.End != program.Decided {
			end.Outcome = passage.OutcomeKey(p, got)
		}
		flows[end]++
	}
	o.count(all, p, &t, each)
	for i, key := range p.ScaleKeys() {
		shares := map[scored]float64{}
		for score, n := range t.scores[i] {
			shares[score] = float64(n) * each
		}
		o.Scores[key] = scaleOf(shares)
	}
	o.Flows = slices.SortedFunc(maps.Keys(flows), func(a, b Flow) int { return compareFlows(p, a, b) })
	for i, f := range o.Flows {
		o.Flows[i].Share = float64(flows[f]) * each
	}
	return o
}
