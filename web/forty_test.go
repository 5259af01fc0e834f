package web_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// draft returns the draft of a quiz as it is kept.
func (a *app) draft(t testing.TB, id uint) *quiz.Quiz {
	t.Helper()
	z, err := a.store.Definitions.Quiz(t.Context(), id)
	require.NoError(t, err)
	q, err := z.Document()
	require.NoError(t, err)
	return q
}

// undone takes the last edit back and waits for the draft to be as it was.
func (b *tab) undone(z uint, before string) {
	b.t.Helper()
	b.click("[data-act=undo]")
	b.kept()
	b.until("undone", `document.querySelector("[data-act=redo]:not(:disabled)")`)
	assert.JSONEq(b.t, before, string(b.app.draft(b.t, z).Write()))
}

// In a quiz of forty questions several are picked by their numbers and moved by
// keyboard, dragged, copied and deleted, each with one undo.
func TestSeveralOfFortyQuestions(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.add(t, string(quiztest.Forty().Write()))
	before := string(a.draft(t, z.ID).Write())
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	order := func() []string { return a.draft(t, z.ID).QuestionKeys() }
	pick := func() {
		b.press(`[data-pick="/questions/q10"]`, kb.Enter)
		b.run(
			`document.querySelector('[data-pick="/questions/q12"]').dispatchEvent(new MouseEvent("click", {bubbles: true, shiftKey: true}))`,
		)
		b.until("three are picked",
			`document.querySelector("#picks p").textContent.trim().replace(/\s+/g, " ") === "3 questions picked"`)
	}
	pick()
	b.click("#picks [x-on\\:click*=down]")
	b.kept()
	assert.Equal(t, []string{"q9", "q13", "q10", "q11", "q12", "q14"}, order()[9:15])
	b.undone(z.ID, before)

	b.run(`document.querySelector('[data-item="/questions/q10"]').scrollIntoView({block: "center"})`)
	at := read[[]float64](
		b,
		`(() => { const box = (s) => { const r = document.querySelector(s + " .qhead .grip").getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2] };
		return [...box("#part-q-q10"), ...box("#part-q-q9")] })()`,
	)
	b.do(chromedp.DragAndDropXY(at[0], at[1], at[2], at[3]-30, 12))
	b.kept()
	require.Equal(t, []string{"q8", "q10", "q11", "q12", "q9", "q13"}, order()[8:14])
	b.undone(z.ID, before)

	b.click("#picks [x-on\\:click*=copy]")
	b.kept()
	b.until("copies", `document.querySelectorAll("#questions > .question").length === 43`)
	assert.Equal(t, "Undo: Added 3 questions", read[string](b, `document.querySelector("[data-act=undo]").title`))
	b.undone(z.ID, before)

	b.click("#picks [x-on\\:click*=remove]")
	b.kept()
	b.until(
		"deleted",
		`document.querySelectorAll("#questions > .question").length === 37 && document.getElementById("picks").hidden`,
	)
	b.undone(z.ID, before)

	// Alt and an arrow move one of many by keyboard.
	b.press(`[data-path="/questions/q39/label"]`, kb.ArrowUp, chromedp.KeyModifiers(1))
	b.kept()
	b.until("moved", `document.querySelector("#questions > .question:last-child").id === "part-q-q38"`)
	assert.Equal(
		t,
		"/questions/q39/label",
		read[string](b, `document.activeElement.dataset.path`),
		"it keeps the focus",
	)
}

// A row of a grid may weigh apart from the others and feed one scale only; how many
// are expected at each column, and at each point of a rating, is dragged.
func TestRowsAndRatings(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("low", "high")
	m.Scale("care", quiz.Sum)
	m.Scale("haste", quiz.Sum)
	grid := m.Ask("habits", quiz.Grid, "never", "often care=2")
	grid.Rows = map[string]*quiz.Row{"feed": {Order: 1, Label: "Feeding"}, "swarm": {Order: 2, Label: "Swarming"}}
	m.Ask("sure", quiz.Rating)
	m.Bands("care", "low", "3=high")
	z := a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	row := `[data-item="/questions/habits/rows/swarm"] `
	b.click(row + ".rowset button")
	b.kept()
	b.fill(row+`[data-path="/questions/habits/rows/swarm/adds/often/care"]`, "5")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.until("at most 7", `document.querySelectorAll("#part-foot .c0")[1].textContent.trim().replace(/\s+/g, " ") === "7"`)
	b.choose(row+"select", read[string](b, fmt.Sprintf(`document.querySelector(%q).options[2].value`, row+"select")))
	b.kept()
	b.until("the row feeds haste only",
		`document.querySelectorAll("#part-foot .c0")[1].textContent.trim().replace(/\s+/g, " ") === "2"`)
	b.click(`[data-pick="/questions/sure"]`)
	b.axeOf("#questions", "a row that weighs apart, and a question picked")
	b.click("#picks [x-on\\:click*=drop]")

	slide := `[data-expect="/questions/sure/expect/9"]`
	b.run(fmt.Sprintf(`document.querySelector(%q).scrollIntoView({block: "center"})`, slide))
	at := read[[]float64](
		b,
		fmt.Sprintf(
			`(() => { const r = document.querySelector(%q).getBoundingClientRect(); return [r.x + 10, r.y + 12] })()`,
			slide,
		),
	)
	b.do(chromedp.DragAndDropXY(at[0], at[1], at[0], at[1]-60, 5))
	b.kept()
	assert.InDelta(t, 59, a.draft(t, z.ID).Questions["sure"].Expect["9"].Float64(), 3, "60 pixels are half of all")
	b.press(`[data-expect="/questions/habits/expect/feed.often"]`, kb.End)
	b.kept()
	assert.Equal(t, 100.0, a.draft(t, z.ID).Questions["habits"].Expect["feed.often"].Float64())
	b.press(`[data-expect="/questions/habits/expect/feed.often"]`, kb.Delete)
	b.kept()
	assert.NotContains(t, a.draft(t, z.ID).Questions["habits"].Expect, "feed.often")
}

// The pace, the typeface, a logo and a picture behind the page are chosen on the sheet
// and worn by the respondent's pages.
func TestLookAndPace(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	b.choose(`[data-path="/pace"]`, "page")
	b.kept()
	b.choose(`[data-path="/look/typeface"]`, "literata")
	b.kept()
	for _, place := range []string{"logo", "background"} {
		b.click(fmt.Sprintf(`[data-picture="/look/%s"]`, place))
		b.click(`#picture-list [data-take$="drawing-net.svg"]`)
		b.kept()
		b.do(chromedp.WaitVisible(chromedp.CSS(fmt.Sprintf(`[data-path="/look/%s/description"]`, place))))
	}
	b.axeOf("#part-look", "the look")
	z, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, z)

	p := a.newTab(t)
	p.open("/q/" + z.Slug)
	assert.Equal(t, `literata, Georgia, serif`, read[string](p, `getComputedStyle(document.body).fontFamily`))
	assert.Contains(t, read[string](p, `getComputedStyle(document.documentElement).backgroundImage`), "drawing-net.svg")
	assert.Contains(t, read[string](p, `document.querySelector(".owner img").src`), "drawing-net.svg")
	assert.True(
		t,
		get(
			p,
			chromedp.Evaluate[bool](
				`document.fonts.load("16px literata").then((f) => f.length > 0)`,
				chromedp.EvalAwaitPromise,
			),
		),
		"the typeface is there",
	)
	p.axe("a dressed opening")
	p.click("button.button")
	p.until("all questions are on the page", `document.querySelectorAll("[data-question]").length > 3`)
}
