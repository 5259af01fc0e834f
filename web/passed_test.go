package web_test

import (
	"fmt"
	"html"
	"image"
	"image/png"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// An outcome is passed on by an address that tells nothing of what was answered, with a card;
// whoever begins there comes from it. Without being told to, nothing is public.
func TestAnOutcomeIsPassedOn(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("walk")
	m.Scale("need", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples need=7", "none need=0")
	m.Outcomes["walk"].Headline, m.Outcomes["walk"].Text = "Your {crop} want bees",
		"You said {crop}, which came to {need}."
	m.Outcomes["walk"].Picture = &quiz.Picture{Source: "/assets/drawing-orchard.svg", Description: "An orchard"}
	m.Title, m.Look = "Bees for hire", &quiz.Look{Made: quiz.Poster}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	r, _ := c.get("/got/" + z.Slug + "/walk")
	assert.Equal(t, http.StatusNotFound, r.StatusCode)
	a.edit(t, z.ID, `[{"op":"add","path":"/settings/results","value":{"passOn":true,"again":true,"keep":true}}]`)
	a.release(t, a.latest(t, z.ID))

	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	p.click(`.answer input[value="apples"]`) // a tap goes on
	p.until("finished", `location.pathname.endsWith("/end")`)
	p.axe("A result with ways")
	link := read[string](p, `document.querySelector("[data-share]").pathname`)
	assert.Equal(t, "/got/"+z.Slug+"/walk", link)
	assert.True(t, read[bool](p, `document.querySelector("[data-print]").checkVisibility()`))
	assert.Equal(t, "/q/"+z.Slug, read[string](p, `[...document.querySelectorAll(".resultways a")].at(-1).pathname`))

	theirs := read[string](p, `document.querySelector(".resultways [download]").pathname`)
	assert.Equal(t, "Your apples want bees.png", read[string](p, `document.querySelector("[download]").download`))

	p.open(link)
	p.axe("A result that was passed on")
	page := read[string](p, `document.documentElement.outerHTML`)
	for _, told := range []string{"apples", "{crop}", "came to", "7"} {
		assert.NotContains(t, read[string](p, `document.querySelector("main").innerText`), told)
	}
	assert.Contains(t, p.text("h1"), "Bees for hire", "a headline that fills something in is not shown")
	assert.Contains(t, page, `name="robots" content="noindex"`)
	card := read[string](p, `new URL(document.querySelector("[property='og:image']").content).pathname`)
	drawn := map[string]string{}
	for _, at := range []string{card, theirs} {
		r, drawn[at] = c.get(at)
		require.Equal(t, "image/png", r.Header.Get("Content-Type"), at)
		img, err := png.Decode(strings.NewReader(drawn[at]))
		require.NoError(t, err)
		assert.Equal(t, image.Pt(1200, 630), img.Bounds().Size())
	}
	assert.NotEqual(t, drawn[card], drawn[theirs], "what they keep tells what they answered")
	assert.Equal(t, "private, no-store", r.Header.Get("Cache-Control"))
	p.click(".button")
	p.until("begun", `document.querySelector(".answer")`)
	p.click(`.answer input[value="none"]`)
	p.until("finished", `location.pathname.endsWith("/end")`)
	assert.Contains(t, a.last(t, z).Visitor, `"passed-on"`)

	r, data := c.get("/got/" + z.Slug + "/the-quiz/card.png")
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.NotEmpty(t, data)
	for _, none := range []string{"/got/" + z.Slug + "/nobody", "/got/nothing/walk", "/got/" + z.Slug + "/the-quiz"} {
		r, _ = c.get(none)
		assert.Equal(t, http.StatusNotFound, r.StatusCode, none)
	}
}

// A score goes along where the marketer says so, and nobody can make up a better one.
func TestAScoreIsPassedOn(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("walk")
	m.Scale("need", quiz.Sum)
	m.Scales["need"].Name = "Need"
	m.Ask("crop", quiz.Single, "apples need=7", "none need=0")
	m.Outcomes["walk"].ShowScore = "need"
	z := a.add(t, string(m.Write()))
	link := func(results string) string {
		a.edit(t, z.ID, `[{"op":"add","path":"/settings/results","value":`+results+`}]`)
		a.release(t, a.latest(t, z.ID))
		c := a.client(t)
		r, _ := c.answer("/q/"+z.Slug, "apples")
		_, page := c.get(r.Header.Get("Location"))
		_, after, _ := strings.Cut(page, `href="/got/`)
		address, _, _ := strings.Cut(after, `"`)
		return "/got/" + html.UnescapeString(address)
	}
	assert.Equal(t, "/got/"+z.Slug+"/walk", link(`{"passOn":true}`))
	told := link(`{"passOn":true,"score":true}`)
	assert.Contains(t, a.client(t).says(told), "7 of 7")
	card := func(address string) (string, string) {
		_, page := a.client(t).get(address)
		_, after, _ := strings.Cut(page, `property="og:image" content="`+a.URL)
		at, _, _ := strings.Cut(after, `"`)
		r, data := a.client(t).get(html.UnescapeString(at))
		assert.Equal(t, "image/png", r.Header.Get("Content-Type"), address)
		return at, data
	}
	_, without := card("/got/" + z.Slug + "/walk")
	at, with := card(told)
	assert.Contains(t, at, "score=7")
	assert.NotEqual(t, without, with, "the picture shows the score")
	at, forged := card(strings.Replace(told, "score=7", "score=6", 1))
	assert.NotContains(t, at, "score=")
	assert.Equal(t, without, forged)
	assert.NotContains(t, a.client(t).says(strings.Replace(told, "score=7", "score=6", 1)), "of 7")
	assert.NotContains(t, a.client(t).says("/got/"+z.Slug+"/walk?score=7"), "of 7")

	link(`{"keep":true}`)
	c := a.client(t)
	r, _ := c.answer("/q/"+z.Slug, "apples")
	_, kept := c.get(strings.Replace(r.Header.Get("Location"), "/end", "/my-result.png", 1))
	assert.Equal(t, with, kept, "their own picture has their score, though none is passed on")
	a.edit(t, z.ID, `[{"op":"add","path":"/outcomes/walk/showAs","value":"bars"}]`)
	a.release(t, a.latest(t, z.ID))
	r, _ = a.client(t).answer("/q/"+z.Slug, "apples")
	_, bars := c.get(strings.Replace(r.Header.Get("Location"), "/end", "/my-result.png", 1))
	assert.True(t, strings.HasPrefix(bars, "\x89PNG"))
	assert.NotContains(t, []string{with, without}, bars, "bars where the page has bars")
	a.edit(t, z.ID, `[{"op":"remove","path":"/outcomes/walk/showAs"}]`)
	r, _ = c.form("/q/" + z.Slug)
	begun := r.Header.Get("Location")
	r, _ = c.get(begun[:strings.LastIndex(begun, "/")] + "/my-result.png")
	assert.Equal(t, begun, r.Header.Get("Location"), "there is none before the end")
	offered := func(headline string) bool {
		a.edit(t, z.ID, `[{"op":"add","path":"/outcomes/walk/headline","value":"`+headline+`"}]`)
		a.release(t, a.latest(t, z.ID))
		c := a.client(t)
		r, _ := c.answer("/q/"+z.Slug, "apples")
		_, page := c.get(r.Header.Get("Location"))
		require.Contains(t, page, headline)
		return strings.Contains(page, "/my-result.png")
	}
	assert.True(t, offered("Μέλισσες"))
	assert.False(t, offered("蜂箱"), "a picture that could not say it")
}

// How many of all got an outcome is told from thirty responses on.
func TestHowManyGotIt(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("walk", "plan")
	m.Scale("need", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples need=7", "none need=0")
	m.Bands("need", "plan", "5=walk")
	m.Settings = &quiz.Settings{Results: &quiz.Results{Share: true}}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	finish := func(crop string) string {
		c := a.client(t)
		r, _ := c.answer("/q/"+z.Slug, crop)
		_, page := c.get(r.Header.Get("Location"))
		return page
	}
	for range 29 {
		assert.NotContains(t, finish("none"), "of all who answered", "there are too few")
	}
	assert.Contains(t, finish("apples"), "3 % of all who answered got this result.")
}

// Openings may be found, unless the marketer says no; drafts and results are never.
func TestWhatMayBeFound(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t)
	r, page := c.get("/q/" + z.Slug)
	assert.NotContains(t, page, "noindex")
	assert.Empty(t, r.Header.Get("X-Robots-Tag"))
	a.edit(t, z.ID, `[{"op":"add","path":"/settings/unlisted","value":true}]`)
	a.release(t, a.latest(t, z.ID))
	r, _ = c.get("/q/" + z.Slug)
	assert.Equal(t, "noindex", r.Header.Get("X-Robots-Tag"))
	_, page = c.signIn().get(fmt.Sprintf("/showing/%d/the-opening", z.ID))
	assert.Contains(t, page, "noindex")
	r, _ = a.client(t).get(fmt.Sprintf("/showing/%d/the-opening", z.ID))
	assert.Equal(t, http.StatusNotFound, r.StatusCode, "who is not signed in sees no draft")
}
