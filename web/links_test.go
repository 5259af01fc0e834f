package web_test

import (
	"bytes"
	"fmt"
	"image/png"
	"net/http"
	"strings"
	"testing"

	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/qrcode"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Links for a letter or a fair, with codes that an independent decoder reads.
func TestLinksAndCodes(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t).signIn()
	room, read := c.releaseRoom(z)
	c.form(room+"/links", "name", "nothing said")
	assert.Contains(t, read(), "Say where the link is used")
	c.form(room+"/links", "name", "The spring letter", "source", "spring letter", "campaign", "été", "start", "now")
	links, err := a.store.Definitions.Links(t.Context(), z.ID)
	require.NoError(t, err)
	require.Len(t, links, 1)
	want := a.URL + "/q/" + z.Slug + "?start=now&utm_campaign=%C3%A9t%C3%A9&utm_source=spring+letter"
	assert.Contains(t, read(), strings.ReplaceAll(strings.ReplaceAll(want, "&", "&amp;"), "+", "&#43;"))
	for query, address := range map[string]string{
		"": a.URL + "/q/" + z.Slug, fmt.Sprintf("?link=%d", links[0].ID): want,
		fmt.Sprintf("?link=%d&level=highest&ink=17232a&paper=f4f6f5", links[0].ID): want,
	} {
		r, body := c.get(room + "/code/png" + query)
		assert.Equal(t, "image/png", r.Header.Get("Content-Type"))
		picture, err := png.Decode(bytes.NewReader([]byte(body)))
		require.NoError(t, err)
		bitmap, err := gozxing.NewBinaryBitmapFromImage(picture)
		require.NoError(t, err)
		read, err := qrcode.NewQRCodeReader().Decode(bitmap, nil)
		require.NoError(t, err, query)
		assert.Equal(t, address, read.GetText())
	}
	r, drawing := c.get(room + "/code/svg?ink=17232a")
	assert.Equal(t, "image/svg+xml", r.Header.Get("Content-Type"))
	assert.Contains(t, drawing, `fill="#17232a"`)
	r, _ = c.get(room + "/code/gif")
	assert.Equal(t, http.StatusNotFound, r.StatusCode)
	c.form(room+"/links", "forget", fmt.Sprint(links[0].ID))
	assert.NotContains(t, read(), "The spring letter")
}

// Who comes by a link is counted with it, where it is and in Learn.
func TestLinksAreCounted(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	studio := a.client(t).signIn()
	room, read := studio.releaseRoom(z)
	studio.form(room+"/links", "name", "The spring letter", "source", "letter", "campaign", "spring")
	studio.form(room+"/links", "name", "A fair", "source", "fair")
	studio.form(room+"/links", "name", "Of jars", "answers", "want=jar")
	links, err := a.store.Definitions.Links(t.Context(), z.ID)
	require.NoError(t, err)
	for i, n := range []int{2, 1, 1} {
		for range n {
			a.client(t).form("/q/"+z.Slug+"?"+links[i].Query, "asked", "want", "answer.want", "hive", "go", "on")
		}
	}
	a.client(t).form("/q/"+z.Slug+"?utm_source=letter", "asked", "want", "answer.want", "hive", "go", "on")
	counts, err := a.store.Responses.FinishedBy(t.Context(), z.ID, links)
	require.NoError(t, err)
	assert.Equal(t, []int{2, 1, -1}, counts, "all parts of a link, and what can't be told apart")
	assert.Regexp(t, `The spring letter</td>(?s:.*?)<td class="num">2</td>`, read())
	assert.Regexp(t, `Plain</td>(?s:.*?)<td class="num">1</td>`, read(), "who names no source came by the plain address")
	_, page := studio.get(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	assert.Regexp(t, `The spring letter</span>(?s:.*?)>2</b>(?s:.*?)40 %(?s:.*?)A fair`, page)
	assert.NotContains(t, page, "Of jars")
}

// A link brings answers along: they stand there as if chosen, and can be changed.
func TestAnswersFilledIn(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	studio := a.client(t).signIn()
	room, _ := studio.releaseRoom(z)
	studio.form(room+"/links", "name", "For berry growers", "answers", "crop=berries, size=large")
	links, err := a.store.Definitions.Links(t.Context(), z.ID)
	require.NoError(t, err)
	require.Len(t, links, 1)
	assert.Equal(t, "a.crop=berries&a.size=large", links[0].Query)
	c := a.client(t)
	r, _ := c.form("/q/" + z.Slug + "?" + links[0].Query + "&a.bloom=never&a.nothing=x&a.hives=some")
	at := r.Header.Get("Location")
	assert.Contains(t, at, "/crop", "the first question comes first")
	_, page := c.get(at)
	assert.Regexp(t, `value="berries"\s+checked`, page)
	r, _ = c.answer(at, "apples")
	_, page = c.get(r.Header.Get("Location"))
	assert.Regexp(t, `value="large"\s+checked`, page)
	r, _ = c.answer(r.Header.Get("Location"), "large")
	_, page = c.get(r.Header.Get("Location"))
	assert.NotRegexp(t, `name="answer.bloom"[^>]*checked`, page, "what can't be an answer is passed over")

	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Ask("mail", quiz.Email)
	plain := a.add(t, string(m.Write()))
	a.release(t, plain)
	_, page = a.client(t).get("/q/" + plain.Slug + "?a.want=jar&a.mail=una@example.org")
	assert.Regexp(t, `value="jar"\s+checked`, page, "without an opening, too")
	assert.NotContains(t, page, "una@example.org", "who somebody is comes from them alone")
}
