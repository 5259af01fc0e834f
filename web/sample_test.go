package web_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Where outcomes can only be sampled the sheet says so, beside the decision and at
// each share; what is seen and the scores stay exact.
func TestSheetTellsASample(t *testing.T) {
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
