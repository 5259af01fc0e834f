package edit

import (
	"encoding/json"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
)

// Whatever was changed, taking all changes back leads to what was there before, and each has
// its sentence.
func TestChangesLeadBack(t *testing.T) {
	t.Parallel()
	document := orchard(t)
	before, err := quiz.Read(document)
	require.NoError(t, err)
	var tree any
	require.NoError(t, json.Unmarshal(document, &tree))
	patches := everyPatch("", tree)
	r := rand.New(rand.NewPCG(7, 0))
	tried := 0
	for range 30 {
		changed := document
		for range 40 {
			if c, err := Apply(changed, []byte("["+patches[r.IntN(len(patches))]+"]")); err == nil {
				changed = c.Document
			}
		}
		after, err := quiz.Read(changed)
		require.NoError(t, err)
		list, err := Changes(before, after)
		require.NoError(t, err)
		tried += len(list)
		var ops []Op
		for _, c := range list {
			assert.NotEmpty(t, c.Sentence, "%s", c.Pointer)
			assert.NotContains(t, c.Sentence, "%!", "%s", c.Pointer)
			ops = append(c.Back, ops...)
		}
		if len(ops) == 0 {
			continue
		}
		patch, err := json.Marshal(ops)
		require.NoError(t, err)
		c, err := Apply(changed, patch)
		require.NoError(t, err, "%s", patch)
		back := c.Document
		was, err := quiz.Read(back)
		require.NoError(t, err)
		n, err := Differences(was.Write(), before.Write())
		require.NoError(t, err)
		assert.Zero(t, n)
	}
	assert.Greater(t, tried, 150)
}

// Each kind of change is told at its place, in the order of the quiz.
func TestSentencesOfChanges(t *testing.T) {
	before, err := quiz.Read(orchard(t))
	require.NoError(t, err)
	change, err := Apply(orchard(t), []byte(`[
		{"op":"replace","path":"/outcomes/walk/name","value":"Walk them"},
		{"op":"replace","path":"/decision/steps/bands/cuts/hot/at","value":20},
		{"op":"replace","path":"/questions/crop/answers/apples/adds/readiness","value":6},
		{"op":"remove","path":"/questions/hives"},
		{"op":"replace","path":"/opening/heading","value":"Are you ready?"},
		{"op":"add","path":"/look/paper","value":"#fdf6e3"},
		{"op":"add","path":"/translations","value":{"de":{"/title":{"text":"Bereit?"}},"fr":{}}},
		{"op":"add","path":"/rehearsals/one","value":{"order":1,"name":"One","outcome":"walk"}}
	]`))
	require.NoError(t, err)
	list, err := Changes(before, change.After)
	require.NoError(t, err)
	var said []string
	for _, c := range list {
		said = append(said, c.Sentence)
	}
	assert.Equal(t, []string{
		"Heading of the opening is now “Are you ready?”",
		"Readiness of “Apples or pears” +4 → +6",
		"Deleted the question “How many hives did you have last year?”",
		"Cut of Readiness 18 → 20",
		"Name of “Walk the rows together” is now “Walk them”",
		"Colour of the paper of the look is now “#fdf6e3”",
		"Added the language German, French",
	}, said)
	assert.Equal(t, "Is your orchard ready for hired bees?", list[0].Before)
}
