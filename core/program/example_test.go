package program_test

import (
	"fmt"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// A passage is moved on by hand, question by question.
func Example() {
	m := quiztest.New("later", "fit")
	m.Scale("readiness", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples readiness=4", "none readiness=0").Label = "What do you grow?"
	m.Bands("readiness", "later", "3=fit")
	p, err := program.Compile(m.Quiz)
	if err != nil {
		fmt.Println(err)
		return
	}
	at, answer := p.Course(), program.Value{State: program.Given}
	first := at.Ahead(0, program.None)
	at.Seen[first] = true
	at.Weigh(&p.Questions[first], &answer)
	fmt.Println(p.Key(first), "answered by", p.Words(first, answer), "gives", at.Score(0))
	fmt.Println(at.Leave(first, &answer).End)
	at.Decide([]decimal.Decimal{at.Score(0)})
	fmt.Println(p.OutcomeAt(at.Outcome))
	// Output:
	// crop answered by apples gives 4
	// decided
	// fit
}
