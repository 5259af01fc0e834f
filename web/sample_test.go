package web_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Where outcomes can only be sampled the sheet says so, beside the decision and at
// each share; what is seen and the scores stay exact.
func TestSheetTellsASample(t *testing.T) {
	t.Parallel()
	m := quiztest.New("o0", "o1", "o2", "o3", "o4", "o5", "o6", "o7")
	leader := quiz.Step{Kind: quiz.LeaderStep, Contenders: map[string]*quiz.Contender{}}
	for i := range 8 {
		m.Scale(fmt.Sprintf("s%d", i), quiz.Sum)
		leader.Contenders[fmt.Sprintf("s%d", i)] = &quiz.Contender{Order: float64(i), Outcome: fmt.Sprintf("o%d", i)}
	}
	for i := range 20 {
		var answers []string
		for a := range 5 {
			to := (3*i + 5*a) % 8
			answers = append(answers, fmt.Sprintf("a%d s%d=2 s%d=1 s%d=-1", a, to, (to+1+i%3)%8, (to+5+a%3)%8))
		}
		m.Ask(fmt.Sprintf("q%d", i), quiz.Single, answers...).Required = true
	}
	m.Decide(leader)
	a := newApp(t)
	a.add(t, string(m.Write()))
	_, page := a.client(t).signIn().get("/studio/quizzes/1")
	assert.Contains(t, page, "Shares of outcomes are from a sample of 16,384 passages, ± 0.4 %")
	assert.Contains(t, page, `<div class="bigshare">≈ `)
	assert.NotContains(t, page, "<small>sampled</small>", "what is seen is exact")
}

// What nobody can count is said: words that conditions tell apart have a row each, whose
// share can be expected, and a number without limits is named; who ends before the
// decision is told apart on its ruler.
func TestSheetTellsWhatOddsRestOn(t *testing.T) {
	t.Parallel()
	m := quiztest.New("other", "bees")
	m.Scale("land", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples land=1", "nothing").Required = true
	m.Questions["crop"].Answers["nothing"].Then = &quiz.Then{Go: quiz.PartWays, To: "other"}
	m.Ask("wish", quiz.ShortText).Label = "What do you wish for?"
	factor := decimal.One
	m.Ask("size", quiz.Number).Weigh = map[string]*quiz.Weighing{"land": {Factor: &factor}}
	m.Decide(
		quiz.Step{
			Kind:    quiz.RuleStep,
			Outcome: "bees",
			When: &quiz.Condition{
				Subject: quiz.Subject{Answer: "wish"},
				Test:    quiz.Test{Op: quiz.Contains, Value: quiz.Words("bees")},
			},
		},
	)
	m.Bands("land", "other", "3=bees")
	a := newApp(t)
	a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	decision := b.text("#part-decision")
	assert.Contains(t, decision, "How many write what in “What do you wish for?” nobody can count")
	assert.Contains(t, decision, "“size” has no limits")
	assert.Contains(t, b.text("#part-foot"), "no end")
	assert.Contains(t, b.text("main"), "have a score and do not come here")
	slide := `[data-expect="/questions/wish/expect/contains bees"]`
	assert.Contains(t, b.text(`.answer:has(`+slide+`)`), "Whoever writes what contains bees")
	b.run(`document.querySelector('` + slide + `').focus()`)
	b.keys(kb.End)
	b.until("expected of everybody", `document.querySelector('`+slide+`').getAttribute("aria-valuenow") === "100"`)
	b.kept()
	assert.NotContains(t, b.text("#part-decision"), "nobody can count")
	z, err := a.store.Definitions.Quiz(t.Context(), 1)
	require.NoError(t, err)
	assert.Contains(t, z.Draft, `"contains bees": 100`)
	b.axe("Sheet with words that are told apart")
}
