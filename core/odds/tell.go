package odds

import (
	"math/big"
	"slices"

	"omphalos/core/expect"
	"omphalos/core/odds/explore"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

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
