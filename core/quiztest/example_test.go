package quiztest_test

import (
	"fmt"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Every way through a small quiz is walked, with its share.
func ExamplePassages() {
	m := quiztest.New("later", "fit")
	m.Scale("readiness", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples readiness=4", "none readiness=0")
	m.Bands("readiness", "later", "3=fit")
	program, err := program.Compile(m.Quiz)
	if err != nil {
		fmt.Println(err)
		return
	}
	quiztest.Passages(program, func(_ passage.Input, r *passage.Result, share float64) {
		fmt.Println(r.Scores[0], passage.OutcomeKey(program, r), share)
	})
	// Output:
	// 4 fit 0.3333333333333333
	// 0 later 0.3333333333333333
	// 0 later 0.3333333333333333
}
