package web_test

import (
	"encoding/json"
	"net/http"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The server goes away for ten seconds while somebody types: the state is seen,
// everything typed waits, and is kept when the server is back.
func TestServerGoesAway(t *testing.T) {
	t.Parallel()
	var away atomic.Bool
	a := newAppBehind(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if away.Load() {
				panic(http.ErrAbortHandler) // the connection breaks off
			}
			h.ServeHTTP(w, r)
		})
	})
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	away.Store(true)
	back := time.AfterFunc(10*time.Second, func() { away.Store(false) })
	defer back.Stop()
	b.fill(`[data-path="/questions/crop/label"]`, "Which crop is it?")
	b.until("it is told",
		`document.getElementById("status").textContent.trim().replace(/\s+/g, " ") === "Not connected: your changes wait here"`)
	b.fill(`[data-path="/questions/size/label"]`, "How large?")
	b.focus(`[data-path="/questions/crop/answers/apples/adds/readiness"]`)
	b.run(`document.activeElement.select()`)
	b.do(chromedp.KeyEvent("9\r"))
	assert.Equal(t, "Which crop is it?", b.value(`[data-path="/questions/crop/label"]`))
	b.until("all is kept",
		`document.getElementById("status").textContent.trim().replace(/\s+/g, " ") === "All changes kept"`)
	b.until(
		"the page shows it",
		`document.querySelector('[data-path="/questions/crop/answers/apples/adds/readiness"]').defaultValue === "+9"`,
	)
	q, err := must(a.store.Definitions.Quiz(t.Context(), z.ID)).Document()
	require.NoError(t, err)
	assert.Equal(t, "Which crop is it?", q.Questions["crop"].Label)
	assert.Equal(t, "How large?", q.Questions["size"].Label)
	assert.Equal(t, "9", q.Questions["crop"].Answers["apples"].Adds["readiness"].String())
}

// Words of any script, signs of all sorts and 2,000 characters in an answer are kept
// as they were typed, shown whole, and asked of respondents; two answers may be alike.
func TestWordsOfAnySort(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	words := map[string]string{
		"/questions/crop/label":                  "ما الذي تزرعه؟ 🐝",
		"/questions/crop/answers/apples/label":   strings.Repeat("Äpfel & Birnen <b>rot</b> ", 77),
		"/questions/crop/answers/cherries/label": "Berries",
		"/questions/crop/answers/berries/label":  "Berries",
		"/questions/crop/answers/none/label":     "{nothing} *at* all",
		"/outcomes/walk/name":                    "🐝🌳👨‍🌾",
	}
	for path, text := range words {
		b.run(
			`{ const f = document.querySelector('[data-path="` + path + `"]'); f.focus(); f.value = ` + quoted(
				text,
			) + `; f.dispatchEvent(new Event("input", {bubbles: true})); f.dispatchEvent(new Event("change", {bubbles: true})); }`,
		)
		b.until("kept as it is", `document.querySelector('[data-path="`+path+`"]').defaultValue === `+quoted(text))
		b.kept()
	}
	assert.Contains(t, b.text("#part-findings"), "{nothing} stands for nothing in this quiz")
	assert.True(t, read[bool](b, `document.documentElement.scrollWidth <= innerWidth`), "nothing runs out of the page")
	b.run(`scrollTo(0, 0)`)
	b.axe("Sheet with words of any sort")
	b.fill(`[data-path="/questions/crop/answers/none/label"]`, "")
	b.run(
		`{ const f = document.querySelector('[data-path="/questions/crop/answers/none/label"]'); f.value = "None"; f.dispatchEvent(new Event("change", {bubbles: true})); }`,
	)
	b.until("nothing is left to finish",
		`document.querySelector(".findlink").textContent.trim().replace(/\s+/g, " ") === "No findings"`)
	b.kept()
	a.release(t, must(a.store.Definitions.Quiz(t.Context(), z.ID)))
	p := a.newTabOf(t, 360, 780, true)
	p.open("/q/" + z.Slug)
	p.click(".button")
	p.until("the question",
		`document.querySelector("h1")?.textContent.trim().replace(/\s+/g, " ") === "ما الذي تزرعه؟ 🐝"`)
	assert.Contains(t, p.text("fieldset"), "Äpfel & Birnen rot", "texts are Markdown: what is no text is left out")
	assert.True(t, read[bool](p, `document.documentElement.scrollWidth <= innerWidth`))
	p.axe("Question with words of any sort")
}

// quoted writes a text as JavaScript does.
func quoted(text string) string { return string(must(json.Marshal(text))) }
