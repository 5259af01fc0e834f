package web_test

import (
	"bytes"
	"compress/gzip"
	"io"
	"net/http"
	"net/netip"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
	"omphalos/web"
	"omphalos/web/player"
)

// The country comes from the address that a proxy tells of, if the proxy is believed; a
// number dialled at home becomes a whole one. The address itself is not kept.
func TestCountryOfAVisitor(t *testing.T) {
	t.Parallel()
	m := quiztest.New("home", "abroad")
	m.Ask("phone", quiz.Phone)
	m.Decision.Steps = map[string]*quiz.Step{
		"here": {
			Kind:    quiz.RuleStep,
			Outcome: "home",
			When: &quiz.Condition{
				Subject: quiz.Subject{Visitor: "country"},
				Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words("GB")},
			},
		},
	}
	m.Decision.Otherwise = "abroad"
	countries := func(at netip.Addr) string { return map[string]string{"192.0.2.7": "GB"}[at.String()] }
	for proxy, want := range map[string]string{"127.0.0.1": "home", "10.0.0.1": "abroad"} {
		a := newAppWith(t, web.Options{Countries: countries, Proxies: []string{proxy}})
		z := a.add(t, string(m.Write()))
		a.release(t, z)
		c := a.client(t)
		form := url.Values{"asked": {"phone"}, "answer.phone": {"01632 960123"}, "go": {"on"}}
		if want == "abroad" {
			form.Set("answer.phone", "+44 1632 960123")
		}
		r, err := http.NewRequest(http.MethodPost, a.URL+"/q/"+z.Slug, strings.NewReader(form.Encode()))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("X-Forwarded-For", "192.0.2.7")
		answer, page := c.send(r)
		require.Equal(t, http.StatusSeeOther, answer.StatusCode, page)
		last := a.last(t, z)
		assert.Equal(t, want, last.Outcome)
		assert.NotContains(t, last.Visitor, "192.0.2.7")
		whole, err := a.store.Responses.Response(t.Context(), z.ID, 1)
		require.NoError(t, err)
		assert.Equal(t, "+441632960123", whole.Contacts[0].Value)
	}
	assert.Error(t, web.CheckProxies([]string{"10.0.0.0/8", "nearby"}))
	assert.NoError(t, web.CheckProxies([]string{"10.0.0.0/8", "::1"}))
}

// Too much from one address waits a minute; a robot that fills in what nobody sees is
// asked whether they are people, and nothing is kept; what is too long is told so.
func TestGuards(t *testing.T) {
	t.Parallel()
	a := newAppWith(t, web.Options{Limits: player.Limits{Starts: 2, Finishes: 1}})
	m := quiztest.New("any")
	m.Opening = &quiz.Opening{Heading: "Begin"}
	m.Ask("words", quiz.LongText)
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	begin := func(pairs ...string) (*http.Response, string) { return c.form("/q/"+z.Slug, pairs...) }
	r, page := begin("website", "https://spam.example")
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	assert.Contains(t, page, "Are you a person?")
	assert.Empty(t, r.Header.Get("Location"))

	var at []string
	for range 4 {
		r, _ := begin()
		require.Equal(t, http.StatusSeeOther, r.StatusCode)
		at = append(at, r.Header.Get("Location"))
	}
	r, page = begin()
	assert.Equal(t, http.StatusTooManyRequests, r.StatusCode)
	assert.Equal(t, "60", r.Header.Get("Retry-After"))
	assert.Contains(t, page, "Try again in a minute")

	r, page = c.form(at[0], "asked", "words", "answer.words", strings.Repeat("x", 600<<10), "go", "on")
	assert.Equal(t, http.StatusRequestEntityTooLarge, r.StatusCode)
	assert.Contains(t, page, "That was too much")
	for i := range 3 {
		r, page = c.form(at[i], "asked", "words", "answer.words", "Two & two", "go", "on")
	}
	assert.Equal(t, http.StatusTooManyRequests, r.StatusCode)
	assert.Contains(t, page, "Two &amp; two", "what was typed is still there")
	list, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
	require.NoError(t, err)
	assert.Len(t, list, 2)
}

