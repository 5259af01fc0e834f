package passage

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A step of the decision, compiled.
type step struct {
	key  string
	kind quiz.StepKind

	when    *condition // rule
	outcome int

	rules []tableRule

	scale int // bands
	cuts  []cut

	contenders []contender // leader
	ties       quiz.TiePolicy
	tieBy      int // question or outcome
	lead       decimal.Decimal
	least      decimal.Decimal
}

const none = -1

type tableRule struct {
	key     string
	cells   []*condition
	outcome int
}

// A cut begins a band; the first one of a step is at decimal.Min.
type cut struct {
	at      decimal.Decimal
	outcome int // or none
}

type contender struct{ scale, outcome int }

func (c *compiler) decision() {
	d := c.q.Decision
	c.p.otherwise = c.p.outcomeIndex[d.Otherwise]
	for _, k := range quiz.InOrder(d.Steps) {
		s := d.Steps[k]
		if s.Off {
			continue
		}
		to := step{key: k, kind: s.Kind}
		switch s.Kind {
		case quiz.RuleStep:
			to.when, to.outcome = c.condition(s.When), c.orNone(s.Outcome)
		case quiz.TableStep:
			c.table(&to, s)
		case quiz.BandsStep:
			to.scale = c.p.scaleIndex[s.Scale]
			to.cuts = append(to.cuts, cut{decimal.Min, c.orNone(s.Lowest)})
			for _, key := range s.CutKeys() {
				to.cuts = append(to.cuts, cut{s.Cuts[key].At, c.orNone(s.Cuts[key].Outcome)})
			}
		case quiz.LeaderStep:
			c.leader(&to, s)
			c.p.leads = true
		}
		c.p.steps = append(c.p.steps, to)
	}
}

func (c *compiler) orNone(outcome string) int {
	if outcome == "" {
		return none
	}
	return c.p.outcomeIndex[outcome]
}

func (c *compiler) table(to *step, s *quiz.Step) {
	columns := quiz.InOrder(s.Columns)
	for _, k := range quiz.InOrder(s.Rules) {
		r := s.Rules[k]
		rule := tableRule{key: k, outcome: c.orNone(r.Outcome)}
		for _, column := range columns {
			if cell := r.Cells[column]; cell != nil {
				rule.cells = append(
					rule.cells,
					c.condition(&quiz.Condition{Subject: s.Columns[column].Subject, Test: *cell}),
				)
			}
		}
		to.rules = append(to.rules, rule)
	}
}

func (c *compiler) leader(to *step, s *quiz.Step) {
	to.ties, to.least = quiz.TieOrder, decimal.Min
	for _, k := range quiz.InOrder(s.Contenders) {
		outcome := s.Contenders[k].Outcome
		if outcome == "" {
			outcome = c.q.Scales[k].Outcome
		}
		to.contenders = append(to.contenders, contender{c.p.scaleIndex[k], c.orNone(outcome)})
	}
	if s.Lead != nil {
		to.lead = *s.Lead
	}
	if s.Least != nil {
		to.least = *s.Least
	}
	if s.Ties == nil {
		return
	}
	switch to.ties = s.Ties.By; to.ties {
	case quiz.TieQuestion:
		to.tieBy = c.p.questionIndex[s.Ties.Question]
	case quiz.TieOutcome:
		to.tieBy = c.orNone(s.Ties.Outcome)
	}
}

// decide sets the outcome and returns the position of the step that named it,
// or Otherwise.
func (w *walk) decide(scores []decimal.Decimal) int {
	for i := range w.p.steps {
		w.deciding, w.part = i, 0
		if w.outcome = w.consider(&w.p.steps[i], scores); w.outcome != none {
			return i
		}
	}
	w.outcome = w.p.otherwise
	return Otherwise
}

