package web_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// A look is given on the sheet: a colour that is none is refused, one that can't be
// seen is found and mended; released, the respondent's pages wear it.
func TestLook(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	for path, colour := range map[string]string{"paper": "#fff8e8", "ink": "#b0a890", "accent": "#2f6b44"} {
		b.fill(`[data-path="/look/`+path+`"]`, colour)
		b.do(chromedp.KeyEvent("\t"))
		b.kept()
	}
	b.until(
		"too little contrast is found",
		`document.querySelector("#part-look .mind")?.textContent.trim().replace(/\s+/g, " ").includes("is hard to see on #fff8e8")`,
	)
	b.click("#part-look .mend")
	b.until("mended", `!document.querySelector("#part-look .mind")`)
	b.kept()
	ink := b.value(`[data-path="/look/ink"]`)
	b.fill(`[data-path="/look/accent"]`, "green")
	b.do(chromedp.KeyEvent("\t"))
	b.until("no colour",
		`document.querySelector(".fieldwrong")?.textContent.trim().replace(/\s+/g, " ").includes("is not a colour such as")`)
	r := a.release(t, must(a.store.Definitions.Quiz(t.Context(), z.ID)))

	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	assert.Equal(t, "rgb(255, 248, 232)", read[string](p, `getComputedStyle(document.documentElement).backgroundColor`))
	assert.Equal(t, ink, read[string](p, `getComputedStyle(document.documentElement).getPropertyValue("--color-ink")`))
	p.axe("Opening in its look")
	c := a.client(t)
	answer, css := c.get(fmt.Sprintf("/look/%d", r.ID))
	assert.Equal(t, http.StatusOK, answer.StatusCode)
	assert.Contains(t, css, "--color-action:#2f6b44;--color-on-action:#fff8e8")
	answer, _ = c.get("/look/99")
	assert.Equal(t, http.StatusNotFound, answer.StatusCode)
}

// What is refused while one types on does not stop what comes after it: the field
// follows the draft again.
func TestTypingOnAfterARefusal(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	field := `[data-path="/look/accent"]`
	// Both changes are made before the first is answered.
	b.run(
		`{ const f = document.querySelector('` + field +
			`'); for (const text of ["#17", "#17627a"]) { f.value = text; f.dispatchEvent(new Event("change", { bubbles: true })); } }`,
	)
	b.kept()
	b.until("the colour is kept", `document.querySelector('`+field+`').defaultValue === "#17627a"`)
	assert.False(t, read[bool](b, `!!document.querySelector(".fieldwrong")`))
	b.click("[data-act=undo]")
	b.until("undone, the field follows", `document.querySelector('`+field+`').value === ""`)
}
