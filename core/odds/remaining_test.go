package odds

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// A quarter leave after the first question, and half of the others skip the third.
func TestRemaining(t *testing.T) {
	m := quiztest.New("o")
	m.Ask("q1", quiz.Single, "a", "b", "c", "d").Required = true
	m.Ask("q2", quiz.Single, "a", "b").Required = true
	m.Ask("q3", quiz.Single, "a", "b").Required = true
	m.Ask("q4", quiz.Single, "a", "b").Required = true
	m.Questions["q1"].Answers["d"].Then = &quiz.Then{Go: quiz.Decide}
	m.Questions["q2"].Answers["b"].Then = &quiz.Then{Go: quiz.ToQuestion, To: "q4"}
	p, err := program.Compile(m.Quiz)
	require.NoError(t, err)
	o, err := Of(p, Options{})
	require.NoError(t, err)
	left := o.Remaining()
	for key, want := range map[string]float64{"q4": 0, "q3": 1, "q2": 1.5, "q1": 0.75 * 2.5, "": 1 + 0.75*2.5} {
		assert.InDelta(t, want, left[key], 1e-9, key)
	}
	assert.InDelta(t, o.Questions(), left[""], 1e-9, "from the opening on: all of them")
}