// consider returns the outcome that a step names, or none.
func (w *walk) consider(s *step, scores []decimal.Decimal) int {
	switch s.kind {
	case quiz.RuleStep:
		if s.when.holds(w) {
			if w.trace != nil {
				w.trace.ruleHeld(s)
			}
			return s.outcome
		}
		if w.trace != nil {
			w.trace.ruleFailed(s)
		}
		return none
	case quiz.TableStep:
		for i := range s.rules {
			if s.rules[i].holds(w) {
				w.part = i
				if w.trace != nil {
					w.trace.tableHit(s, i)
				}
				return s.rules[i].outcome
			}
		}
		if w.trace != nil {
			w.trace.tableMissed(s)
		}
		return none
	case quiz.BandsStep:
		band := len(s.cuts) - 1
		for band > 0 && scores[s.scale] < s.cuts[band].at {
			band--
		}
		w.part = band
		if w.trace != nil {
			w.trace.band(s, band, scores[s.scale])
		}
		return s.cuts[band].outcome
	}
	return w.lead(s, scores)
}

func (r *tableRule) holds(w *walk) bool {
	for _, cell := range r.cells {
		if !cell.holds(w) {
			return false
		}
	}
	return true
}

// lead returns the outcome of the leading contender, or none.
func (w *walk) lead(s *step, scores []decimal.Decimal) int {
	best, second, tied, fed := decimal.Min, decimal.Min, 0, false
	leader := none
	for i, c := range s.contenders {
		fed = fed || w.feeds(c.scale)
		switch score := scores[c.scale]; {
		case leader == none || score > best:
			second, best, leader, tied = best, score, i, 1
		case score == best:
			second = best
			tied++
		default:
			second = max(second, score)
		}
	}
	switch {
	case !fed:
		if w.trace != nil {
			w.trace.leaderUnfed(s)
		}
		return none
	case best < s.least:
		if w.trace != nil {
			w.trace.leaderBelow(s, leader, best)
		}
		return none
	case s.lead > 0 && best.Sub(second) < s.lead:
		if w.trace != nil {
			w.trace.leaderClose(s, leader, best.Sub(second))
		}
		return none
	case tied == 1:
		w.part = leader
		if w.trace != nil {
			w.trace.leads(s, leader, best)
		}
		return s.contenders[leader].outcome
	}
	w.ties = append(w.ties, uint16(w.deciding))
	outcome := w.settle(s, scores, best, leader)
	if w.trace != nil {
		w.trace.tied(w, s, scores, best, outcome)
	}
	return outcome
}

// feeds tells whether anything was added to the scale, or to one that its
// formula reads.
func (w *walk) feeds(scale int) bool {
	s := &w.p.scales[scale]
	if s.method == quiz.Mean {
		return w.counts[scale] > 0
	}
	if s.method != quiz.Formula {
		return w.fed[scale]
	}
	return slices.ContainsFunc(s.feeders, func(o operand) bool {
		if o.question >= 0 {
			return w.given(o.question) != nil
		}
		return w.feeds(o.scale)
	})
}

// settle applies the tie policy; first is the first contender with the best score.
func (w *walk) settle(s *step, scores []decimal.Decimal, best decimal.Decimal, first int) int {
	switch s.ties {
	case quiz.TieNext:
		return none
	case quiz.TieOutcome:
		return s.tieBy
	case quiz.TieQuestion:
		most := decimal.Min
		for i, c := range s.contenders {
			if scores[c.scale] != best {
				continue
			}
			if added := w.addedBy(s.tieBy, c.scale); added > most {
				first, most = i, added
			}
		}
	}
	w.part = first
	return s.contenders[first].outcome
}

// addedBy returns what the answer to a question added to a scale.
func (w *walk) addedBy(question, scale int) decimal.Decimal {
	v := w.given(question)
	if v == nil {
		return 0
	}
	q := &w.p.questions[question]
	var sum decimal.Decimal
	switch q.form {
	case ofOne:
		return amountOf(q.answers[v.Option].adds, scale)
	case ofSome:
		for _, o := range v.Picks {
			sum = sum.Add(amountOf(q.answers[o].adds, scale))
		}
		return q.capped(scale, sum)
	case ofGrid:
		for r, column := range v.Picks {
			if column >= 0 {
				sum = sum.Add(amountOf(q.rows[r].adds[column], scale))
			}
		}
		return sum
	}
	for i := range q.weighs {
		if q.weighs[i].scale == scale {
			sum = q.weighs[i].weigh(v.Number)
		}
	}
	return sum
}