// A workspace that somebody else holds gives a page that says to try again, with the
// answers in the form; then it is kept, once.
func TestALockedWorkspace(t *testing.T) {
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t)
	at := c.walk("cherries", "middle", "later", "enough", "little")
	free := a.lock(t)
	r, page := c.answer(at, "us")
	free()
	require.Equal(t, http.StatusServiceUnavailable, r.StatusCode)
	assert.Equal(t, "5", r.Header.Get("Retry-After"))
	assert.Contains(t, page, "It is still here: try again in a moment.")
	assert.True(t, bytes.Contains([]byte(page), []byte(`value="us" checked`)), "the answer is in the form")
	list, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
	require.NoError(t, err)
	assert.Empty(t, list)
	r, _ = c.answer(at, "us")
	assert.Equal(t, http.StatusSeeOther, r.StatusCode)
	list, err = a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
	require.NoError(t, err)
	assert.Len(t, list, 1)
}

// The first page is light, asks nobody else for anything, and nothing on it moves when
// the picture and the typeface come.
func TestTheFirstPageIsLight(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.day(t, nil)
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	p.until("all has come", `document.readyState === "complete" && document.fonts.status === "loaded"`)
	type part struct {
		Name  string
		Bytes int
	}
	parts := read[[]part](
		p,
		`[...performance.getEntriesByType("navigation"), ...performance.getEntriesByType("resource")].map(e => ({Name: e.name, Bytes: e.encodedBodySize}))`,
	)
	weight := 0
	for _, one := range parts {
		assert.True(t, strings.HasPrefix(one.Name, a.URL+"/"), "%s is asked for", one.Name)
		if !strings.Contains(one.Name, ".woff2") && !strings.Contains(one.Name, "drawing-") {
			weight += one.Bytes
		}
	}
	t.Logf("%d bytes in %d parts, without picture and typeface", weight, len(parts))
	assert.Greater(t, len(parts), 2)
	assert.Less(t, weight, 40<<10)
	p.run(
		`new Promise(done => { new PerformanceObserver(list => { window.shift = (window.shift ?? 0) + list.getEntries().reduce((sum, e) => sum + e.value, 0) }).observe({type: "layout-shift", buffered: true}); setTimeout(done, 300) })`,
	)
	assert.Zero(t, read[float64](p, `window.shift ?? 0`), "layout shift")
}

// A page is packed for those who take that, and is the same to the letter.
func TestPagesArePacked(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	get := func(path, takes string) (http.Header, []byte) {
		ask, err := http.NewRequestWithContext(t.Context(), http.MethodGet, a.URL+path, nil)
		require.NoError(t, err)
		ask.Header.Set("Accept-Encoding", takes)
		r, err := http.DefaultClient.Do(ask)
		require.NoError(t, err)
		defer r.Body.Close()
		body, err := io.ReadAll(r.Body)
		require.NoError(t, err)
		return r.Header, body
	}
	head, plain := get("/q/"+z.Slug, "identity")
	assert.Empty(t, head.Get("Content-Encoding"))
	head, packed := get("/q/"+z.Slug, "gzip, br")
	assert.Equal(t, "gzip", head.Get("Content-Encoding"))
	assert.Contains(t, head.Get("Vary"), "Accept-Encoding")
	assert.Less(t, len(packed), len(plain)*2/3)
	unpacking, err := gzip.NewReader(bytes.NewReader(packed))
	require.NoError(t, err)
	unpacked, err := io.ReadAll(unpacking)
	require.NoError(t, err)
	each := regexp.MustCompile(`name="(passage|token)" value="[^"]+"`) // is another on each page
	assert.Equal(t, each.ReplaceAllString(string(plain), ""), each.ReplaceAllString(string(unpacked), ""))
	head, _ = get("/got/"+z.Slug+"/the-quiz/card.png", "gzip")
	assert.Empty(t, head.Get("Content-Encoding"), "a picture is packed already")
}

// Without a connection nothing is lost: the answer goes on its way when it is back.
func TestAConnectionThatIsLost(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	p := a.atFirstQuestion(t, z)
	p.run(`window.fetchAgain = fetch; window.fetch = () => Promise.reject(new TypeError("no line"))`)
	p.click("[value=cherries]")
	p.until("it says so", `document.querySelector(".unsent")?.textContent.includes("Not sent yet")`)
	assert.True(t, read[bool](p, `document.querySelector("[value=cherries]").checked`))
	p.run(`window.fetch = window.fetchAgain; dispatchEvent(new Event("online"))`)
	p.asked("size")
}
