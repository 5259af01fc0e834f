package edit

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A question turned into any other kind, and into any further one, is a question
// without anything that a draft refuses, keeps its words, and the answers and limits
// that the new kind can have; undone, it is as before.
func TestEveryKindTurnsIntoEveryOther(t *testing.T) {
	for _, from := range quiz.Kinds {
		first, made := do(t, orchard(t), Add{Path: "/questions", Kind: string(from), Label: "Which?"})
		key := made.Key()
		for _, to := range quiz.Kinds {
			c, _ := do(t, first.Document, Turn{Path: made, Kind: string(to)})
			q := c.After.Questions[key]
			require.Equal(t, to, q.Kind)
			assert.Equal(t, "Which?", q.Label)
			assert.Equal(t, to.HasAnswers(), len(q.Answers) > 0, "%s to %s", from, to)
			assert.Equal(t, to == quiz.Grid, len(q.Rows) > 0, "%s to %s", from, to)
			back, err := Apply(c.Document, c.Inverse)
			require.NoError(t, err)
			assert.Equal(t, string(first.Document), string(back.Document), "%s to %s", from, to)
		}
	}
}

func TestTurningKeepsWhatItCan(t *testing.T) {
	c, _ := do(t, orchard(t), Turn{Path: "/questions/crop", Kind: "several"})
	assert.Equal(t, decimal.FromInt(4), c.After.Questions["crop"].Answers["apples"].Adds["readiness"])
	c, _ = do(t, c.Document, Turn{Path: "/questions/crop", Kind: "grid"})
	assert.Len(t, c.After.Questions["crop"].Answers, 4, "the answers are the columns")
	c, _ = do(t, orchard(t), Add{Path: "/questions", Kind: "number"})
	patched, err := Apply(
		c.Document,
		[]byte(
			`[{"op":"add","path":"/questions/question_7/limits/low","value":1},{"op":"add","path":"/questions/question_7/limits/high","value":7},
		{"op":"add","path":"/questions/question_7/weigh/readiness","value":{"factor":2}}]`,
		),
	)
	require.NoError(t, err)
	c, _ = do(t, patched.Document, Turn{Path: "/questions/question_7", Kind: "stars"})
	low, high := c.After.Questions["question_7"].Range()
	assert.Equal(t, "1 7", low.String()+" "+high.String())
	assert.Equal(t, "2", c.After.Questions["question_7"].Weigh["readiness"].Factor.String())
	patched, err = Apply(c.Document, []byte(`[{"op":"remove","path":"/questions/question_7/weigh/readiness/factor"}]`))
	require.NoError(t, err)
	assert.Empty(t, patched.After.Questions["question_7"].Weigh, "a weighing that says nothing is gone")
}

// All weights of a question at once: exact, on one scale or all.
func TestWeighingAWholeQuestion(t *testing.T) {
	adds := func(q *quiz.Quiz) (list []string) {
		for _, k := range quiz.InOrder(q.Questions["crop"].Answers) {
			list = append(list, q.Questions["crop"].Answers[k].Adds["readiness"].String())
		}
		return list
	}
	c, _ := do(t, orchard(t), Weigh{Path: "/questions/crop", Kind: "evenly", Scale: "readiness", By: "0.1"})
	assert.Equal(t, []string{"0", "0.1", "0.2", "0.3"}, adds(c.After))
	c, _ = do(t, c.Document, Weigh{Path: "/questions/crop", Kind: "times", By: "-3"})
	assert.Equal(t, []string{"0", "-0.3", "-0.6", "-0.9"}, adds(c.After))
	c, _ = do(t, c.Document, Weigh{Path: "/questions/crop", Kind: "clear"})
	for _, a := range c.After.Questions["crop"].Answers {
		assert.Empty(t, a.Adds)
	}
	for _, bad := range []Act{Weigh{Path: "/questions/crop", Kind: "times", By: "much"},
		Weigh{Path: "/questions/none", Kind: "clear"}, Weigh{Path: "/questions/crop", Kind: "guess", By: "1"}} {
		_, _, err := Patch(bad, orchard(t))
		assert.ErrorIs(t, err, ErrAct)
	}
}

// Numbers go through acts and patches as they are written: what binary fractions would round
// stays.
func TestNumbersStayExact(t *testing.T) {
	const exact = "999999999.123457"
	change, err := Apply(orchard(t), []byte(`[{"op":"add","path":"/questions/crop/answers/apples/adds/readiness","value":`+exact+`}]`))
	require.NoError(t, err)
	assert.Equal(t, decimal.Must(exact), change.After.Questions["crop"].Answers["apples"].Adds["readiness"])
	for _, act := range []Act{Copy{Path: "/questions/crop"}, Weigh{Path: "/questions/crop", Kind: "times", By: "1"}} {
		patch, _, err := Patch(act, change.Document)
		require.NoError(t, err)
		assert.Contains(t, string(patch), exact)
		c, err := Apply(change.Document, patch)
		require.NoError(t, err)
		assert.Contains(t, string(c.Document), exact)
		back, err := Apply(c.Document, c.Inverse)
		require.NoError(t, err)
		assert.Contains(t, string(back.Document), exact)
	}
}

// A keyword typed onto an answer is made once, whatever its capitals; two that mean
// the same are merged, and what both had is added up.
func TestKeywords(t *testing.T) {
	c, _ := do(t, orchard(t), Tag{Path: "/questions/crop/answers/apples", Label: "early"})
	c, _ = do(t, c.Document, Tag{Path: "/questions/crop/answers/cherries", Label: " Early "})
	c, _ = do(t, c.Document, Tag{Path: "/questions/crop/answers/cherries", Label: "soon"})
	require.Len(t, c.After.Scales, 3)
	assert.Equal(t, quiz.Keyword, c.After.Scales["keyword_2"].Kind)
	c, _ = do(t, c.Document, Merge{Path: "/scales/keyword_3", Scale: "keyword_2"})
	require.Len(t, c.After.Scales, 2)
	assert.Equal(t, "2", c.After.Questions["crop"].Answers["cherries"].Adds["keyword_2"].String())
	assert.Equal(t, "1", c.After.Questions["crop"].Answers["apples"].Adds["keyword_2"].String())
	_, _, err := Patch(Tag{Path: "/questions/crop/answers/apples", Label: "  "}, c.Document)
	assert.ErrorIs(t, err, ErrAct)
	_, _, err = Patch(Merge{Path: "/scales/keyword_2", Scale: "keyword_2"}, c.Document)
	assert.ErrorIs(t, err, ErrAct)
}

// A scale turned into any kind, and on into any other, is one that a draft can hold.
func TestScalesTurn(t *testing.T) {
	kinds := []string{"points", "keyword", "pull", "money"}
	for _, from := range kinds {
		c, made := do(t, orchard(t), Add{Path: "/scales", Kind: from, Label: "Other"})
		for _, to := range kinds {
			turned, _ := do(t, c.Document, Turn{Path: made, Kind: to})
			assert.Equal(t, quiz.ScaleKind(to), turned.After.Scales["scale_2"].Kind)
			assert.Equal(t, to == "money", turned.After.Scales["scale_2"].Currency != "")
		}
	}
}
