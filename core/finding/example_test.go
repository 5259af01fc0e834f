package finding_test

import (
	"fmt"

	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

func ExampleOf() {
	m := quiztest.New("later", "fit")
	m.Scale("readiness", quiz.Sum).Name = "Readiness"
	m.Ask("crop", quiz.Single, "apples readiness=4", "none readiness=0").Label = "What do you grow?"
	m.Bands("readiness", "later", "9=fit")
	list, _, _ := finding.Of(m.Quiz, odds.Options{}, finding.Outside{})
	for _, f := range list {
		if f.Level == finding.Warning {
			fmt.Println(f.Code, f.Pointer)
			fmt.Println(f.Sentence)
		}
	}
	// Output:
	// band-out-of-reach /decision/steps/step_a/cuts/cut_a
	// The band from 9 for “fit” is out of reach: Readiness goes from 0 to 4.
	// nearly-everybody /outcomes/later
	// “later” takes 100 % of respondents: the quiz sorts hardly anybody out.
	// unreachable-outcome /outcomes/fit
	// Nobody can get “fit”: its band is out of reach, Readiness goes from 0 to 4.
}
