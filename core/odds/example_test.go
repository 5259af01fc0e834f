package odds_test

import (
	"fmt"

	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// What a quiz can give is known before anybody takes it.
func ExampleOf() {
	m := quiztest.New("later", "fit")
	m.Scale("readiness", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples readiness=4", "pears readiness=3", "none readiness=0")
	m.Ask("size", quiz.Single, "small readiness=0", "large readiness=2")
	m.Bands("readiness", "later", "4=fit")
	program, err := program.Compile(m.Quiz)
	if err != nil {
		fmt.Println(err)
		return
	}
	o, err := odds.Of(program, odds.Options{})
	if err != nil {
		fmt.Println(err)
		return
	}
	scale := o.Scores["readiness"]
	fmt.Printf(
		"%.3f of them fit; scores go from %v to %v, %.2f expected\n",
		o.Outcomes["fit"],
		scale.Lowest(),
		scale.Highest(),
		scale.Mean,
	)
	// Output:
	// 0.333 of them fit; scores go from 0 to 6, 2.42 expected
}
