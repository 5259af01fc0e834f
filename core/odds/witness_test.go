package odds_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// A witness for everything that can be reached gets there when it is walked, and
// only what can be reached has one.
func TestWitnessesGetThere(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.Draw(t, quiztest.Limits{Questions: 6, Answers: 4})
		p, err := program.Compile(m.Quiz)
		require.NoError(t, err)
		o := exactly(t, p)
		w, err := odds.Witness(context.Background(), p, nil, 0)
		require.NoError(t, err)
		for _, outcome := range []string{"o0", "o1", "o2"} {
			in, err := w.To(odds.Target{Outcome: outcome})
			if _, reached := o.Outcomes[outcome]; !reached {
				require.ErrorIs(t, err, odds.ErrUnreachable)
				continue
			}
			require.NoError(t, err)
			r := passage.Walk(p, in)
			require.Equal(t, outcome, passage.OutcomeKey(p, r), "%s", m.Write())
			require.Empty(t, r.Missing, "required questions are answered")
		}
		for step, parts := range o.Steps {
			for part := range parts {
				in, err := w.To(odds.Target{Step: step, Part: part})
				require.NoError(t, err, "%s %s\n%s", step, part, m.Write())
				walker := passage.NewWalker(p)
				walker.Walk(in)
				f := walker.Finish()
				require.Equal(t, step+part, p.StepKey(f.Step)+p.PartKey(f.Step, f.Part), "%s", m.Write())
			}
		}
		for i := range len(p.Questions) {
			for _, name := range append(p.Names(i), "") {
				in, err := w.To(odds.Target{Question: p.Key(i), Answer: name})
				if _, seen := o.Seen[p.Key(i)]; !seen {
					require.ErrorIs(t, err, odds.ErrUnreachable)
					continue
				}
				require.NoError(t, err)
				require.Contains(t, passage.Walk(p, in).Seen, i, "%s", m.Write())
				if name != "" {
					require.Contains(t, p.NamesOf(i, in.Answers[i]), name)
				}
			}
		}
	})
}

// What only somebody else's visitor gets to can be reached all the same.
func TestVisitorsWhoMayCome(t *testing.T) {
	m := quiztest.New("near", "far")
	m.Ask("crop", quiz.Single, "apples", "pears").Required = true
	when := func(country string) *quiz.Condition {
		return &quiz.Condition{
			Subject: quiz.Subject{Visitor: "country"},
			Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words(country)},
		}
	}
	m.Decide(quiz.Step{Kind: quiz.RuleStep, When: when("IE"), Outcome: "far"})
	m.Outcomes["near"].Landings = map[string]*quiz.Landing{
		"page": {
			Order: 2,
			Kind:  quiz.PageLanding,
		}, "danish": {Order: 1, Kind: quiz.PageLanding, When: when("DK")}, "irish": {Kind: quiz.PageLanding,
			When: when("IE")}}
	p := m.Compile(t)
	o := exactly(t, p)
	assert.Equal(t, map[string]float64{"near": 1, "far": 0}, o.Outcomes)
	assert.Equal(
		t,
		map[string]float64{"page": 1, "danish": 0},
		o.Landings["near"],
		"the Irish get to another outcome before",
	)
	irish, err := odds.Of(p, odds.Options{Visitor: &program.Visitor{Country: "IE"}})
	require.NoError(t, err)
	assert.Equal(t, 1.0, irish.Outcomes["far"])

	w, err := odds.Witness(context.Background(), p, nil, 0)
	require.NoError(t, err)
	in, err := w.To(odds.Target{Outcome: "near", Landing: "danish"})
	require.NoError(t, err)
	assert.Equal(t, "DK", in.Visitor.Country)
	assert.Equal(t, "danish", passage.LandingKey(p, passage.Walk(p, in)))
	in, err = w.To(odds.Target{Outcome: "far"})
	require.NoError(t, err)
	assert.Equal(t, "IE", in.Visitor.Country)
	_, err = w.To(odds.Target{Outcome: "near", Landing: "irish"})
	assert.ErrorIs(t, err, odds.ErrUnreachable)
}
