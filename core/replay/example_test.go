package replay_test

import (
	"fmt"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/core/replay"
)

// A cut is raised from 3 to 4: somebody with 3 points would land elsewhere, and the cut is to blame.
func ExampleReplay() {
	with := func(cut string) *quiz.Quiz {
		m := quiztest.New("later", "fit")
		m.Scale("readiness", quiz.Sum)
		m.Ask("crop", quiz.Single, "apples readiness=3", "pears readiness=5")
		m.Bands("readiness", "later", cut+"=fit")
		return m.Quiz
	}
	r, err := replay.New(with("3"), with("4"))
	if err != nil {
		fmt.Println(err)
		return
	}
	player := r.Player()
	for i, crop := range []string{"apples", "pears"} {
		player.Play(replay.Response{Number: i + 1, Input: func(version int) passage.Input {
			v, _ := r.Programs()[version].Read(0, program.Typed{Values: []string{crop}}) // both versions have it
			return passage.Input{Answers: program.Answers{v}}
		}}, true)
	}
	sums := player.Take()
	fmt.Println(sums.Moved(), "of", sums.Count, "would land elsewhere")
	for _, m := range sums.Movers {
		fmt.Printf("No. %d: %s → %s, %s\n", m.Number, m.Before, m.After, r.Changes[m.Blame].Sentence)
	}
	// Output:
	// 1 of 2 would land elsewhere
	// No. 1: fit → later, Cut of readiness 3 → 4
}
