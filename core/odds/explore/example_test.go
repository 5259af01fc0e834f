package explore_test

import (
	"context"
	"fmt"

	"omphalos/core/expect"
	"omphalos/core/odds/explore"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Answers of which nothing later can tell the difference have one effect: apples and
// pears pass the only cut, however much they weigh.
func Example() {
	m := quiztest.New("later", "fit")
	m.Scale("readiness", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples readiness=4", "pears readiness=3", "none readiness=0").Required = true
	m.Bands("readiness", "later", "3=fit")
	p, err := program.Compile(m.Quiz)
	if err != nil {
		fmt.Println(err)
		return
	}
	e, err := explore.Ends(context.Background(), p, expect.Assume(p, nil, nil), 1<<10)
	if err != nil {
		fmt.Println(err)
		return
	}
	e.Start(func(at explore.Move, v explore.Vector, _ float64) {
		states := map[explore.Vector]float64{}
		for i := range e.Effects(at.Next) {
			effect := &e.Effects(at.Next)[i]
			to, _ := e.Step(at.Next, at.Memory, effect)
			states[e.Narrow(len(p.Questions), v.Add(effect))] += effect.Share
			at.Memory, at.End, at.Outcome = to.Memory, to.End, to.Outcome
		}
		at.Next = -1
		for state, share := range states {
			f := e.Finish(at, state)
			fmt.Printf("%s: %.2f\n", p.OutcomeAt(f.Outcome), share)
		}
	})
	// Unordered output:
	// fit: 0.67
	// later: 0.33
}
