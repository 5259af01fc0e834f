package web_test

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// keeper is the demo's draft, of which something is found.
func (a *app) keeper(t testing.TB) string {
	t.Helper()
	data, err := os.ReadFile("../cmd/omphalos/demo/keeper.json")
	require.NoError(t, err)
	a.add(t, string(data))
	return "/studio/quizzes/1"
}

// Findings stand in a list and at their place; one leads to its place, another is
// mended by a press, and everything on the sheet is true again without a reload.
func TestFindingsAreMended(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()
	b.open(a.keeper(t))
	b.run(`window.notReloaded = true`)
	assert.Equal(t, "4 findings", b.text(".findlink"))
	assert.Equal(t, "Not as it was meant 4", b.text("#part-findings h2"))
	assert.Equal(t, "0 % see it", b.text("#part-q-sell .aside span"))
	assert.Contains(t, b.text("#part-q-stand .mind"), "“Bags of seed” has no weight, and other answers do.")
	assert.Contains(t, b.text("#part-s-closest .mind"), "21 % of respondents have no single leader here")
	share := b.text("#part-o-gatherer .bigshare")
	assert.Equal(t, "19 %", share)
	b.axe("Sheet, with findings")

	b.click(`#part-findings [data-jump="/questions/stand/answers/seeds/adds"]`)
	assert.Contains(
		t,
		read[string](b, `document.activeElement.dataset.path`),
		"/questions/stand/answers/seeds/adds/",
		"at the weight that is missing",
	)
	b.click(`#part-q-stand .mend`)
	b.until("it is mended", `document.querySelector(".findlink").textContent.trim().replace(/\s+/g, " ") === "3 findings"`)
	b.kept()
	assert.Equal(t, "0", b.value(`[data-path="/questions/stand/answers/seeds/adds/to_watcher"]`))
	assert.False(t, read[bool](b, `!!document.querySelector("#part-q-stand .mind")`))

	b.click(`#part-findings li:nth-child(2) .mend`) // any where all stands
	b.until("the question is seen",
		`document.querySelector("#part-q-sell .aside span").textContent.trim().replace(/\s+/g, " ") === "67 % see it"`)
	b.kept()
	assert.Equal(t, "1 finding", b.text(".findlink"), "the tie is left")
	assert.NotEqual(t, share, b.text("#part-o-gatherer .bigshare"), "the odds are those with the question")

	b.click(`[data-act=undo]`)
	b.until("undone", `document.querySelector(".findlink").textContent.trim().replace(/\s+/g, " ") === "3 findings"`)
	b.kept()
	b.fill(`[data-path="/questions/sunday/answers/taste/adds/to_gatherer"]`, "9")
	b.press(`[data-path="/questions/sunday/answers/taste/adds/to_gatherer"]`, "\t")
	b.until("a weight changes the odds",
		`document.querySelector("#part-o-gatherer .bigshare").textContent.trim().replace(/\s+/g, " ") !== "19 %"`)
	b.kept()
	assert.True(t, read[bool](b, `window.notReloaded`))
}

// What keeps a draft from being released is told first, and at its place.
func TestErrorsComeFirst(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()
	b.open(a.keeper(t))
	b.fill(`[data-path="/questions/start/label"]`, " ")
	b.until("the words are missed",
		`document.querySelector("#part-findings h2").textContent.trim().replace(/\s+/g, " ") === "Before a release 1"`)
	b.kept()
	assert.Contains(t, b.text("#part-q-start .mind.error"), "has no words yet")
	b.open("/studio/quizzes/1/release")
	assert.Contains(t, b.text("main"), "1 thing to finish first")
	assert.Contains(t, b.text("main"), "Question 1")
}
