package rehearsal_test

import (
	"fmt"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/core/rehearsal"
)

// A passage that was walked is kept, and told of when it gets something else.
func ExampleAll() {
	m := quiztest.New("low", "high")
	m.Scale("points", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples points=3", "none")
	m.Bands("points", "low", "3=high")
	p, _ := program.Compile(m.Quiz)
	apples, _ := p.Read(0, program.Typed{Values: []string{"apples"}})
	best := rehearsal.Of(p, passage.Input{Answers: program.Answers{apples}})
	m.Quiz.Rehearsals = map[string]*quiz.Rehearsal{"best": best}

	m.Quiz.Decision.Steps["step_a"].Cuts["cut_a"].At *= 2
	p, _ = program.Compile(m.Quiz)
	for _, v := range rehearsal.All(p) {
		fmt.Println(v.Key, v.Holds, v.Outcome)
	}
	// Output: best false low
}
