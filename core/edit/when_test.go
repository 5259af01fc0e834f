package edit

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// A condition is written by acts, part by part.
func TestConditionsByActs(t *testing.T) {
	m := quiztest.New("a", "b")
	m.Scale("points", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples points=1", "pears")
	m.Ask("topics", quiz.Several, "x", "y")
	m.Ask("acres", quiz.Number)
	document := m.Write()
	path := quiz.Pointer("/questions/acres/showWhen")
	for _, step := range []struct{ at, part, label, sentence string }{
		{"", "begin", "", "“topics” is one of “x”"},
		{"all/0", "toggle", "y", "“topics” is one of “x”, “y”"},
		{"all/0", "op", "includes", "“topics” includes “x”, “y”"},
		{"", "clause", "", "“topics” includes “x”, “y” and “topics” is one of “x”"},
		{"all/1", "subject", "answer crop", "“topics” includes “x”, “y” and “crop” is “apples”"},
		{"all/1", "value", "pears", "“topics” includes “x”, “y” and “crop” is “pears”"},
		{"", "how", "any", "“topics” includes “x”, “y” or “crop” is “pears”"},
		{"", "nest", "", "“topics” includes “x”, “y” or “crop” is “pears” or " +
			"“topics” is one of “x”"},
		{"any/2/any/0", "subject", "scale points",
			"“topics” includes “x”, “y” or “crop” is “pears” or points is at least 0"},
		{"any/2/any/0", "op", "between", "“topics” includes “x”, “y” or “crop” is " +
			"“pears” or points is between 0 and 0"},
		{"any/2/any/0", "to", "2,5", "“topics” includes “x”, “y” or “crop” is " +
			"“pears” or points is between 0 and 2.5"},
		{"any/2/any/0", "remove", "", "“topics” includes “x”, “y” or “crop” is “pears”"},
		{"any/0", "remove", "", "“crop” is “pears”"},
		{"any/0", "subject", "visitor country", "the visitor's country is “”"},
		{"any/0", "op", "is one of", "the visitor's country is one of “”"},
		{"any/0", "value", "IE, GB", "the visitor's country is one of “Ireland”, “United Kingdom”"},
		{"", "remove", "", "always"},
	} {
		patch, _, err := Patch(When{Path: path, At: step.at, Part: step.part, Label: step.label}, document)
		require.NoError(t, err, step)
		c, err := Apply(document, patch)
		require.NoError(t, err, step)
		document = c.Document
		assert.Equal(t, step.sentence, c.After.Sentence(c.After.Questions["acres"].ShowWhen), "%v", step)
	}
	_, _, err := Patch(When{Path: path, At: "all/4", Part: "op", Label: "is"}, document)
	assert.ErrorIs(t, err, ErrAct)
}

// Merging alike rules changes nobody's outcome.
func TestMergedRulesDecideAlike(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.New("a", "b")
		rules := ""
		for _, k := range []string{"x", "y"} {
			m.Ask(k, quiz.Single, "p", "q", "r").Required = rapid.Bool().Draw(t, "required")
		}
		cell := rapid.SampledFrom([]string{"", "p", "q", "r", "p or q", "q or r"})
		for range rapid.IntRange(2, 6).Draw(t, "rules") {
			rules += fmt.Sprintf(
				"%s\t%s\t%s\n",
				cell.Draw(t, "x"),
				cell.Draw(t, "y"),
				rapid.SampledFrom([]string{"a", "b"}).Draw(t, "outcome"),
			)
		}
		m.Decide(
			quiz.Step{
				Kind: quiz.TableStep,
				Columns: map[string]*quiz.Column{
					"x": {Order: 1, Subject: quiz.Subject{Answer: "x"}},
					"y": {Order: 2, Subject: quiz.Subject{Answer: "y"}},
				},
			},
		)
		table := quiz.Pointer("/decision/steps/step_a")
		made := func(document []byte, a Act) *Change {
			patch, _, err := Patch(a, document)
			if err != nil {
				assert.ErrorIs(t, err, ErrAct)
				return nil
			}
			c, err := Apply(document, patch)
			require.NoError(t, err)
			return c
		}
		full := made(m.Write(), Cells{Path: table, At: "/x", Label: rules})
		require.NotNil(t, full)
		merged := made(full.Document, Alike{Path: table})
		if merged == nil {
			return
		}
		before, err := program.Compile(full.After)
		require.NoError(t, err)
		after, err := program.Compile(merged.After)
		require.NoError(t, err)
		assert.Less(t, len(merged.After.Decision.Steps["step_a"].Rules), len(full.After.Decision.Steps["step_a"].Rules))
		for x := int16(-1); x < 3; x++ {
			for y := int16(-1); y < 3; y++ {
				in := passage.Input{Answers: program.Answers{value(x), value(y)}}
				if before.Needs(0) && x < 0 || before.Needs(1) && y < 0 {
					continue
				}
				assert.Equal(
					t,
					passage.OutcomeKey(before, passage.Walk(before, in)),
					passage.OutcomeKey(after, passage.Walk(after, in)),
					"%d %d of\n%s",
					x,
					y,
					rules,
				)
			}
		}
	})
}

// value is an answer by its place; -1 passes by.
func value(place int16) program.Value {
	if place < 0 {
		return program.Value{State: program.Skipped}
	}
	return program.Value{State: program.Given, Option: place}
}
