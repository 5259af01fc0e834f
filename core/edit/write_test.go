package edit

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/starter"
)

// said writes what was read: a line a question, answers behind it.
func said(list []Asked) string {
	var b strings.Builder
	for _, w := range list {
		b.WriteString(w.Label)
		for _, a := range w.Answers {
			b.WriteString(" | " + a.Label)
			for _, n := range a.Adds {
				if n == nil {
					b.WriteString(" .")
				} else {
					b.WriteString(" " + n.String())
				}
			}
		}
		b.WriteString("\n")
	}
	return b.String()
}

// Lines as people paste them. Common practice, no source.
func TestQuestionsOfLines(t *testing.T) {
	for name, c := range map[string][2]string{
		"a question a line": {"What do you grow?\nHow many hives?\r\n", "What do you grow?\nHow many hives?\n"},
		"indented answers": {"What do you grow?\n  Apples\n\tBerries\n\nHow many hives?\n  None",
			"What do you grow? | Apples | Berries\nHow many hives? | None\n"},
		"bullets and numbers": {"1. What do you grow?\n- Apples\n• Berries\n2) Hives?\na) None\nb) Some",
			"What do you grow? | Apples | Berries\nHives? | None | Some\n"},
		"groups": {"What do you grow?\nApples\nBerries\n\nHives?\nNone\nSome",
			"What do you grow? | Apples | Berries\nHives? | None | Some\n"},
		"a blank line begins": {"What do you grow?\n\nApples\nBerries\n\nHives?\n\nNone\nSome\n",
			"What do you grow? | Apples | Berries\nHives? | None | Some\n"},
		"questions far apart": {"What do you grow?\n\nHives?\n\nWhen?", "What do you grow?\nHives?\nWhen?\n"},
		"weights": {"What do you grow?\n\tApples\t4\t-1,5\n\tBerries\t\t+2",
			"What do you grow? | Apples 4 -1.5 | Berries . 2\n"},
		"a spreadsheet": {"What do you grow?\tApples\t4\nWhat do you " +
			"grow?\tBerries\t2\nHives?\tNone\t0\n\tSome\t1",
			"What do you grow? | Apples 4 | Berries 2\nHives? | None 0 | Some 1\n"},
		"answers in cells": {"What do you grow?\tApples\tBerries\nHives?\tNone\tSome\tMany\t",
			"What do you grow? | Apples | Berries\nHives? | None | Some | Many\n"},
		"an answer before all":   {"  Apples\nHives?", "Apples\nHives?\n"},
		"nothing":                {" \n\n\t\n", ""},
		"numbers alone are left": {"Hives?\t3", "Hives?\n"},
	} {
		assert.Equal(t, c[1], said(ReadQuestions(c[0])), name)
	}
}

// Twenty-five questions with weights are made in one act, with keys of their words, and taken
// back in one.
func TestManyQuestionsAtOnce(t *testing.T) {
	blank, err := starter.Make("blank", "Bees", "")
	require.NoError(t, err)
	document := blank.Write()
	var text strings.Builder
	for i := range 25 {
		fmt.Fprintf(&text, "How is orchard number %d?\n\tFine\t3\t0\n\tPoor\t0\t%d\n", i+1, i)
	}
	text.WriteString("Would you?\n\tYes\n\tNo\n")
	patch, made, err := Patch(Write{Label: text.String(), Beside: Beside{After: "question_1"}}, document)
	require.NoError(t, err)
	c, err := Apply(document, patch)
	require.NoError(t, err)
	q := c.After
	keys := q.QuestionKeys()
	require.Len(t, keys, 26, "the one that nobody has begun makes room")
	assert.Equal(t, "Added 26 questions", c.Sentence)
	assert.Equal(t, "/questions/"+keys[25], string(made))
	assert.Equal(t, quiz.YesNo, q.Questions[keys[25]].Kind)
	assert.Equal(t, "How is orchard number 25?", q.Questions[keys[24]].Label)
	assert.Equal(t, []string{"points", "points_2"}, quiz.InOrder(q.Scales))
	assert.Equal(t, "24", q.Questions[keys[24]].Answers["poor"].Adds["points_2"].String())
	assert.Empty(t, c.Problems)
	back, err := Apply(c.Document, c.Inverse)
	require.NoError(t, err)
	assert.Equal(t, string(document), string(back.Document))
	_, _, err = Patch(Write{Label: " "}, document)
	assert.ErrorIs(t, err, ErrAct)
	_, _, err = Patch(Write{Label: strings.Repeat("x?\n", quiz.Most+1)}, document)
	assert.ErrorIs(t, err, ErrAct)
}

func FuzzReadQuestions(f *testing.F) {
	f.Add("What?\n\tApples\t4\n\n- b\t\t1")
	f.Fuzz(func(t *testing.T, text string) {
		for _, w := range ReadQuestions(text) {
			for _, a := range w.Answers {
				assert.Equal(t, strings.TrimSpace(a.Label), a.Label)
			}
		}
	})
}
