package odds

import (
	"cmp"
	"fmt"
	"math/big"
	"math/rand/v2"
	"slices"
	"strings"

	"omphalos/core/expect"
	"omphalos/core/odds/explore"
	"omphalos/core/passage"
	"omphalos/core/program"
)

// tell reads kinds, knots and strands off what was followed.
func (n *net) tell(e *explore.Explorer) *Ways {
	w := &Ways{Knots: map[Knot]float64{}, Strands: map[Strand]float64{}}
	last := len(n.p.Questions)
	kinds := map[string]int{}
	arrived := make([]Knot, len(n.places[last].states))
	for s := range n.places[last].states {
		state := &n.places[last].states[s]
		f := e.Finish(state.move, state.vector)
		f.Tied = ""
		outcome := n.p.OutcomeAt(f.Outcome)
		arrived[s] = Knot{End, outcome, f.End == program.Parted}
		if !n.through(n.paths[state.path], outcome) {
			continue
		}
		state.success, state.goes = 1, true
		w.Share += state.share
		w.Knots[arrived[s]] += state.share
		k := fmt.Sprint(state.path, f)
		if _, known := kinds[k]; !known {
			kinds[k] = len(w.Kinds)
			w.Kinds = append(w.Kinds, Kind{n.paths[state.path], f, 0, new(big.Int), n.example(e, s)})
		}
		kind := &w.Kinds[kinds[k]]
		kind.Share += state.share
		kind.Passages.Add(kind.Passages, state.ways)
	}
	for i := last - 1; i >= 0; i-- {
		for s := range n.places[i].states {
			state := &n.places[i].states[s]
			for _, l := range state.leads {
				next := &n.places[l.at].states[l.to]
				state.success += e.Effects(i)[l.effect].Share * next.success
				state.goes = state.goes || next.goes
			}
		}
	}
	n.strands(e, w, arrived)
	return w
}

// strands adds up who goes from which knot to which, of those that succeed.
func (n *net) strands(e *explore.Explorer, w *Ways, arrived []Knot) {
	last := len(n.p.Questions)
	coming := make([][]map[Knot]float64, last+1) // by place and state: who comes there by which knot
	for i := range coming {
		coming[i] = make([]map[Knot]float64, len(n.places[i].states))
	}
	for i := range last {
		for s := range n.places[i].states {
			state := &n.places[i].states[s]
			for _, l := range state.leads {
				f, next := &e.Effects(i)[l.effect], &n.places[l.at].states[l.to]
				if !next.goes {
					continue
				}
				for _, one := range n.knots(i, f) {
					here := state.share * one.share
					w.Knots[one.knot] += here * next.success
					for from, share := range coming[i][s] {
						w.Strands[Strand{from, one.knot}] += share * one.share * next.success
					}
					if coming[l.at][l.to] == nil {
						coming[l.at][l.to] = map[Knot]float64{}
					}
					coming[l.at][l.to][one.knot] += here
				}
			}
		}
		coming[i] = nil
	}
	for s := range n.places[last].states {
		if !n.places[last].states[s].goes {
			continue
		}
		for from, share := range coming[last][s] {
			w.Strands[Strand{from, arrived[s]}] += share * n.places[last].states[s].success
		}
	}
}

// A part is what an effect has of a knot.
type knotPart struct {
	knot  Knot
	share float64
}

// knots returns the knots of an effect of question i.
func (n *net) knots(i int, f *explore.Effect) []knotPart {
	if len(f.Each) == 0 {
		return []knotPart{{Knot{Question: i}, f.Share}}
	}
	list := make([]knotPart, len(f.Each))
	for k, a := range f.Each {
		list[k] = knotPart{Knot{Question: i, Name: strings.Join(n.p.NamesOf(i, a.Value), ",")}, a.Share}
	}
	return list
}

// example returns a passage that ends in a state.
func (n *net) example(e *explore.Explorer, s int) passage.Input {
	in := passage.Input{Answers: make(program.Answers, len(n.p.Questions)), Visitor: &program.Visitor{}}
	if n.assumed.Visitor != nil {
		*in.Visitor = *n.assumed.Visitor
	}
	for l := n.places[len(n.p.Questions)].states[s].first; l.question >= 0; {
		in.Answers[l.question] = e.Effects(l.question)[l.effect].Value
		l = n.places[l.question].states[l.state].first
	}
	return in
}

// draw tells the ways from a sample.
func (n *net) draw(with Options) *Ways {
	w := &Ways{Knots: map[Knot]float64{}, Strands: map[Strand]float64{}, Sampled: cmp.Or(with.Sample, drawnWays)}
	in := passage.Input{Answers: make(program.Answers, len(n.p.Questions)), Visitor: with.Visitor}
	drawer, walker := expect.NewDrawer(n.p, n.assumed), passage.NewWalker(n.p)
	r, kinds, each := rand.New(rand.NewPCG(with.Seed, 0)), map[string]int{}, 1/float64(w.Sampled)
	for range w.Sampled {
		if with.Context.Err() != nil {
			return w
		}
		n.take(w, kinds, drawer, walker, r, in, each)
	}
	return w
}

func (n *net) take(w *Ways, kinds map[string]int, d *expect.Drawer, walker *passage.Walker, r *rand.Rand,
	in passage.Input, each float64) {
	d.Draw(r, in.Answers)
	got := walker.Walk(in)
	f := walker.Finish()
	f.Tied = ""
	outcome := n.p.OutcomeAt(f.Outcome)
	if !n.through(got.Seen, outcome) {
		return
	}
	for _, i := range got.Seen {
		if !n.assumed.Follows(n.p, i, in.Answers[i]) {
			return
		}
	}
	w.Share += each
	var before *Knot
	tie := func(k Knot) {
		w.Knots[k] += each
		if before != nil {
			w.Strands[Strand{*before, k}] += each
		}
		before = &k
	}
	for _, i := range got.Seen {
		k := Knot{Question: i}
		if n.p.Questions[i].Listed() {
			k.Name = strings.Join(n.p.NamesOf(i, in.Answers[i]), ",")
		}
		tie(k)
	}
	tie(Knot{End, outcome, f.End == program.Parted})
	k := fmt.Sprint(got.Seen, f)
	if _, known := kinds[k]; !known {
		kinds[k] = len(w.Kinds)
		example := passage.Input{Answers: slices.Clone(in.Answers), Visitor: in.Visitor}
		for i := range example.Answers {
			example.Answers[i].Picks = slices.Clone(example.Answers[i].Picks)
			if !slices.Contains(got.Seen, i) {
				example.Answers[i] = program.Value{}
			}
		}
		w.Kinds = append(w.Kinds, Kind{Questions: slices.Clone(got.Seen), Finish: f, Example: example})
	}
	w.Kinds[kinds[k]].Share += each
}
