package rehearsal_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/core/rehearsal"
)

// Whatever passage is kept as a rehearsal holds, also after its document was written and read.
func TestAKeptPassageHolds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		q := quiztest.Draw(t, quiztest.Limits{Questions: 6, Answers: 4}).Quiz
		p, err := program.Compile(q)
		require.NoError(t, err)
		in := quiztest.RandomAnswers(rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 0)), p)
		in.Visitor = &program.Visitor{Country: "IE", Device: "phone", Query: map[string]string{"offer": "spring"}}
		r := rehearsal.Of(p, in)
		r.Name = "One of them"
		q.Rehearsals = map[string]*quiz.Rehearsal{"one": r}
		again, err := quiz.Read(q.Write())
		require.NoError(t, err)
		require.Equal(t, q.Rehearsals, again.Rehearsals)
		p, err = program.Compile(again)
		require.NoError(t, err)
		for _, v := range rehearsal.All(p) {
			require.True(t, v.Holds, "%+v", v)
			require.Empty(t, v.Wrong)
		}
		back, wrong := rehearsal.Input(p, r)
		require.Empty(t, wrong)
		require.Equal(t, passage.Explain(p, in), passage.Explain(p, back), "it is the same passage")
	})
}

// A weight, a landing, an answer or an outcome that changes breaks what rested on it.
func TestWhatBreaksARehearsal(t *testing.T) {
	fresh := func() *quiz.Quiz {
		m := quiztest.New("low", "high")
		m.Scale("points", quiz.Sum)
		m.Ask("crop", quiz.Single, "apples points=3", "none")
		m.Ask("hives", quiz.Number).Limits = &quiz.Limits{High: quiztest.NumberBound(60)}
		m.Bands("points", "low", "3=high")
		m.Quiz.Rehearsals = map[string]*quiz.Rehearsal{"best": {
			Name:    "The best",
			Answers: map[string]*quiz.Given{"crop": {Values: []string{"apples"}}, "hives": {Values: []string{"60"}}},
			Visitor: map[string]string{"country": "IE"},
			Outcome: "high",
		}}
		return m.Quiz
	}
	run := func(q *quiz.Quiz) rehearsal.Verdict {
		p, err := program.Compile(q)
		require.NoError(t, err)
		return rehearsal.All(p)[0]
	}
	q := fresh()
	assert.True(t, run(q).Holds)

	q = fresh()
	q.Questions["crop"].Answers["apples"].Adds["points"] = 2 * decimal.One
	v := run(q)
	assert.False(t, v.Holds)
	assert.Equal(t, "low", v.Outcome)
	r := *q.Rehearsals["best"]
	rehearsal.Accept(&r, v.Ending)
	q.Rehearsals["best"] = &r
	assert.True(t, run(q).Holds, "it may get that now")

	q = fresh()
	q.Questions["hives"].Limits.High = quiztest.NumberBound(50)
	v = run(q)
	assert.True(t, v.Holds, "it gets the same")
	assert.Contains(t, v.Wrong["hives"], "50", "and an answer of it can't be given")

	q = fresh()
	delete(q.Questions["crop"].Answers, "apples")
	assert.Contains(t, run(q).Wrong["crop"], "not one of the answers")

	q = fresh()
	q.Rehearsals["best"].Landing = "elsewhere"
	assert.False(t, run(q).Holds)

	q = fresh()
	q.Rehearsals["best"].Visitor["country"] = "Eire"
	assert.True(t, run(q).Holds, "what nothing asks for makes no difference")

	q = fresh()
	delete(q.Rehearsals["best"].Answers, "crop")
	q.Questions["crop"].Required = true
	assert.Equal(t, []string{"crop"}, run(q).Missing)
}
