package passage_test

import (
	"fmt"
	"strings"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// A respondent is taken through a quiz and told why it ended as it did.
func Example() {
	m := quiztest.New("later", "fit")
	m.Scale("readiness", quiz.Sum).Name = "Readiness"
	m.Ask("crop", quiz.Single, "apples readiness=4", "none readiness=0").Label = "What do you grow?"
	m.Bands("readiness", "later", "3=fit")
	p, err := program.Compile(m.Quiz)
	if err != nil {
		fmt.Println(err)
		return
	}
	apples, _ := p.Read(0, program.Typed{Values: []string{"apples"}})
	in := passage.Input{Answers: program.Answers{apples}}
	result := passage.Walk(p, in)
	fmt.Println(passage.OutcomeKey(p, result), result.Scores[0])
	why := passage.Explain(p, in)
	fmt.Println(strings.Join(why.Sentences(), "\n"))
	// Output:
	// fit 4
	// To “What do you grow?” the answer was “apples”: Readiness +4.
	// Readiness came to 4.
	// Readiness of 4 lies in the band from 3, so it is “fit”.
	// The landing is a page.
}
