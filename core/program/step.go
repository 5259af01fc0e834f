package program

import (
	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A Step of the decision. Which fields count depends on its kind.
type Step struct {
	Key  string
	Kind quiz.StepKind

	When    *Condition // of a rule
	Outcome int

	Rules []TableRule // of a table

	Scale int // of bands
	Cuts  []Cut

	Contenders []Contender // of a leader
	Ties       quiz.TiePolicy
	TieBy      int             // the question, or the outcome, that settles a tie
	Lead       decimal.Decimal // the least lead over the second
	Least      decimal.Decimal // the least score; decimal.Min without one
}

// None is the position of nothing: no question, no outcome, no rule.
const None = -1

// A TableRule is a row of a decision table; it holds where all of its cells do.
type TableRule struct {
	Key     string
	Cells   []*Condition
	Outcome int // or None
}

// A Cut begins a band; the first one of a step is at decimal.Min.
type Cut struct {
	At      decimal.Decimal
	Outcome int // or None
}

// A Contender is a scale, and the outcome that it stands for, or None.
type Contender struct{ Scale, Outcome int }

func (c *compiler) decision() {
	d := c.q.Decision
	c.p.Otherwise = c.p.outcomeIndex[d.Otherwise]
	for _, k := range quiz.InOrder(d.Steps) {
		s := d.Steps[k]
		if s.Off {
			continue
		}
		to := Step{Key: k, Kind: s.Kind}
		switch s.Kind {
		case quiz.RuleStep:
			to.When, to.Outcome = c.condition(s.When), c.orNone(s.Outcome)
		case quiz.TableStep:
			c.table(&to, s)
		case quiz.BandsStep:
			to.Scale = c.p.ScaleIndex[s.Scale]
			to.Cuts = append(to.Cuts, Cut{decimal.Min, c.orNone(s.Lowest)})
			for _, key := range s.CutKeys() {
				to.Cuts = append(to.Cuts, Cut{s.Cuts[key].At, c.orNone(s.Cuts[key].Outcome)})
			}
		case quiz.LeaderStep:
			c.leader(&to, s)
			c.p.Leads = true
		}
		c.p.Steps = append(c.p.Steps, to)
	}
}

func (c *compiler) orNone(outcome string) int {
	if outcome == "" {
		return None
	}
	return c.p.outcomeIndex[outcome]
}

func (c *compiler) table(to *Step, s *quiz.Step) {
	columns := quiz.InOrder(s.Columns)
	for _, k := range quiz.InOrder(s.Rules) {
		r := s.Rules[k]
		rule := TableRule{Key: k, Outcome: c.orNone(r.Outcome)}
		for _, column := range columns {
			if cell := r.Cells[column]; cell != nil {
				rule.Cells = append(
					rule.Cells,
					c.condition(&quiz.Condition{Subject: s.Columns[column].Subject, Test: *cell}),
				)
			}
		}
		to.Rules = append(to.Rules, rule)
	}
}

func (c *compiler) leader(to *Step, s *quiz.Step) {
	to.Ties, to.Least = quiz.TieOrder, decimal.Min
	for _, k := range quiz.InOrder(s.Contenders) {
		outcome := s.Contenders[k].Outcome
		if outcome == "" {
			outcome = c.q.Scales[k].Outcome
		}
		to.Contenders = append(to.Contenders, Contender{c.p.ScaleIndex[k], c.orNone(outcome)})
	}
	if s.Lead != nil {
		to.Lead = *s.Lead
	}
	if s.Least != nil {
		to.Least = *s.Least
	}
	if s.Ties == nil {
		return
	}
	switch to.Ties = s.Ties.By; to.Ties {
	case quiz.TieQuestion:
		to.TieBy = c.p.QuestionIndex[s.Ties.Question]
	case quiz.TieOutcome:
		to.TieBy = c.orNone(s.Ties.Outcome)
	}
}
