package web_test

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// Words are found in the quiz from the keyboard, and questions of other quizzes are
// found by their words and taken over.
func TestFindingAndReusing(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()
	b.open(a.keeper(t))
	a.orchard(t)
	b.do(chromedp.KeyEvent("/"))
	b.do(chromedp.KeyEvent("unfinished frames"))
	b.until(
		"one entry is left",
		`[...document.querySelectorAll("#part-outline li")].filter((li) => !li.hidden).length === 1`,
	)
	b.do(chromedp.KeyEvent(kb.Enter))
	b.until(
		"the answer has the cursor",
		`document.activeElement.dataset.path === "/questions/stand/answers/tools/label"`,
	)
	b.focus("#find")
	b.do(chromedp.KeyEvent(kb.Escape))
	assert.Greater(
		t,
		read[int](b, `[...document.querySelectorAll("#part-outline li")].filter((li) => !li.hidden).length`),
		8,
	)

	b.click("[x-on\\:click*=reuse]")
	b.until("all are listed", `document.querySelectorAll("[data-reuse]").length === 6`)
	b.fill("#reuse-words", "hectares under")
	b.until("one is left", `document.querySelectorAll("[data-reuse]").length === 1`)
	b.axeOf("dialog[open]", "Questions of other quizzes")
	b.click("[data-reuse]")
	b.until("it is here", `document.activeElement.dataset.path === "/questions/size/label"`)
	b.kept()
	assert.Equal(t, []string{"Under 1", "1 to under 5", "5 and more"}, b.labels("#part-q-size"))
	b.click("[data-act=undo]")
	b.until("and gone", `!document.querySelector("#part-q-size")`)
	b.kept()
}
