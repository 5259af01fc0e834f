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

// Ways are all ways through a quiz, or those through picked knots: the net.
type Ways struct {
	Kinds   []Kind // the most frequent first
	Knots   map[Knot]float64
	Strands map[Strand]float64
	Share   float64 // of all respondents, that take these ways
	Sampled int     // from how many passages this is told; 0 where it is exact
}

// A Kind is passages that go the same way: they are asked the same questions and end by the
// same step, with the same outcome and landing.
type Kind struct {
	Questions []int // positions
	Finish    program.Finish
	Share     float64
	Passages  *big.Int      // how many different ones; nil where it is told from a sample
	Example   passage.Input // one of them
}

// A Knot is an answer on the net: its question's position and its name (program.Names),
// "" for any; or an outcome, whose Question is End.
type Knot struct {
	Question int
	Name     string
	Parts    bool // of an outcome: nothing is kept
}

// End is the Question of knots that are outcomes.
const End = -1

// A Strand is the passages that go from one knot to the next.
type Strand struct{ From, To Knot }

const (
	mostWays  = 1 << 14 // states that are kept, with how they were led to
	mostPaths = 1 << 10 // different lists of questions
	drawnWays = 1 << 12 // passages of a sample
)

// Through returns the ways through the picked knots: of those of one question through any,
// of several questions through all. Where following them takes too many states they are
// told from a sample. The error is the context's.
func Through(p *program.Program, with Options, picked []Knot) (*Ways, error) {
	with = with.whole()
	if with.Shares == nil {
		with.Shares = expect.Expected(p)
	}
	n := net{p: p, assumed: expect.Assume(p, with.Visitor, with.Shares), ends: map[string]bool{}}
	n.assumed.Given, n.assumed.Through = with.Given, make([]expect.Names, len(p.Questions))
	for _, k := range picked {
		if k.Question == End {
			n.ends[k.Name] = true
			continue
		}
		if n.assumed.Through[k.Question] == nil {
			n.assumed.Through[k.Question] = expect.Names{}
		}
		n.assumed.Through[k.Question][k.Name] = true
	}
	w := n.follow(with)
	if w == nil {
		w = n.draw(with)
	}
	if err := with.Context.Err(); err != nil {
		return nil, fmt.Errorf("following the ways: %w", err)
	}
	slices.SortStableFunc(w.Kinds, func(a, b Kind) int {
		return cmp.Or(cmp.Compare(b.Share, a.Share), slices.Compare(a.Questions, b.Questions))
	})
	return w, nil
}

// A net is how the ways are followed.
type net struct {
	p       *program.Program
	assumed *expect.Assumption
	ends    map[string]bool // outcomes that are picked; none for all
	paths   [][]int         // lists of questions
	after   map[[2]int]int  // the list that another and one more question make
	places  []site
}

// A site is the states before one question, or at the end.
type site struct {
	at     map[stand]int
	states []waystate
}

// A stand is what passages before a question have in common.
type stand struct {
	key
	path   int
	vector explore.Vector
}

type waystate struct {
	stand
	move    explore.Move
	share   float64
	ways    *big.Int
	success float64 // the share of those here that go through all that is picked
	goes    bool    // some of them do, be it that nobody is expected to
	first   lead    // how it was first come to
	leads   []lead  // onward
}

// A lead is a step from one state to another by an effect of a question.
type lead struct{ question, state, effect, at, to int }

func (n *net) site(m explore.Move) int {
	if m.Next < 0 {
		return len(n.p.Questions)
	}
	return m.Next
}

func (n *net) put(at int, m explore.Move, v explore.Vector, path int, first lead) int {
	s := &n.places[at]
	k := stand{key{m.Memory, m.End, m.Outcome}, path, v}
	i, known := s.at[k]
	if !known {
		if s.at == nil {
			s.at = map[stand]int{}
		}
		i = len(s.states)
		s.at[k] = i
		s.states = append(s.states, waystate{stand: k, move: m, ways: new(big.Int), first: first})
	}
	return i
}

// behind returns the path that one more question makes of another.
func (n *net) behind(path, question int) int {
	k := [2]int{path, question}
	next, known := n.after[k]
	if !known {
		next = len(n.paths)
		n.paths = append(n.paths, append(slices.Clone(n.paths[path]), question))
		n.after[k] = next
	}
	return next
}

// follow follows all passages, or returns nil where they take too many states.
func (n *net) follow(with Options) *Ways {
	e, err := explore.Ends(with.Exact, n.p, n.assumed, with.Steps)
	if err != nil || e.Partial() {
		return nil
	}
	last := len(n.p.Questions)
	n.places, n.paths, n.after = make([]site, last+1), [][]int{nil}, map[[2]int]int{}
	e.Start(func(m explore.Move, v explore.Vector, share float64) {
		if share == 0 { // another visitor
			return
		}
		at := n.site(m)
		s := &n.places[at].states
		i := n.put(at, m, v, 0, lead{question: -1})
		(*s)[i].share += share
		(*s)[i].ways.SetInt64(1)
	})
	states, steps := 0, 0
	for i := range last {
		states += len(n.places[i].states)
		steps += len(n.places[i].states) * len(e.Effects(i))
		if states > mostWays || steps > 4*mostWays || len(n.paths) > mostPaths || with.Exact.Err() != nil {
			return nil
		}
		for s := range n.places[i].states {
			n.lead(e, i, s)
		}
	}
	return n.tell(e)
}

// lead leads a state on from question i by each of its effects.
func (n *net) lead(e *explore.Explorer, i, s int) {
	from := n.places[i].states[s]
	effects := e.Effects(i)
	path := n.behind(from.path, i)
	for k := range effects {
		f := &effects[k]
		v := from.vector.Add(f)
		to, same := e.Step(i, from.memory, f)
		if !same {
			to = e.StepAt(i, from.memory, f, v)
		}
		at := n.site(to)
		step := lead{question: i, state: s, effect: k, at: at}
		step.to = n.put(at, to, e.Narrow(at, v), path, step)
		next := &n.places[at].states[step.to]
		next.share += from.share * f.Share
		next.ways.Add(next.ways, new(big.Int).Mul(from.ways, f.Ways))
		n.places[i].states[s].leads = append(n.places[i].states[s].leads, step)
	}
}

// through tells whether a path comes by every question of which answers are picked, and its
// end is one that is.
func (n *net) through(path []int, outcome string) bool {
	for i, names := range n.assumed.Through {
		if len(names) > 0 && !slices.Contains(path, i) {
			return false
		}
	}
	return len(n.ends) == 0 || n.ends[outcome]
}

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
