package web_test

import (
	"strings"
	"testing"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Structure on the sheet: moving by drag and by keyboard, copying, deleting,
// and taking it back.
func TestTheSheetIsRearranged(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	order := func() string {
		return read[string](
			b,
			`[...document.querySelectorAll("#questions > *")].map(q => q.id.replace("part-q-", "")).join(" ")`,
		)
	}
	assert.Equal(t, "crop size bloom hives budget decides", order())
	b.press(`[data-path="/questions/crop/label"]`, kb.ArrowDown, chromedp.KeyModifiers(1)) // Alt
	b.until(
		"the first question is second",
		`document.querySelector("#questions").firstElementChild.id === "part-q-size"`,
	)
	b.kept()
	assert.Equal(
		t,
		"/questions/crop/label",
		read[string](b, `document.activeElement.dataset.path`),
		"the keyboard stays with what moved",
	)

	b.run(`document.querySelector('[data-item="/questions/crop/answers/none"]').scrollIntoView({block: "center"})`)
	drag(
		b,
		`[data-item="/questions/crop/answers/none"] .grip`,
		`[data-item="/questions/crop/answers/apples"] .grip`,
		-6,
	)
	b.until(
		"the last answer is first",
		`document.querySelector('[data-list="/questions/crop/answers"]').firstElementChild.dataset.item.endsWith("/none")`,
	)
	b.kept()

	b.click(`#part-q-hives [data-act=copy]`)
	b.until("a copy stands behind it", `document.querySelectorAll("#questions > *").length === 7`)
	b.kept()
	b.run(`document.querySelectorAll("#questions > *")[4].querySelector("[data-act=remove]").click()`)
	b.until("the copy is gone", `document.querySelectorAll("#questions > *").length === 6`)
	b.kept()

	b.click(`#part-o-plan [data-act=remove]`)
	b.until(
		"its band is open and the outcome gone",
		`!document.getElementById("part-o-plan") && document.querySelector('[data-path="/decision/steps/bands/cuts/warm/outcome"]').value === ""`,
	)
	for range 4 {
		b.run(`document.activeElement.blur()`)
		b.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2))) // Ctrl
		b.kept()
	}
	b.until(
		"everything is as it was but the first move",
		`document.getElementById("part-o-plan") && document.querySelector('[data-path="/decision/steps/bands/cuts/warm/outcome"]').value === "plan"`,
	)
	b.click(`[data-act=undo]`)
	b.until("as at the beginning", `document.querySelector("#questions").firstElementChild.id === "part-q-crop"`)
	assert.Equal(t, "crop size bloom hives budget decides", order())
	b.run(`document.activeElement.blur()`)
	b.do(chromedp.KeyEvent("?"))
	b.until("the keys are listed", `document.getElementById("shortcuts").open`)
	b.axeOf("dialog[open]", "keys")
}

// drag drags with the mouse from one element to another, by dy above or below its middle.
func drag(b *tab, from, to string, dy float64) {
	b.t.Helper()
	b.drawn()
	middle := func(selector string) []float64 {
		return read[[]float64](
			b,
			`(() => { const r = document.querySelector(`+"`"+selector+"`"+
				`).getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]; })()`,
		)
	}
	f, g := middle(from), middle(to)
	b.do(chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, f[0], f[1])) // the handle shows under the pointer
	b.do(chromedp.DragAndDropXY(f[0], f[1], g[0], g[1]+dy, 12))
}

