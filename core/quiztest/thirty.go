package quiztest

import (
	"fmt"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Thirty makes a quiz of 30 questions with 4 answers on 3 scales, of which every
// fifth answer of a question jumps over the next, every sixth question shows
// only under a condition, and the decision has a rule and bands.
func Thirty() Maker {
	m := New("cold", "warm", "hot")
	for _, s := range []string{"need", "budget", "haste"} {
		m.Scale(s, quiz.Sum)
	}
	for i := range 30 {
		var answers []string
		for a := range 4 {
			answers = append(answers, fmt.Sprintf("a%d need=%d budget=%d haste=%d", a, a, (a*i)%5, i%3))
		}
		q := m.Ask(fmt.Sprintf("q%d", i), quiz.Single, answers...)
		if i%6 == 5 {
			q.ShowWhen = isAnswer(fmt.Sprintf("q%d", i-1), "a2")
		}
	}
	for i := 0; i+2 < 30; i += 5 {
		m.Questions[fmt.Sprintf("q%d", i)].Answers["a3"].Then = &quiz.Then{
			Go: quiz.ToQuestion,
			To: fmt.Sprintf("q%d", i+2),
		}
	}
	m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "hot", When: &quiz.Condition{All: []*quiz.Condition{
		{
			Subject: quiz.Subject{Scale: "haste"},
			Test:    quiz.Test{Op: quiz.AtLeast, Value: quiz.Amount(decimal.FromInt(28))},
		}, isAnswer("q3", "a1")}}})
	m.Bands("need", "cold", "30=warm", "45=hot")
	return m
}

// Forty makes a quiz of 40 questions with 8 answers on 3 scales, decided by bands of
// the first.
func Forty() Maker { return Many(40) }

// Many is Forty with as many questions as are wanted.
func Many(questions int) Maker {
	m := New("cold", "warm", "hot")
	for _, k := range []string{"need", "budget", "haste"} {
		m.Scale(k, quiz.Sum)
	}
	for i := range questions {
		var answers []string
		for a := range 8 {
			answers = append(answers, fmt.Sprintf("a%d need=%d budget=%d", a, a, (a*i)%5-2))
		}
		m.Ask(fmt.Sprintf("q%d", i), quiz.Single, answers...).Required = true
	}
	m.Bands("need", "cold", "100=warm", "150=hot")
	return m
}

func isAnswer(question, answer string) *quiz.Condition {
	return &quiz.Condition{
		Subject: quiz.Subject{Answer: question},
		Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words(answer)},
	}
}
