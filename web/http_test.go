package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// Common practice, no source: 14 points lie in the band 10 to below 18, and a
// redirect to a landing page is an HTTP 302 with a Location header.
func TestFinishingIsIdempotent(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.release(t, a.orchard(t))
	c := a.client(t)
	last := c.walk("apples", "large", "soon", "some", "ample")

	// A double click: eight times at once.
	var wait sync.WaitGroup
	locations := make([]string, 8)
	for i := range locations {
		wait.Go(func() {
			answer, _ := a.client(t).answer(last, "me")
			assert.Equal(t, http.StatusFound, answer.StatusCode)
			locations[i] = answer.Header.Get("Location")
		})
	}
	wait.Wait()
	for _, l := range locations {
		assert.Equal(t, locations[0], l)
	}
	assert.Contains(t, locations[0], "/standin/booking?crop=apples&size=large&readiness=28&response=")

	// A reload, and the browser's back.
	answer, _ := c.get(last)
	assert.Equal(t, http.StatusFound, answer.StatusCode)
	answer, _ = c.answer(strings.Replace(last, "decides", "crop", 1), "none")
	assert.Equal(t, locations[0], answer.Header.Get("Location"))

	list, err := a.store.Responses.List(t.Context(), 1, store.Page{}, 10)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "letter", list[0].Facts().Source)
	assert.Equal(t, map[string]string{"ref": "7"}, list[0].Facts().Query)
}

// Someone who goes back and answers otherwise lands by the new answers; later
// edits of the draft don't touch the release until the next one.
func TestBackAndReleases(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t)
	last := c.walk("none", "small", "not_now", "enough", "nothing")
	first := strings.Replace(last, "decides", "crop", 1)
	answer, _ := c.answer(first, "cherries")
	assert.Contains(t, answer.Header.Get("Location"), "/size", "after a change the next question comes again")

	studio := a.client(t).signIn()
	status, _ := studio.change(
		http.MethodPatch,
		"/studio/quizzes/1/draft",
		z.Revision,
		`[{"op":"add","path":"/questions/crop/answers/cherries/adds/readiness","value":500}]`,
	)
	require.Equal(t, http.StatusOK, status)
	answer, _ = c.answer(last, "other")
	assert.Contains(t, answer.Header.Get("Location"), "/end")
	answer, page := c.get(answer.Header.Get("Location"))
	assert.Equal(t, http.StatusOK, answer.StatusCode)
	assert.Contains(t, page, "Not this season")
	assert.Contains(t, page, "Readiness came to 4.", "5 − 1 by the release that was taken, not 500 by the draft")

	r, _ := studio.form("/studio/quizzes/1/release", "revision", fmt.Sprint(z.Revision))
	assert.Equal(t, http.StatusConflict, r.StatusCode, "the draft has moved on since the page was shown")
	r, _ = studio.form("/studio/quizzes/1/release", "revision", fmt.Sprint(z.Revision+1))
	assert.Equal(t, http.StatusSeeOther, r.StatusCode)
	last = c.walk("cherries", "small", "not_now", "enough", "nothing")
	answer, _ = c.answer(last, "other")
	assert.Equal(t, http.StatusFound, answer.StatusCode, "the next release counts 500")
}

