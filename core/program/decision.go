package program

import (
	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Decide sets the outcome and returns the position of the step that named it,
// or Otherwise.
func (w *Course) Decide(scores []decimal.Decimal) int {
	for i := range w.Program.Steps {
		w.deciding, w.Part = i, 0
		if w.Outcome = w.consider(&w.Program.Steps[i], scores); w.Outcome != None {
			return i
		}
	}
	w.Outcome = w.Program.Otherwise
	return Otherwise
}

// consider returns the outcome that a step names, or none.
func (w *Course) consider(s *Step, scores []decimal.Decimal) int {
	switch s.Kind {
	case quiz.RuleStep:
		if s.When.Holds(w) {
			if w.Trace != nil {
				w.Trace.RuleHeld(s)
			}
			return s.Outcome
		}
		if w.Trace != nil {
			w.Trace.RuleFailed(s)
		}
		return None
	case quiz.TableStep:
		for i := range s.Rules {
			if s.Rules[i].Holds(w) {
				w.Part = i
				if w.Trace != nil {
					w.Trace.TableHit(s, i)
				}
				return s.Rules[i].Outcome
			}
		}
		if w.Trace != nil {
			w.Trace.TableMissed(s)
		}
		return None
	case quiz.BandsStep:
		band := len(s.Cuts) - 1
		for band > 0 && scores[s.Scale] < s.Cuts[band].At {
			band--
		}
		w.Part = band
		if w.Trace != nil {
			w.Trace.Band(s, band, scores[s.Scale])
		}
		return s.Cuts[band].Outcome
	}
	return w.lead(s, scores)
}

// Holds tells whether the row fits where a passage stands.
func (r *TableRule) Holds(w *Course) bool {
	for _, cell := range r.Cells {
		if !cell.Holds(w) {
			return false
		}
	}
	return true
}

// lead returns the outcome of the leading contender, or none.
func (w *Course) lead(s *Step, scores []decimal.Decimal) int {
	best, second, tied, fed := decimal.Min, decimal.Min, 0, false
	leader := None
	for i, c := range s.Contenders {
		fed = fed || w.feeds(c.Scale)
		switch score := scores[c.Scale]; {
		case leader == None || score > best:
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
		if w.Trace != nil {
			w.Trace.LeaderUnfed(s)
		}
		return None
	case best < s.Least:
		if w.Trace != nil {
			w.Trace.LeaderBelow(s, leader, best)
		}
		return None
	case s.Lead > 0 && best.Sub(second) < s.Lead:
		if w.Trace != nil {
			w.Trace.LeaderClose(s, leader, best.Sub(second))
		}
		return None
	case tied == 1:
		w.Part = leader
		if w.Trace != nil {
			w.Trace.Leads(s, leader, best)
		}
		return s.Contenders[leader].Outcome
	}
	w.Ties = append(w.Ties, uint16(w.deciding))
	outcome := w.settle(s, scores, best, leader)
	if w.Trace != nil {
		w.Trace.Tied(w, s, scores, best, outcome)
	}
	return outcome
}

// settle applies the tie policy; first is the first contender with the best score.
func (w *Course) settle(s *Step, scores []decimal.Decimal, best decimal.Decimal, first int) int {
	switch s.Ties {
	case quiz.TieNext:
		return None
	case quiz.TieOutcome:
		return s.TieBy
	case quiz.TieQuestion:
		most := decimal.Min
		for i, c := range s.Contenders {
			if scores[c.Scale] != best {
				continue
			}
			if added := w.AddedBy(s.TieBy, c.Scale); added > most {
				first, most = i, added
			}
		}
	}
	w.Part = first
	return s.Contenders[first].Outcome
}
