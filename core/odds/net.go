package odds

import (
	"math/big"
	"slices"

	"omphalos/core/expect"
	"omphalos/core/odds/explore"
	"omphalos/core/program"
)

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
