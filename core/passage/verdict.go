package passage

import (
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
	of   *condition
	held bool
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
	for i := range e.p.steps {
		s := &e.p.steps[i]
		if s.kind == quiz.RuleStep {
			e.w.asks(s.when)
		}
		for r := range s.rules {
			e.held[&s.rules[r]] = e.held[&s.rules[r]].with(s.rules[r].holds(&e.w))
		}
	}
}

// land returns the landing of the outcome for the visitor on the walk, after
// asking the landings for every kind of visitor that they tell apart.
func (e *Explorer) land() int {
	w := &e.w
	visitor, outcome := w.visitor, w.outcome
	found := none
	for k, o := range e.landings[outcome].overlays {
		w.visitor, w.contact = o.on(visitor), o.contact
		at := w.land()
		if k == 0 {
			found = at
		} else if e.Lands != nil {
			e.Lands(outcome, at, o.facts)
		}
	}
	w.visitor, w.contact = visitor, nil
	return found
}

// Verdicts calls f with what came of each condition that has been asked, as it
// stands in the quiz.
func (e *Explorer) Verdicts(f func(c *quiz.Condition, v Verdict)) {
	for c, v := range e.verdicts {
		f(c.source, v)
	}
}

// Rows calls f with whether the rows of decision tables held, by step and rule;
// rows that were never looked at are left out.
func (e *Explorer) Rows(f func(step, rule string, v Verdict)) {
	for i := range e.p.steps {
		for r := range e.p.steps[i].rules {
			if v, asked := e.held[&e.p.steps[i].rules[r]]; asked {
				f(e.p.steps[i].key, e.p.steps[i].rules[r].key, v)
			}
		}
	}
}

// StepKey returns the key of the step at a position of the decision.
func (p *Program) StepKey(i int) string { return p.steps[i].key }

// PartKey returns the key of a step's part, as Finish names it: the row of a table,
// the cut that begins a band ("" for the lowest), the scale that leads; "" of a rule.
func (p *Program) PartKey(step, part int) string {
	s := &p.steps[step]
	switch s.kind {
	case quiz.TableStep:
		return s.rules[part].key
	case quiz.LeaderStep:
		return p.scales[s.contenders[part].scale].key
	case quiz.BandsStep:
		if part > 0 {
			return p.quiz.Decision.Steps[s.key].CutKeys()[part-1]
		}
	}
	return ""
}

// ThenKey returns the key of the then rule at a position of question i.
func (p *Program) ThenKey(i, rule int) string {
	return quiz.InOrder(p.Question(i).Then)[rule]
}
