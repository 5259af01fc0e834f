package expect_test

import (
	"fmt"

	"omphalos/core/expect"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// What is not named shares alike in what remains.
func ExampleAssume() {
	m := quiztest.New("fit")
	m.Ask("crop", quiz.Single, "apples", "pears", "none").Required = true
	p, err := program.Compile(m.Quiz)
	if err != nil {
		fmt.Println(err)
		return
	}
	a := expect.Assume(p, nil, expect.Shares{"crop": {"apples": 60}})
	fmt.Printf("%v %.1f\n", p.Names(0), expect.Chances(p, 0, a))
	// Output:
	// [apples pears none] [0.6 0.2 0.2]
}
