package web_test

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
)

// A look is given on the sheet: a colour that is none is refused, one that can't be
// seen is found and mended; released, the respondent's pages wear it.
func TestLook(t *testing.T) {
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
	b.until("no colour", `document.querySelector(".fieldwrong")?.textContent.trim().replace(/\s+/g, " ").includes("is not a colour such as")`)
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
	a := newApp(t)
	a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	field := `[data-path="/look/accent"]`
	// Both changes are made before the first is answered.
	b.run(
		`{ const f = document.querySelector('` + field + `'); for (const text of ["#17", "#17627a"]) { f.value = text; f.dispatchEvent(new Event("change", { bubbles: true })); } }`,
	)
	b.kept()
	b.until("the colour is kept", `document.querySelector('`+field+`').defaultValue === "#17627a"`)
	assert.False(t, read[bool](b, `!!document.querySelector(".fieldwrong")`))
	b.click("[data-act=undo]")
	b.until("undone, the field follows", `document.querySelector('`+field+`').value === ""`)
}

// The opening comes with its style sheet, within the fourteen kilobytes that a line carries before
// it is answered, and the page's policy lets in that sheet alone, whatever a look says.
func TestTheOpeningIsWorn(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	q := a.orchardQuiz(t)
	q.Look = &quiz.Look{Made: quiz.Porcelain, Background: &quiz.Picture{Source: "/pictures/</style><script>alert(1)</script>"}}
	z, err := a.store.Definitions.AddQuiz(t.Context(), q)
	require.NoError(t, err)
	a.release(t, z)
	request, err := http.NewRequestWithContext(t.Context(), http.MethodGet, a.URL+"/q/"+z.Slug, nil)
	require.NoError(t, err)
	request.Header.Set("Accept-Encoding", "gzip")
	r, err := http.DefaultTransport.RoundTrip(request)
	require.NoError(t, err)
	defer func() { _ = r.Body.Close() }()
	packed, err := io.ReadAll(r.Body)
	require.NoError(t, err)
	assert.Less(t, len(packed), 14_000)
	unpacked, err := gzip.NewReader(bytes.NewReader(packed))
	require.NoError(t, err)
	page, err := io.ReadAll(unpacked)
	require.NoError(t, err)
	_, rest, _ := strings.Cut(string(page), "<style>")
	sheet, _, _ := strings.Cut(rest, "</style>")
	assert.Contains(t, sheet, "--color-paper")
	sum := sha256.Sum256([]byte(sheet))
	assert.Contains(t, r.Header.Get("Content-Security-Policy"), "style-src 'self' 'sha256-"+base64.StdEncoding.EncodeToString(sum[:])+"';")
	assert.NotContains(t, string(page), "<script>alert", "an address ends no style sheet")
	assert.NotContains(t, string(page), `rel="stylesheet"`)
	_, again := a.client(t).get("/q/" + z.Slug)
	assert.Equal(t, string(page), again, "whoever takes nothing packed gets the same")
}
