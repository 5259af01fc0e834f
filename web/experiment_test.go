package web_test

import (
	"html"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// An experiment at a half splits 400 passages within the bounds of chance, is the same on a
// device, leaves those who are mid-way alone, and ends by keeping one.
func TestAnExperiment(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("old", "new")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Ask("when", quiz.Single, "now", "later")
	m.Decision.Otherwise = "old"
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	begun := a.client(t)
	r, _ := begun.form("/q/"+z.Slug, "asked", "want", "answer.want", "hive", "go", "on")
	midWay := r.Header.Get("Location")
	a.edit(t, z.ID, `[{"op":"replace","path":"/decision/otherwise","value":"new"},{"op":"replace","path":"/questions/want/label","value":"What is wanted?"}]`)
	now, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, now)
	studio := a.client(t).signIn()
	room, read := studio.releaseRoom(z)
	studio.form(room+"/try", "release", "2", "percent", "50")
	assert.Contains(t, read(), "can&#39;t be tried", "the public one beside itself")
	studio.form(room+"/try", "release", "1", "percent", "all")
	assert.Contains(t, read(), "1 to 99")
	studio.form(room+"/try", "release", "1", "percent", "50")
	assert.Contains(t, read(), "Two releases take those who begin")

	old := 0
	for i := range 400 {
		c := a.client(t)
		r, page := c.get("/q/" + z.Slug)
		mine := strings.Contains(page, "What is wanted?")
		number := regexp.MustCompile(`name="passage" value="([a-z2-7]+)"`).FindStringSubmatch(page)[1]
		assert.Empty(t, r.Cookies(), "who only looks is not remembered")
		if i%2 == 0 {
			c.Jar = nil // their browser keeps no cookies: the page and its form agree all the same
		}
		r, _ = c.form("/q/"+z.Slug, "passage", number, "asked", "want", "answer.want", "hive", "go", "on")
		require.Equal(t, http.StatusSeeOther, r.StatusCode)
		p, err := a.store.Responses.Passage(t.Context(), number)
		require.NoError(t, err)
		release, err := a.store.Definitions.ReleaseByID(t.Context(), p.ReleaseID)
		require.NoError(t, err)
		assert.Equal(t, mine, release.Number == 2, "what was shown is what is taken")
		if release.Number == 1 {
			old++
		}
	}
	assert.InDelta(t, 200, old, 4*10, "four standard deviations of 400 at a half")

	r, _ = begun.answer(midWay, "now")
	_, landed := begun.get(r.Header.Get("Location"))
	assert.NotEmpty(t, landed)
	last, err := a.store.Responses.Newest(t.Context(), z.ID, 1)
	require.NoError(t, err)
	assert.Equal(t, "old", last[0].Outcome, "who was mid-way ends on theirs")
	leads := regexp.MustCompile(`href="([^"]*/learn\?[^"]*)">Compare both`).FindStringSubmatch(read())
	require.NotNil(t, leads)
	_, compared := studio.get(html.UnescapeString(leads[1]))
	assert.Contains(t, compared, "compared with those to release 2")
	studio.form(room+"/try", "keep", "1")
	page := read()
	assert.NotContains(t, page, "Two releases take")
	assert.Contains(t, page, "release 1 once more")
	_, page = a.client(t).get("/q/" + z.Slug)
	assert.NotContains(t, page, "What is wanted?")
}
