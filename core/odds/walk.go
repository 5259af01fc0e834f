package odds

import (
	"context"
	"errors"
	"math/big"

	"omphalos/core/expect"
	"omphalos/core/odds/explore"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// ErrSteps says that exact odds would take more steps than are allowed.
var ErrSteps = errors.New("exact odds of this quiz take too many steps")

// walks makes the walks of one program.
type walks struct {
	p       *program.Program
	assumed *expect.Assumption
	most    int
	context context.Context
}

// walked is what one walk found: all passages are at the end.
type walked struct {
	p       *program.Program
	e       *explore.Explorer
	assumed *expect.Assumption
	places  []place // by question; the last is the end
	states  int     // most at one question
	steps   int

	seen    []float64
	reached []bool
	threads map[Thread]float64 // Share is 0 in the keys
	flows   map[Flow]float64
	counts  bool
	traced  bool
	trace   []step

	spare []*crowd // that were led on
	spots []spot   // for slide
	below []float64
}

// A step led first to a state: from where, and by which effect of a question.
type step struct {
	from     int32
	question int32
	effect   int32
}

func (w walks) path() *walked {
	e, err := explore.Path(w.context, w.p, w.assumed, w.most)
	if err != nil {
		return nil
	}
	r := &walked{counts: true}
	return w.run(r, e)
}

func (w walks) ends() *walked {
	e, err := explore.Ends(w.context, w.p, w.assumed, w.most)
	if err != nil {
		return nil
	}
	return w.run(&walked{}, e)
}

// arrivals returns what came of each condition that is asked of those who have landed, and
// of each part of one; nil where they can't all be followed.
func (w walks) arrivals() map[*quiz.Condition]explore.Verdict {
	e, err := explore.Arrivals(w.context, w.p, w.assumed, w.most)
	if err != nil || e.Partial() {
		return nil
	}
	r := w.run(&walked{}, e)
	if r == nil {
		return nil
	}
	for _, c := range r.places[len(r.places)-1].crowds {
		for _, v := range c.vectors {
			e.Finish(c.move, v)
		}
	}
	arrived := map[*quiz.Condition]explore.Verdict{}
	e.Arrived(func(c *program.Condition, v explore.Verdict) { arrived[c.Source] = v })
	return arrived
}

// crowdWork is what leading on a crowd costs, in steps of one of its Vectors.
const crowdWork = 3

// run walks all passages to the end, or returns nil if that takes too many steps.
func (w walks) run(r *walked, e *explore.Explorer) *walked {
	n := len(w.p.Questions)
	r.p, r.e, r.assumed, r.places = w.p, e, w.assumed, make([]place, n+1)
	r.seen, r.reached = make([]float64, n), make([]bool, n)
	if r.counts {
		r.threads, r.flows = map[Thread]float64{}, map[Flow]float64{}
	}
	e.Start(func(m explore.Move, v explore.Vector, share float64) {
		var one *big.Int
		if r.counts {
			one = new(big.Int)
			if share > 0 {
				one.SetInt64(1)
			}
			r.flows[flow(w.p, "", m)] += share
		}
		c := r.crowd(r.at(m), m)
		if _, first := c.put(v, share, one); first && r.traced {
			c.steps = append(c.steps, -1)
		}
	})
	ahead := 0 // effects of the questions to come
	for i := range n {
		ahead += r.width(i)
	}
	for i := range n {
		states := r.places[i].states()
		grows := states > r.states
		r.states = max(r.states, states)
		work := states + crowdWork*len(r.places[i].crowds)
		ahead -= r.width(i)
		r.steps += work * r.width(i)
		// Where states still become more, half as many steps for each question to come
		// are the least to be expected: it is no use to go on until the last is spent.
		if r.steps > w.most || work > mostStates || grows && r.steps+work*ahead/2 > w.most {
			return nil
		}
		for _, c := range r.places[i].crowds {
			if r.step(w.context, i, c); w.context.Err() != nil {
				return nil
			}
		}
		if !r.traced {
			r.leave(i)
		}
	}
	return r
}

func (r *walked) at(m explore.Move) int {
	if m.Next < 0 {
		return len(r.p.Questions)
	}
	return m.Next
}

// step leads a crowd on from question i.
func (r *walked) step(ctx context.Context, i int, c *crowd) {
	share := c.share()
	r.seen[i] += share
	r.reached[i] = true
	effects, runs := r.e.Effects(i), r.runs(i)
	for k := 0; k < len(effects); k++ {
		if k%256 == 255 && ctx.Err() != nil {
			return
		}
		f := &effects[k]
		to, same := r.e.Step(i, c.move.Memory, f)
		if same {
			at := r.at(to)
			into := r.crowd(at, to)
			if len(runs) > 0 && runs[0].From == k {
				r.steps += r.slide(ctx, c, &runs[0], into, at, f)
				k, runs = k+runs[0].Count-1, runs[1:]
				continue
			}
			for n, v := range c.vectors {
				r.put(into, r.e.Narrow(at, v.Add(f)), c, n, i, k, f)
			}
			r.count(i, f, to, share*f.Share)
			continue
		}
		if len(runs) > 0 && k >= runs[0].From { // does not go the same way for all
			r.steps += len(c.vectors)
			if k+1 == runs[0].From+runs[0].Count {
				runs = runs[1:]
			}
		}
		for n, v := range c.vectors {
			if n%4096 == 4095 && ctx.Err() != nil {
				return
			}
			v = v.Add(f)
			to := r.e.StepAt(i, c.move.Memory, f, v)
			at := r.at(to)
			r.put(r.crowd(at, to), r.e.Narrow(at, v), c, n, i, k, f)
			r.count(i, f, to, c.shares[n]*f.Share)
		}
	}
}

// runs returns the runs of question i, none where each way is counted or traced.
func (r *walked) runs(i int) []explore.Run {
	if r.counts || r.traced {
		return nil
	}
	return r.e.Runs(i)
}

// width is in how many steps a state is led on from question i: a run's are counted
// where they are made.
func (r *walked) width(i int) int {
	n := len(r.e.Effects(i))
	for _, run := range r.runs(i) {
		n -= run.Count - 1
	}
	return n
}

// put leads the n-th of a crowd to where an effect leads.
func (r *walked) put(into *crowd, v explore.Vector, from *crowd, n, question, effect int, f *explore.Effect) {
	var ways *big.Int
	if r.counts {
		ways = new(big.Int).Mul(from.ways[n], f.Ways)
	}
	_, first := into.put(v, from.shares[n]*f.Share, ways)
	if first && r.traced {
		into.steps = append(into.steps, int32(len(r.trace)))
		r.trace = append(r.trace, step{from.steps[n], int32(question), int32(effect)})
	}
}

// count adds to the threads and flows.
func (r *walked) count(i int, f *explore.Effect, to explore.Move, share float64) {
	if !r.counts {
		return
	}
	question := r.p.Key(i)
	if f.Own >= 0 {
		r.threads[Thread{Question: question, Answer: r.p.AnswerKeys(i)[f.Own]}] += share
	} else if to.Rule >= 0 {
		r.threads[Thread{Question: question, Rule: r.p.ThenKey(i, to.Rule)}] += share
	}
	r.flows[flow(r.p, question, to)] += share
}
