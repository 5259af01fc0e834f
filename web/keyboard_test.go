package web_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// tabTo presses Tab until the focus is on what a selector names.
func (b *tab) tabTo(selector string) {
	b.t.Helper()
	for range 400 {
		if read[bool](b, fmt.Sprintf(`Boolean(document.activeElement?.matches(%q))`, selector)) {
			return
		}
		b.do(chromedp.KeyEvent(kb.Tab))
	}
	require.Fail(b.t, "Tab never comes to "+selector)
}

// keys types what is named, one after the other.
func (b *tab) keys(keys ...string) {
	b.t.Helper()
	for _, k := range keys {
		b.do(chromedp.KeyEvent(k))
	}
}

// One whole pass by keyboard alone: sign in, make a quiz, write, weigh, decide, undo,
// release, and answer it.
func TestByKeyboardAlone(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.open("/studio/sign-in")
	b.tabTo("[name=email]")
	b.keys(email, kb.Tab, password, kb.Enter)
	b.do(chromedp.WaitVisible(chromedp.CSS("#new-title")))
	b.tabTo("#new-title")
	b.keys("By keys", kb.Enter)
	b.do(chromedp.WaitVisible(chromedp.CSS("#desk")))

	b.tabTo(`[data-act="lay?kind=points"]`)
	b.keys(kb.Enter)
	b.until("a column", `document.querySelectorAll("#part-head .col").length === 1`)
	b.tabTo(`[data-path="/questions/question_1/label"]`)
	b.keys("How many trees?", kb.Enter, "A few", kb.Enter)
	b.until("the empty answer has the keyboard", `document.activeElement.dataset.path?.endsWith("/answer_2/label")`)
	b.keys("A row", kb.Enter)
	b.until("a new answer has the keyboard", `document.activeElement.dataset.path?.endsWith("/answer_3/label")`)
	b.keys("An orchard")
	b.kept()
	b.do(chromedp.KeyEvent(kb.ArrowUp, chromedp.KeyModifiers(1)))
	b.kept()
	b.until(
		"moved above the second",
		`document.querySelector(".answers [data-item]:last-child textarea").value === "A row"`,
	)
	b.tabTo(`[data-path$="/answer_3/adds/points"]`)
	b.keys("9", kb.Enter)
	b.kept()
	b.tabTo(`[data-act=remove][aria-label="Delete answer 3"]`)
	b.keys(kb.Enter)
	b.kept()
	b.until(
		"two answers are left",
		`document.querySelectorAll("#part-q-trees [data-list$=answers] [data-item]").length === 2`,
	)
	b.tabTo("[role=slider].handle")
	b.keys(kb.ArrowRight, kb.ArrowRight)
	b.until("the cut is at 3", `document.querySelector(".cut").value === "3"`)
	b.kept()
	b.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2)))
	b.until("undone", `document.querySelector(".cut").value === "1"`)
	b.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2|8)))
	b.until("done again", `document.querySelector(".cut").value === "3"`)
	b.kept()
	b.keys("?")
	b.until("the keys are listed", `document.getElementById("shortcuts").open`)
	b.keys(kb.Escape)
	b.tabTo(`a.button[href$="/release"]`)
	b.keys(kb.Enter)
	b.until("the room of releases", `document.querySelector("form[action$='/release'] .button")`)
	for read[int](b, `document.querySelectorAll("[name=tick]:not(:checked)").length`) > 0 { // warnings are ticked off
		b.tabTo("[name=tick]:not(:checked)")
		b.keys(" ")
	}
	b.tabTo("form[action$='/release'] .button")
	b.keys(kb.Enter)
	b.until("released", `document.querySelector(".state.on")`)

	b.tabTo(`a[href^="/q/"]`)
	b.keys(kb.Enter)
	b.until("the opening", `location.pathname.startsWith("/q/")`)
	b.tabTo("button.button")
	b.keys(kb.Enter)
	b.until("the first question", `document.readyState === "complete" && document.querySelector("[data-question]")`)
	b.tabTo("[data-question] [type=radio]")
	b.keys("2", kb.Enter)
	b.until("landed", `location.pathname.endsWith("/end")`)
	z, err := a.store.Definitions.Quiz(t.Context(), 1)
	require.NoError(t, err)
	assert.Equal(t, "good_fit", a.last(t, z).Outcome)
}