// Two tabs: what one changes shows in the other by itself; where both changed one text, the
// second is put to the choice; what is deleted while it is typed into is offered again.
func TestTwoTabs(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	first := a.newTab(t)
	first.signIn()
	first.open("/studio/quizzes/1")
	second := first.beside()
	second.open("/studio/quizzes/1")

	first.fill(`[data-path="/questions/crop/label"]`, "Which crop?")
	second.fill(`[data-path="/questions/size/label"]`, "How many hectares?")
	first.until("shown", `document.querySelector('[data-path="/questions/size/label"]').value === "How many hectares?"`)
	second.until("shown", `document.querySelector('[data-path="/questions/crop/label"]').value === "Which crop?"`)
	first.kept()
	second.kept()
	assert.Equal(t, "How many hectares?", second.value(`[data-path="/questions/size/label"]`))
	assert.True(t, read[bool](second, `document.getElementById("notice").hidden`), "nothing needs to be said")

	// Somebody changes a text that is being typed.
	first.fill(`[data-path="/questions/size/label"]`, "What area?")
	a.edit(t, z.ID, `[{"op":"add","path":"/questions/size/label","value":"How many rows?"}]`)
	first.until("it may choose",
		`document.querySelector(".dispute blockquote")?.textContent.trim().replace(/\s+/g, " ") === "How many rows?"`)
	assert.Equal(t, "What area?", first.value(`[data-path="/questions/size/label"]`), "nothing typed is lost")
	first.axeOf("#questions", "two texts to choose from")
	first.click(".dispute button")
	first.kept()

	second.do(chromedp.KeyEvent(kb.Tab))
	second.fill(`[data-path="/questions/bloom/label"]`, "When does it bloom with you?")
	a.edit(t, z.ID, `[{"op":"remove","path":"/questions/bloom"}]`)
	second.until(
		"told, with what was typed",
		`document.getElementById("notice").textContent.trim().replace(/\s+/g, " ").includes("has been deleted elsewhere. You had typed: “When does it bloom with you?”")`,
	)
	second.kept()
	first.until("gone", `!document.querySelector("#part-q-bloom")`)
	second.open("/studio/quizzes/1")
	assert.NotContains(t, second.text("main"), "order")
	kept := must(a.store.Definitions.Quiz(t.Context(), z.ID))
	assert.True(t, strings.Contains(kept.Draft, "What area?") && strings.Contains(kept.Draft, "Which crop?"))

	a.release(t, kept)
	second.until("the release shows",
		`document.querySelector(".state").textContent.trim().replace(/\s+/g, " ").includes("As in release 1")`)
}

// A session that ends and a quiz that is deleted elsewhere are told, and what is typed
// meanwhile is kept when there is one again, without a reload.
func TestAPageOutlivesItsSession(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	other := b.beside()
	other.open("/studio")

	other.click(`[aria-label="Sign out"]`)
	b.until("told", `document.getElementById("notice").textContent.trim().replace(/\s+/g, " ").startsWith("You are signed out.")`)
	b.axe("signed out")
	b.fill(`[data-path="/questions/crop/label"]`, "Which crop?")
	b.until("not kept", `document.getElementById("status").textContent.trim().replace(/\s+/g, " ") === "Signed out: not kept"`)
	other.signIn()
	b.until(
		"kept",
		`document.getElementById("notice").hidden && document.getElementById("status").textContent.trim().replace(/\s+/g, " ") === "All changes kept"`,
	)
	assert.Contains(t, must(a.store.Definitions.Quiz(t.Context(), z.ID)).Draft, "Which crop?")

	require.NoError(t, a.store.Definitions.DeleteQuiz(t.Context(), z.ID))
	b.until("told", `document.getElementById("notice").textContent.trim().replace(/\s+/g, " ").startsWith("This quiz was deleted elsewhere.")`)
	b.fill(`[data-path="/questions/size/label"]`, "How large?")
	b.until("not kept", `document.getElementById("status").textContent.trim().replace(/\s+/g, " ") === "Deleted: not kept"`)
	b.click("#notice button")
	b.until(
		"kept",
		`document.getElementById("notice").hidden && document.getElementById("status").textContent.trim().replace(/\s+/g, " ") === "All changes kept"`,
	)
	assert.Contains(t, must(a.store.Definitions.Quiz(t.Context(), z.ID)).Draft, "How large?")
}
