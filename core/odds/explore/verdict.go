package explore

import (
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Verdict is what came of a condition wherever it was asked.
type Verdict struct {
	Held, Failed bool // at least once
}

func (v Verdict) with(held bool) Verdict {
	return Verdict{v.Held || held, v.Failed || !held}
}

type verdict struct {
	of   *program.Condition
	held bool
}

// watch takes down what came of a condition, and, as long as it has never held, what came
// of its parts: that tells why it does not.
func (e *Explorer) watch(c *program.Condition, held bool) {
	e.pending = append(e.pending, verdict{c, held})
	if !held && !e.verdicts[c].Held {
		for _, part := range c.Parts {
			e.watch(part, part.Holds(&e.w))
		}
	}
}

// settle takes down what came of the conditions asked since, and what was missing.
func (e *Explorer) settle() {
	for _, m := range e.missed {
		e.missing[m] = true
	}
	e.missed = e.missed[:0]
	for _, v := range e.pending {
		e.verdicts[v.of] = e.verdicts[v.of].with(v.held)
	}
	e.pending = e.pending[:0]
}

// judge asks every rule of the decision, also those behind the one that decided.
func (e *Explorer) judge() {
	for i := range e.p.Steps {
		s := &e.p.Steps[i]
		if s.Kind == quiz.RuleStep {
			e.w.Asks(s.When)
		}
		for r := range s.Rules {
			e.held[&s.Rules[r]] = e.held[&s.Rules[r]].with(s.Rules[r].Holds(&e.w))
		}
	}
}

// land returns the landing of the outcome for the visitor on the walk, after
// asking the landings for every kind of visitor that they tell apart.
func (e *Explorer) land(end program.End) int {
	w := &e.w
	visitor, outcome := w.Visitor, w.Outcome
	found := program.None
	for k, o := range e.landings[outcome].overlays {
		w.Visitor, w.Contact = o.on(visitor), o.contact
		at := w.Land()
		if e.purpose == forArrivals {
			e.arrived(outcome, at, end)
		}
		if k == 0 {
			found = at
		} else if e.Lands != nil {
			e.Lands(outcome, at, o.facts)
		}
	}
	w.Visitor, w.Contact = visitor, nil
	return found
}

// Verdicts calls f with what came of each condition that has been asked, as it
// stands in the quiz.
func (e *Explorer) Verdicts(f func(c *quiz.Condition, v Verdict)) {
	for c, v := range e.verdicts {
		f(c.Source, v)
	}
}

// Rows calls f with whether the rows of decision tables held, by step and rule;
// rows that were never looked at are left out.
func (e *Explorer) Rows(f func(step, rule string, v Verdict)) {
	for i := range e.p.Steps {
		for r := range e.p.Steps[i].Rules {
			if v, asked := e.held[&e.p.Steps[i].Rules[r]]; asked {
				f(e.p.Steps[i].Key, e.p.Steps[i].Rules[r].Key, v)
			}
		}
	}
}