func TestBadInputIsAnsweredClearly(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t)
	at := c.walk()
	for _, bad := range []struct {
		name   string
		pairs  []string
		status int
		says   string
	}{
		{"unknown answer", []string{"asked", "crop", "answer.crop", "papayas", "go", "on"}, 422, "is not one of the answers"},
		{"no answer", []string{"asked", "crop", "go", "on"}, 422, "This one is needed"},
		{"two answers", []string{"asked", "crop", "answer.crop", "apples", "answer.crop", "berries", "go",
			"on"}, 422, "Choose one answer only."},
	} {
		r, page := c.form(at, bad.pairs...)
		assert.Equal(t, bad.status, r.StatusCode, bad.name)
		assert.Contains(t, page, bad.says, bad.name)
	}
	r, page := c.get("/q/no-such-quiz")
	assert.Equal(t, 404, r.StatusCode)
	assert.Contains(t, page, "There is no quiz here")
	r, _ = c.get("/p/no-such-passage/crop")
	assert.Equal(t, 404, r.StatusCode)

	// The studio: signed out, then signed in.
	status, says := a.client(t).change(http.MethodPatch, "/studio/quizzes/1/draft", z.Revision, `[]`)
	assert.Equal(t, 401, status)
	assert.Contains(t, says, "signed out")
	s := a.client(t).signIn()
	patch := func(path, value string) string {
		return fmt.Sprintf(`[{"op":"add","path":%q,"value":%s}]`, path, value)
	}
	long := fmt.Sprintf("%q", strings.Repeat("x", 5000))
	for _, bad := range []struct {
		name, body string
		revision   int
		status     int
		says       string
	}{
		{"no revision", patch("/title", `"x"`), 0, 428, "If-Match"},
		{"foreign revision", patch("/title", `"x"`), 99, 412, "changed in another tab"},
		{"no JSON", `{`, z.Revision, 400, "not a JSON Patch"},
		{"unknown operation", `[{"op":"frob","path":"/title"}]`, z.Revision, 400, "not a JSON Patch"},
		{"5,000-character title", patch("/title", long), z.Revision, 422, "This has 5000 characters; at most 200 fit"},
		{"javascript address", patch("/outcomes/walk/landings/booking/address", `"javascript:alert(1)"`),
			z.Revision, 422, "must start with https:// or http://"},
		{"address without a site", patch("/outcomes/walk/landings/booking/address", `"https:///x"`), z.Revision,
			422, "needs the name of a site"},
		{"unknown field", patch("/questions/crop/colour", `"red"`), z.Revision, 422, "does not know"},
		{"letters for a number", patch("/questions/crop/answers/apples/adds/readiness", `"many"`), z.Revision,
			422, "must be a number"},
		{"seven decimals", patch("/questions/crop/answers/apples/adds/readiness", `0.1234567`), z.Revision, 422,
			"more than six decimals"},
		{"nothing there", `[{"op":"replace","path":"/questions/gone/label","value":"x"}]`, z.Revision, 409,
			"does not fit the document"},
	} {
		status, says := s.change(http.MethodPatch, "/studio/quizzes/1/draft", bad.revision, bad.body)
		assert.Equal(t, bad.status, status, bad.name)
		assert.Contains(t, says, bad.says, bad.name)
	}
	after, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, z.Draft, after.Draft, "nothing of it got in")

	status, _ = s.change(http.MethodPatch, "/studio/quizzes/1/draft", z.Revision, strings.Repeat(" ", 3<<20))
	assert.Equal(t, 413, status, "an oversized body")
	r, page = s.form("/studio/quizzes", "title", "  ")
	assert.Equal(t, 422, r.StatusCode)
	assert.Contains(t, page, "Give the quiz a title first")
	r, page = s.form("/studio/quizzes", "title", strings.Repeat("y", 5000))
	assert.Equal(t, 422, r.StatusCode)
	assert.Contains(t, page, "too long for a list")
	assert.Contains(t, page, strings.Repeat("y", 5000), "what was typed is still in its field")
}

// The list: copying, deleting and taking it back; a deleted quiz is closed to the public.
// Of a question whose one answer weighs more, that answer is sent, and the question where
// more of it has changed.
func TestAnEditSendsWhatDiffers(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	c := a.client(t).signIn()
	_, page := c.get("/studio/quizzes/1")
	shown := regexp.MustCompile(`data-shown="([^"]+)"`).FindStringSubmatch(page)[1]
	edit := func(path string, value any, revision int) map[string]string {
		patch, err := json.Marshal([]map[string]any{{"op": "add", "path": path, "value": value}})
		require.NoError(t, err)
		r, err := http.NewRequest(http.MethodPatch, a.URL+"/studio/quizzes/1/draft", bytes.NewReader(patch))
		require.NoError(t, err)
		r.Header.Set("If-Match", strconv.Itoa(revision))
		r.Header.Set("Shown", shown)
		answer, text := c.send(r)
		require.Equal(t, http.StatusOK, answer.StatusCode, text)
		var update struct {
			Shown string
			Parts map[string]string
		}
		require.NoError(t, json.Unmarshal([]byte(text), &update))
		shown = update.Shown
		return update.Parts
	}
	parts := edit("/questions/crop/answers/apples/adds/readiness", 3, z.Revision)
	assert.Contains(t, parts["row-/questions/crop/answers/apples"], `value="&#43;3"`)
	assert.NotContains(t, parts, "row-/questions/crop/answers/cherries")
	assert.NotContains(t, parts, "part-q-crop")
	parts = edit("/questions/crop/help", "Most of it", z.Revision+1)
	assert.Contains(t, parts["part-q-crop"], "Most of it")
	assert.Contains(t, parts["part-q-crop"], `value="&#43;3"`, "with all its rows")
	assert.NotContains(t, parts, "row-/questions/crop/answers/apples")
}

func TestTheListOfQuizzes(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.release(t, a.orchard(t))
	s := a.client(t).signIn()
	r, _ := s.form("/studio/quizzes/1/title", "title", "Bees & <b>blossom</b>")
	assert.Equal(t, http.StatusSeeOther, r.StatusCode)
	r, _ = s.get("/studio/quizzes")
	assert.Equal(t, "/studio", r.Header.Get("Location"), "as one may type it")
	_, page := s.get("/studio")
	assert.Contains(t, page, "Bees &amp; &lt;b&gt;blossom&lt;/b&gt;", "a title is text, not markup")
	s.form("/studio/quizzes/1/copy")
	_, page = s.get("/studio")
	assert.Contains(t, page, "blossom&lt;/b&gt; (copy)")
	s.form("/studio/quizzes/1/delete")
	_, page = s.get("/studio")
	assert.Contains(t, page, "is deleted")
	assert.Contains(t, page, `action="/studio/quizzes/1/restore"`)
	r, _ = a.client(t).get("/q/is-your-orchard-ready-for-hired-bees")
	assert.Equal(t, 404, r.StatusCode)
	s.form("/studio/quizzes/1/restore")
	r, _ = a.client(t).get("/q/is-your-orchard-ready-for-hired-bees")
	assert.Equal(t, 200, r.StatusCode)
}

