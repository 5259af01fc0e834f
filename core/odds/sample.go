package odds

import (
	"cmp"
	"context"
	"maps"
	"math/big"
	"math/rand/v2"
	"runtime"
	"slices"

	"golang.org/x/sync/errgroup"

	"omphalos/core/expect"
	"omphalos/core/passage"
	"omphalos/core/program"
)

// chunks is how many streams of chance a sample is made of, so that it is the same
// on any number of cores.
const chunks = 64

// A tally counts what happened on the passages of one chunk.
type tally struct {
	finishes map[program.Finish]int
	scores   []map[scored]int
	seen     []int
	lengths  []int
	names    []map[string]int
}

// sample fills the parts of the odds that no walk could tell.
func (o *Odds) sample(ctx context.Context, w walks) {
	p, assumed := w.p, w.assumed
	size := o.Sampled.Size
	tallies := make([]tally, chunks)
	drawer := expect.NewDrawer(p, assumed)
	var group errgroup.Group
	group.SetLimit(runtime.GOMAXPROCS(0))
	for c := range tallies {
		group.Go(func() error {
			n := size / chunks
			if c < size%chunks {
				n++
			}
			tallies[c] = o.drawn(ctx, w, drawer, rand.New(rand.NewPCG(o.Sampled.Seed, uint64(c))), n)
			return nil
		})
	}
	_ = group.Wait()
	each := 1 / float64(size)
	scores := make([]map[scored]float64, len(p.ScaleKeys()))
	for i := range scores {
		scores[i] = map[scored]float64{}
	}
	if o.Sampled.Path {
		o.Lengths, o.Passages = make([]float64, len(p.Questions)+1), new(big.Int)
	}
	for _, t := range tallies {
		o.count(o.Sampled, p, &t, each)
		for i := range t.scores {
			for score, n := range t.scores[i] {
				scores[i][score] += float64(n) * each
			}
		}
	}
	bounds := BoundsOf(p)
	for i, key := range p.ScaleKeys() {
		if o.Sampled.Scales[key] {
			o.Scores[key] = scaleOf(scores[i])
			o.Scores[key].Within = bounds[i]
		}
	}
}

// drawn walks n passages.
func (o *Odds) drawn(ctx context.Context, of walks, d *expect.Drawer, r *rand.Rand, n int) tally {
	t := newTally(of.p)
	in := passage.Input{Answers: make(program.Answers, len(of.p.Questions)), Visitor: of.assumed.Visitor}
	w := passage.NewWalker(of.p)
	for k := range n {
		if k%16 == 15 && ctx.Err() != nil {
			return t
		}
		d.Draw(r, in.Answers)
		t.take(o.Sampled, of.p, w, in)
	}
	return t
}

func newTally(p *program.Program) tally {
	t := tally{
		finishes: map[program.Finish]int{},
		scores:   make([]map[scored]int, len(p.ScaleKeys())),
		seen:     make([]int, len(p.Questions)),
		lengths:  make([]int, len(p.Questions)+1),
		names:    make([]map[string]int, len(p.Questions)),
	}
	for i := range t.scores {
		t.scores[i] = map[scored]int{}
	}
	for i := range t.names {
		t.names[i] = map[string]int{}
	}
	return t
}

// take walks a passage and counts what is wanted of it.
func (t *tally) take(wanted *Sampled, p *program.Program, w *passage.Walker, in passage.Input) *passage.Result {
	got := w.Walk(in)
	t.finishes[w.Finish()]++
	for i, key := range p.ScaleKeys() {
		if wanted.Scales[key] {
			t.scores[i][scored{got.Scores[i], got.End}]++
		}
	}
	if !wanted.Path {
		return got
	}
	asked := 0
	for _, i := range got.Seen {
		t.seen[i]++
		if p.Asks(i) {
			asked++
		}
		for _, name := range p.NamesOf(i, in.Answers[i]) {
			t.names[i][name]++
		}
	}
	t.lengths[asked]++
	return got
}

// count adds a tally to the odds.
func (o *Odds) count(wanted *Sampled, p *program.Program, t *tally, each float64) {
	for _, f := range slices.SortedFunc(maps.Keys(t.finishes), compareFinishes) {
		n := t.finishes[f]
		if wanted.Outcomes {
			o.end(p, f, float64(n)*each)
		}
		if wanted.Path {
			o.Ends[f.End] += float64(n) * each
		}
	}
	if !wanted.Path {
		return
	}
	for i, n := range t.seen {
		key := p.Key(i)
		if n > 0 {
			o.Seen[key] += float64(n) * each
		}
		for _, name := range p.Names(i) {
			if o.Answers[key] == nil {
				o.Answers[key] = map[string]float64{}
			}
			o.Answers[key][name] += float64(t.names[i][name]) * each
		}
	}
	for n, k := range t.lengths {
		o.Lengths[n] += float64(k) * each
	}
}

// compareFinishes puts finishes in an order, so that sums come out the same.
func compareFinishes(a, b program.Finish) int {
	return cmp.Or(cmp.Compare(a.End, b.End), cmp.Compare(a.Step, b.Step), cmp.Compare(a.Part, b.Part),
		cmp.Compare(a.Outcome, b.Outcome), cmp.Compare(a.Landing, b.Landing), cmp.Compare(a.Tied, b.Tied))
}
