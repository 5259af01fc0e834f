package odds

import (
	"cmp"
	"context"
	"errors"
	"maps"
	"math"
	"math/big"
	"slices"

	"omphalos/core/decimal"
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

// scales puts the distributions of scales that are alike into a list; it leaves nil
// where they take too many steps.
func (w walks) scales(alike []int, into []*Scale) {
	e, err := explore.Scales(w.context, w.p, w.assumed, w.most, alike)
	if err != nil {
		return
	}
	r := w.run(&walked{}, e)
	if r == nil {
		return
	}
	scores := make([]map[scored]float64, len(into))
	for _, scale := range alike {
		scores[scale] = map[scored]float64{}
	}
	for _, c := range r.places[len(r.places)-1].crowds {
		for k, v := range c.vectors {
			if k%256 == 255 && w.context.Err() != nil {
				return
			}
			e.Scores(c.move, v, func(scale int, score decimal.Decimal) {
				scores[scale][scored{score, c.move.End}] += c.shares[k]
			})
		}
	}
	for _, scale := range alike {
		s := scaleOf(scores[scale])
		if low, high := s.Lowest(), s.Highest(); e.Partial() {
			s.Within = BoundsOf(w.p)[scale]
		} else if len(s.Points) > 0 {
			s.Within = Bounds{Low: &low, High: &high}
		}
		into[scale] = s
	}
}

// scored is a score at the end of a passage.
type scored struct {
	score decimal.Decimal
	end   program.End
}

func scaleOf(scores map[scored]float64) *Scale {
	s := &Scale{Points: make([]Point, 0, len(scores))}
	all, sum, squares := 0.0, 0.0, 0.0
	for _, at := range slices.SortedFunc(maps.Keys(scores), func(a, b scored) int {
		return cmp.Or(cmp.Compare(a.score, b.score), cmp.Compare(a.end, b.end))
	}) {
		share := scores[at]
		if n := len(s.Points); n == 0 || s.Points[n-1].Score != at.score {
			s.Points = append(s.Points, Point{Score: at.score})
		}
		p := &s.Points[len(s.Points)-1]
		p.Share += share
		switch at.end {
		case program.Decided:
			s.decided = append(s.decided, Point{Score: at.score, Share: share})
		case program.Named:
			p.Named += share
		case program.Parted:
			p.Parted += share
		}
		all, sum = all+share, sum+share*at.score.Float64()
	}
	if all == 0 {
		return s
	}
	s.Mean = sum / all
	for _, p := range s.Points {
		squares += p.Share * math.Pow(p.Score.Float64()-s.Mean, 2)
	}
	s.Spread = math.Sqrt(squares / all)
	return s
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
		c := r.places[r.at(m)].crowd(m)
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
			r.places[i] = place{}
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
			into := r.places[at].crowd(to)
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
			r.put(r.places[at].crowd(to), r.e.Narrow(at, v), c, n, i, k, f)
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

func flow(p *program.Program, from string, to explore.Move) Flow {
	f := Flow{From: from, End: to.End}
	if to.Next >= 0 {
		f.To = p.Key(to.Next)
	}
	if to.Outcome >= 0 {
		f.Outcome = p.OutcomeAt(to.Outcome)
	}
	return f
}

// tellPath writes what a walk of the path found into the odds.
func (r *walked) tellPath(o *Odds) {
	p := r.p
	o.Lengths = make([]float64, len(p.Questions)+1)
	o.Passages = new(big.Int)
	for _, c := range r.places[len(p.Questions)].crowds {
		for k, v := range c.vectors {
			o.Lengths[r.e.Length(v)] += c.shares[k]
			o.Passages.Add(o.Passages, c.ways[k])
		}
		o.Ends[c.move.End] += c.share()
	}
	for len(o.Lengths) > 1 && o.Lengths[len(o.Lengths)-1] == 0 {
		o.Lengths = o.Lengths[:len(o.Lengths)-1]
	}
	for i, share := range r.seen {
		if !r.reached[i] {
			continue
		}
		key := p.Key(i)
		o.Seen[key], o.Answers[key] = share, map[string]float64{}
		chances := expect.Chances(p, i, r.assumed)
		for k, name := range p.Names(i) {
			o.Answers[key][name] = share * chances[k]
		}
	}
	for i := range len(p.Questions) {
		for _, then := range p.Thens(i) {
			t := Thread{Question: p.Key(i), Answer: then.Answer, Rule: then.Rule}
			if share, taken := r.threads[t]; taken {
				t.Share = share
				o.Threads = append(o.Threads, t)
			}
		}
	}
	for f, share := range r.flows {
		f.Share = share
		o.Flows = append(o.Flows, f)
	}
	slices.SortFunc(o.Flows, func(a, b Flow) int { return compareFlows(p, a, b) })
	r.e.Verdicts(func(c *quiz.Condition, v explore.Verdict) { o.Held[c] = v })
	r.e.Missing(func(place, asked int) { o.miss("/questions/"+p.Key(place), p.Key(asked)) })
}

func (o *Odds) miss(place, asked string) {
	o.Missing[place] = append(o.Missing[place], asked)
	slices.Sort(o.Missing[place])
}

// tellEnds writes what a walk of the ends found into the odds.
func (r *walked) tellEnds(o *Odds) {
	p := r.p
	o.States = r.states
	r.e.Lands = func(outcome, landing int, _ map[string]string) {
		add(o.Landings, p.OutcomeAt(outcome), p.LandingAt(outcome, landing), 0)
	}
	for _, c := range r.places[len(p.Questions)].crowds {
		for k, v := range c.vectors {
			o.end(p, r.e.Finish(c.move, v), c.shares[k])
		}
	}
	r.e.Verdicts(func(c *quiz.Condition, v explore.Verdict) {
		if _, path := o.Held[c]; !path {
			o.Held[c] = v
		}
	})
	r.e.Missing(func(place, asked int) { o.miss("/outcomes/"+p.OutcomeAt(place), p.Key(asked)) })
	r.e.Rows(func(step, rule string, v explore.Verdict) {
		if o.Rows[step] == nil {
			o.Rows[step] = map[string]explore.Verdict{}
		}
		o.Rows[step][rule] = v
	})
}

// end counts passages that end in one way.
func (o *Odds) end(p *program.Program, f program.Finish, share float64) {
	outcome := p.OutcomeAt(f.Outcome)
	o.Outcomes[outcome] += share
	add(o.Landings, outcome, p.LandingAt(f.Outcome, f.Landing), share)
	if f.End != program.Decided {
		return
	}
	if f.Step == program.Otherwise {
		o.Open += share
	} else {
		add(o.Steps, p.StepKey(f.Step), p.PartKey(f.Step, f.Part), share)
	}
	f.Ties(func(step int) { o.Ties[p.StepKey(step)] += share })
}

func add(to map[string]map[string]float64, a, b string, share float64) {
	if to[a] == nil {
		to[a] = map[string]float64{}
	}
	to[a][b] += share
}

// compareFlows orders flows as the sheet does.
func compareFlows(p *program.Program, a, b Flow) int {
	rank := func(f Flow) []int {
		to := p.Position(f.To)
		if f.To == "" {
			to = len(p.Questions)
		}
		return []int{p.Position(f.From), to}
	}
	if c := slices.Compare(rank(a), rank(b)); c != 0 {
		return c
	}
	return slices.Compare([]string{string(a.End), a.Outcome}, []string{string(b.End), b.Outcome})
}

// combinations returns how many different answers all questions together can get.
func (w walks) combinations() *big.Int {
	all := big.NewInt(1)
	for i := range len(w.p.Questions) {
		all.Mul(all, explore.Ways(w.p, i))
	}
	return all
}