// Every kind of edit is one step of the history: undone, the draft is as it was to
// the letter, and done again, as it was after.
func TestEveryKindOfEditIsUndone(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	c := a.client(t).signIn()
	sheet := fmt.Sprintf("/studio/quizzes/%d", z.ID)
	now := func() (int, string) {
		fresh, err := a.store.Definitions.Quiz(t.Context(), z.ID)
		require.NoError(t, err)
		return fresh.Revision, fresh.Draft
	}
	act := func(body string) [3]string { return [3]string{http.MethodPost, "/acts", body} }
	patch := func(body string) [3]string { return [3]string{http.MethodPatch, "/draft", body} }
	for _, edit := range [][3]string{
		patch(`[{"op":"add","path":"/questions/crop/label","value":"What grows there?"}]`),
		patch(`[{"op":"add","path":"/questions/crop/answers/apples/adds/readiness","value":-2.5}]`),
		patch(`[{"op":"remove","path":"/questions/crop/answers/apples/adds/readiness"}]`),
		patch(`[{"op":"add","path":"/questions/crop/required","value":false}]`),
		patch(`[{"op":"add","path":"/questions/crop/expect/apples","value":70}]`),
		patch(`[{"op":"add","path":"/pace","value":"page"}]`),
		patch(`[{"op":"add","path":"/look/accent","value":"#112233"}]`),
		patch(`[{"op":"add","path":"/outcomes/walk/picture","value":{"source":"/assets/drawing-hive.svg","description":"A hive"}}]`),
		patch(`[{"op":"add","path":"/contact","value":{"place":"after","fields":{"mail":{"order":1,"kind":"email","label":"E-mail"}}}}]`),
		act(`{"do":"add","path":"/questions"}`),
		act(`{"do":"add","path":"/sections"}`),
		act(`{"do":"add","path":"/scales","kind":"money"}`),
		act(`{"do":"add","path":"/outcomes","label":"Another"}`),
		act(`{"do":"copy","path":"/questions/crop"}`),
		act(`{"do":"move","path":"/questions/crop","after":"when"}`),
		act(`{"do":"remove","path":"/questions/crop"}`),
		act(`{"do":"remove","path":"/scales/readiness"}`),
		act(`{"do":"remove","path":"/outcomes/walk"}`),
		act(`{"do":"turn","path":"/questions/crop","kind":"grid"}`),
		act(`{"do":"turn","path":"/questions/crop","kind":"number"}`),
		act(`{"do":"weigh","path":"/questions/crop","kind":"times","by":"2"}`),
		act(`{"do":"weigh","path":"/questions/crop","kind":"clear"}`),
		act(`{"do":"lines","path":"/questions/crop/answers","label":"Pears\nPlums"}`),
		act(`{"do":"tag","path":"/questions/crop/answers/apples","label":"grower"}`),
	} {
		revision, before := now()
		status, says := c.change(edit[0], sheet+edit[1], revision, edit[2])
		if !assert.Equal(t, 200, status, "%s: %s", edit[2], says) {
			continue
		}
		revision, after := now()
		assert.NotEqual(t, before, after, edit[2])
		status, says = c.change(http.MethodPost, sheet+"/undo", revision, "{}")
		require.Equal(t, 200, status, says)
		revision, undone := now()
		assert.Equal(t, before, undone, "undoing %s", edit[2])
		status, says = c.change(http.MethodPost, sheet+"/redo", revision, "{}")
		require.Equal(t, 200, status, says)
		revision, again := now()
		assert.Equal(t, after, again, "doing again %s", edit[2])
		status, _ = c.change(http.MethodPost, sheet+"/undo", revision, "{}")
		require.Equal(t, 200, status)
	}
}
