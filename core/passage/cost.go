package passage

// Cost says about how much it takes to draw and to walk a passage, in steps such as
// adding one amount or comparing one answer.
func (p *Program) Cost() int {
	cost := 1
	for i := range p.questions {
		q := &p.questions[i]
		each := len(q.answers) * max(len(q.rows), 1)
		switch {
		case q.form == ofOne:
			each = 1
		case q.form == ofSome:
			each *= 64 // each is drawn under the condition that the limits are met
		}
		adds := 0
		for _, a := range q.answers {
			adds = max(adds, len(a.adds))
		}
		if q.form == ofSome {
			adds *= q.maxPicks
		}
		cost += 4 + each + adds + len(q.weighs) + len(q.rows)*8 + q.when.cost()
		for _, r := range q.then {
			cost += r.when.cost()
		}
	}
	for _, s := range p.sections {
		cost += s.when.cost()
	}
	for i := range p.scales {
		if f := p.scales[i].formula; f != nil {
			cost += 2 * f.Nodes() // more often where conditions ask for it on the way
		}
		cost += 2
	}
	for i := range p.steps {
		s := &p.steps[i]
		cost += s.when.cost() + len(s.cuts) + 4*len(s.contenders)
		for _, r := range s.rules {
			for _, c := range r.cells {
				cost += c.cost()
			}
		}
	}
	return cost
}

func (c *condition) cost() int {
	if c == nil {
		return 0
	}
	cost := 1 + len(c.options) + len(c.words)
	for _, part := range c.parts {
		cost += part.cost()
	}
	return cost
}
