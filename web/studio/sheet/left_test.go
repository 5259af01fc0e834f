package sheet

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/edit"
	"omphalos/core/finding"
	"omphalos/core/quiz"
)

// sheetOf is a sheet as far as questions are made of it.
func sheetOf(t *testing.T, q *quiz.Quiz) *Sheet {
	t.Helper()
	o := oddsOf(t, q)
	sh := &Sheet{Doc: q, odds: o, possible: o, threads: threads(q, o)}
	sh.columns()
	return sh
}

// An edit leaves those questions alone that are shown as before, and no other.
func TestWhatAnEditLeavesAlone(t *testing.T) {
	before := sheetOf(t, orchard(t))
	left := func(after *Sheet) (list string) {
		if !after.leaves(before) {
			return "none"
		}
		for _, key := range after.Doc.QuestionKeys() {
			if after.leavesAlone(before, key) {
				list += " " + key
			}
		}
		return strings.TrimSpace(list)
	}
	for patch, want := range map[string]string{
		// What one answer weighs.
		`[{"op":"add","path":"/questions/size/answers/small/adds/readiness","value":3}]`: "crop bloom hives budget decides",
		// Weights that shade the cells of all others.
		`[{"op":"add","path":"/questions/size/answers/small/adds/readiness","value":90}]`: "none",
		// How often an answer is expected, which makes its own threads wider.
		`[{"op":"add","path":"/questions/size/expect","value":{"small":0.5}}]`: "crop bloom hives budget decides",
		// Words that conditions and the outline of others name.
		`[{"op":"add","path":"/questions/size/label","value":"How large?"}]`: "none",
		// Where an answer leads to: fewer see what it passes over.
		`[{"op":"add","path":"/questions/size/answers/small/then","value":{"go":"question","to":"budget"}}]`: "none",
		`[{"op":"add","path":"/outcomes/plan/name","value":"Plan it"}]`:                                      "none",
	} {
		change, err := edit.ApplyTo(t.Context(), before.Doc, before.Doc.Write(), []byte(patch))
		require.NoError(t, err, patch)
		after := sheetOf(t, change.After)
		assert.Equal(t, want, left(after), patch)
	}

	// The same document, and something that was found or settled since.
	found := sheetOf(t, before.Doc)
	found.Findings = []finding.Finding{{Level: finding.Hint, Pointer: "/questions/crop"}}
	assert.Equal(t, "none", left(found))
	seen := sheetOf(t, before.Doc)
	seen.odds.Seen["bloom"] = 0.5
	assert.Equal(t, "crop size hives budget decides", left(seen))
}
