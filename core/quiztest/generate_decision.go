package quiztest

import (
	"fmt"

	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

func (g *generator) decision() {
	keys := g.m.QuestionKeys()
	for range rapid.IntRange(0, 3).Draw(g.t, "steps") {
		switch rapid.IntRange(0, 3).Draw(g.t, "step") {
		case 0:
			g.m.Decide(quiz.Step{Kind: quiz.RuleStep, When: g.condition(keys), Outcome: g.outcome()})
		case 1:
			low := g.amount()
			s := g.m.Bands(rapid.SampledFrom(append([]string{"formula"}, scaleKeys...)).Draw(g.t, "bands of"), "")
			s.Cuts["a"] = &quiz.Cut{At: low, Outcome: g.outcome()}
			s.Cuts["b"] = &quiz.Cut{At: low + decimal.FromInt(2)}
			if g.chance(2, "closed") {
				s.Lowest, s.Cuts["b"].Outcome = g.outcome(), g.outcome()
			}
		case 2:
			g.leader(keys)
		case 3:
			g.table(keys)
		}
	}
}

func (g *generator) leader(keys []string) {
	s := quiz.Step{Kind: quiz.LeaderStep, Contenders: map[string]*quiz.Contender{}}
	for i, k := range scaleKeys {
		s.Contenders[k] = &quiz.Contender{Order: float64(i), Outcome: fmt.Sprintf("o%d", i)}
	}
	s.Ties = &quiz.Ties{
		By: rapid.SampledFrom([]quiz.TiePolicy{quiz.TieOrder, quiz.TieQuestion, quiz.TieOutcome, quiz.TieNext}).
			Draw(g.t, "ties"),
	}
	switch s.Ties.By {
	case quiz.TieQuestion:
		s.Ties.Question = rapid.SampledFrom(keys).Draw(g.t, "tie question")
	case quiz.TieOutcome:
		s.Ties.Outcome = g.outcome()
	}
	if g.chance(3, "lead") {
		lead := decimal.One
		s.Lead = &lead
	}
	if g.chance(3, "least") {
		least := g.amount()
		s.Least = &least
	}
	g.m.Decide(s)
}

func (g *generator) table(keys []string) {
	s := quiz.Step{Kind: quiz.TableStep, Columns: map[string]*quiz.Column{}, Rules: map[string]*quiz.TableRule{}}
	for i := range rapid.IntRange(1, 2).Draw(g.t, "columns") {
		c := g.onAnswer(rapid.SampledFrom(keys).Draw(g.t, "column"))
		s.Columns[fmt.Sprintf("c%d", i)] = &quiz.Column{Order: float64(i), Subject: c.Subject}
	}
	for i := range rapid.IntRange(1, 3).Draw(g.t, "rules") {
		r := &quiz.TableRule{Order: float64(i), Outcome: g.outcome(), Cells: map[string]*quiz.Test{}}
		for _, k := range quiz.InOrder(s.Columns) {
			col := s.Columns[k]
			if g.chance(3, "any") {
				continue
			}
			test := g.onAnswer(col.Answer).Test
			r.Cells[k] = &test
		}
		s.Rules[fmt.Sprintf("r%d", i)] = r
	}
	g.m.Decide(s)
}
