package passage_test

import (
	"fmt"
	"strings"

	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// A respondent is taken through a quiz and told why it ended as it did.
func Example() {
	m := quiztest.New("later", "fit")
	m.Scale("readiness", quiz.Sum).Name = "Readiness"
	m.Ask("crop", quiz.Single, "apples readiness=4", "none readiness=0").Label = "What do you grow?"
	m.Bands("readiness", "later", "3=fit")
	program, err := passage.Compile(m.Quiz)
	if err != nil {
		fmt.Println(err)
		return
	}
	apples, _ := program.Read(0, passage.Typed{Values: []string{"apples"}})
	in := passage.Input{Answers: passage.Answers{apples}}
	result := program.Walk(in)
	fmt.Println(program.OutcomeKey(result), result.Scores[0])
	why := program.Explain(in)
	fmt.Println(strings.Join(why.Sentences(), "\n"))
	// Output:
	// fit 4
	// To “What do you grow?” the answer was “apples”: Readiness +4.
	// Readiness came to 4.
	// Readiness of 4 lies in the band from 3, so it is “fit”.
	// The landing is a page.
}