func TestPagesAreGuarded(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.release(t, a.orchard(t))
	for _, path := range []string{"/q/is-your-orchard-ready-for-hired-bees", "/studio/sign-in"} {
		r, page := a.client(t).get(path)
		policy := r.Header.Get("Content-Security-Policy")
		assert.Contains(t, policy, "script-src 'self';")
		assert.NotContains(t, policy, "unsafe")
		assert.Equal(t, "nosniff", r.Header.Get("X-Content-Type-Options"))
		assert.NotContains(t, page, "<style")
		assert.NotRegexp(t, `\son[a-z]+=|\sstyle=|<script>`, page, "nothing runs in the page itself")
	}
	// A form on another site can't change anything.
	r, err := http.NewRequest(http.MethodPost, a.URL+"/studio/sign-in", bytes.NewReader(nil))
	require.NoError(t, err)
	r.Header.Set("Sec-Fetch-Site", "cross-site")
	answer, _ := a.client(t).send(r)
	assert.Equal(t, http.StatusForbidden, answer.StatusCode)
}

// Parting ways ends with the outcome's page and keeps nothing but a count.
func TestPartingKeepsNothing(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("stay", "gone")
	m.Ask("budget", quiz.Single, "none", "some").Required = true
	m.Questions["budget"].Answers["none"].Then = &quiz.Then{Go: quiz.PartWays, To: "gone"}
	m.Outcomes["gone"].Headline = "Not this year"
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	r, page := c.answer("/q/"+z.Slug, "none")
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.Contains(t, page, "Not this year")
	assert.Contains(t, page, "Your answers have not been kept.")
	list, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 10)
	require.NoError(t, err)
	assert.Empty(t, list)
	screened, err := a.store.Responses.Screened(t.Context(), z.ID, nil)
	require.NoError(t, err)
	assert.Equal(t, []odds.Screened{{Place: "budget", Outcome: "gone", Landing: "page", Count: 1}}, screened)
	_, page = a.client(t).signIn().get("/studio/quizzes/1/learn")
	assert.Contains(t, plainly(page), "1 person was screened out: nothing of what they answered is kept")
}

// What is not there, can't be done there, or is too much is told in the look of the room,
// or as JSON where that was asked for; HEAD is answered wherever GET is.
func TestProblemsHaveAPage(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t).signIn()
	ask := func(method, path, accept, body string) (*http.Response, string) {
		r, err := http.NewRequest(method, a.URL+path, strings.NewReader(body))
		require.NoError(t, err)
		r.Header.Set("Accept", accept)
		return c.send(r)
	}
	for path, room := range map[string]string{"/studio/nowhere": "All quizzes", "/nowhere": `class="page"`,
		"/q/" + z.Slug + "/nowhere": "Quillbrook Apiary Supply"} {
		r, page := ask(http.MethodGet, path, "text/html", "")
		assert.Equal(t, http.StatusNotFound, r.StatusCode, path)
		assert.Contains(t, page, "There is nothing here")
		assert.Contains(t, page, room)
		r, page = ask(http.MethodGet, path, "application/json", "")
		assert.Equal(t, http.StatusNotFound, r.StatusCode, path)
		assert.JSONEq(
			t,
			`{"message":"There is nothing here. The address may be mistyped, or what was here has been taken away."}`,
			page,
		)
	}
	r, page := ask(http.MethodDelete, "/q/"+z.Slug, "text/html", "")
	assert.Equal(t, http.StatusMethodNotAllowed, r.StatusCode)
	assert.Equal(t, "GET, POST", r.Header.Get("Allow"))
	assert.Contains(t, page, "This can&#39;t be done here")
	r, page = ask(http.MethodPost, "/studio/quizzes", "text/html", strings.Repeat("x", 3<<20))
	assert.Equal(t, http.StatusRequestEntityTooLarge, r.StatusCode)
	assert.Contains(t, page, "That was too much")
	for _, path := range []string{"/q/" + z.Slug, "/studio", fmt.Sprintf("/studio/quizzes/%d", z.ID),
		"/assets/studio.css", "/robots.txt"} {
		r, body := ask(http.MethodHead, path, "text/html", "")
		assert.Equal(t, http.StatusOK, r.StatusCode, path)
		assert.Empty(t, body)
	}
	r, _ = ask(http.MethodGet, "/favicon.ico", "image/*", "")
	r, page = ask(http.MethodGet, r.Header.Get("Location"), "image/*", "")
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.Contains(t, page, "<svg")
	_, page = ask(http.MethodGet, "/robots.txt", "text/plain", "")
	assert.Contains(t, page, "Disallow: /p/")
	_, page = ask(http.MethodGet, "/q/"+z.Slug, "text/html", "")
	assert.Contains(t, page, `<meta property="og:title" content="Is your orchard ready for hired bees?" />`)
	assert.Contains(t, page, `<meta property="og:description" content="`)
	assert.NotContains(t, page, "home.invalid")
}
