package web_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/store"
)

// A weight is changed: the replay says who would land elsewhere, and that this is to blame.
func TestReplayOfTheDraft(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1/learn/replay")
	assert.Contains(t, b.text("main"), "Nothing since release 1 that could move anybody.")
	before, err := a.store.Responses.Response(t.Context(), a.quiz.ID, 2)
	require.NoError(t, err)
	require.Equal(t, "wild", before.Outcome)
	won := store.Won
	_, err = a.store.Responses.ChangeLeads(t.Context(), []int{2, 3}, store.LeadChange{State: &won}, 1)
	require.NoError(t, err)
	a.edit(t, a.quiz.ID, `[{"op":"replace","path":"/questions/crop/answers/apples/adds/promise","value":21}]`)
	a.edit(t, a.quiz.ID, `[{"op":"replace","path":"/title","value":"Another title"}]`)
	b.open("/studio/quizzes/1/learn/replay")
	said := b.text("main")
	assert.Contains(t, said, "3 responses walked again")
	assert.Contains(t, said, "Promise of “Apples” +3 → +21 2 2")
	assert.Contains(t, said, "fit, of 2 leads that were won 0 → 2")
	assert.Contains(t, b.text(".movers"), "Iwan Petit")
	assert.NotContains(t, b.text(".movers"), "Maren Okafor")
	assert.Contains(t, read[string](b, `document.querySelector(".streams").textContent`),
		"2 from Wild helpers to A team of bees")
	b.axe("Replay")
	c := a.client(t).signIn()
	assert.Contains(t, c.says("/studio/quizzes/1"), "Who would land elsewhere?")
	b.open("/studio/quizzes/1?moves=on")
	assert.Contains(t, b.text(".elsewhere"), "2 of the last 3 would land elsewhere")
	b.fill(`[data-path="/questions/crop/answers/cherries/adds/promise"]`, "21")
	b.keys("\r")
	b.until("the edit tells whom it moved",
		`document.querySelector(".elsewhere").textContent.includes("the last edit moved 1")`)
	assert.Contains(t, b.text(".elsewhere"), "3 of the last 3")
	b.open("/studio/quizzes/1?moves=off")
	assert.NotContains(t, b.text(".elsewhere"), "of the last")
	assert.Contains(t, c.says("/studio/quizzes/1/learn/replay?through=1"), "Nothing since release 1",
		"its own release moves nobody")
	assert.Contains(t, c.says("/studio/quizzes/1/learn/replay?source=fair"), "Nobody to walk again")
	a.edit(t, a.quiz.ID, `[{"op":"remove","path":"/decision/otherwise"}]`)
	assert.Contains(t, c.says("/studio/quizzes/1/learn/replay"), "be walked")
}

// Of many, it tells how far it has come.
func TestReplayOfMany(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.many(t, 20_020)
	a.edit(t, z.ID, `[{"op":"replace","path":"/questions/crop/answers/pears/adds/need","value":2}]`)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1/learn/replay")
	assert.Contains(t, b.text("main"), "The newest 20,000 of 20,020 responses")
	b.run(`[...document.querySelectorAll("a")].find((a) => a.textContent === "Walk all of them").click()`)
	b.until("all are walked",
		`location.search.includes("most=all") && document.querySelector("main")?.textContent.includes("would land elsewhere")`)
	assert.Contains(t, b.text("main"), "would land elsewhere 6,674 33 %") // every third grows pears
}
