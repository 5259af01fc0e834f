package web_test

import (
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
)

// asks takes down what is asked of an application, and tells how often a page was: ahead and
// when it was wanted.
type asks struct {
	sync.Mutex
	ahead, wanted map[string]int // by the last part of the address
}

func (a *asks) front(h http.Handler) http.Handler {
	a.ahead, a.wanted = map[string]int{}, map[string]int{}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodGet && strings.HasPrefix(r.URL.Path, "/p/") {
			a.Lock()
			count := a.wanted
			if strings.Contains(r.Header.Get("Sec-Purpose"), "prefetch") {
				count = a.ahead
			}
			count[r.URL.Path[strings.LastIndex(r.URL.Path, "/")+1:]]++
			a.Unlock()
		}
		h.ServeHTTP(w, r)
	})
}

func (a *asks) of(key string) (ahead, wanted int) {
	a.Lock()
	defer a.Unlock()
	return a.ahead[key], a.wanted[key]
}

// A page that comes whatever is answered is fetched while the one before is read, and is there
// without being asked for again; what is answered on it is shown when one comes back.
func TestThePageAhead(t *testing.T) {
	t.Parallel()
	seen := new(asks)
	a := newAppBehind(t, seen.front)
	z := a.orchard(t)
	a.release(t, z)
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug + "?ahead=spring&utm_source=letter")
	p.until("it stands", `document.readyState === "complete"`)
	assert.Contains(t, p.address(), "?ahead=spring&utm_source=letter", "an address of somebody else's stays")
	p.click(".button")
	fetched := func() { p.until("the next page is fetched", `document.querySelector("input[name=ahead]")`) }
	p.asked("crop")
	fetched()
	p.tap("[value=cherries]")
	p.asked("size")
	assert.NotContains(t, p.address(), "ahead", "an address is as it always was")
	ahead, wanted := seen.of("size")
	assert.Equal(t, [2]int{1, 0}, [2]int{ahead, wanted}, "it was there before it was asked for")
	fetched()
	p.tap("[value=middle]")
	p.asked("bloom")
	ahead, wanted = seen.of("bloom")
	assert.Equal(t, [2]int{1, 0}, [2]int{ahead, wanted}, "so was the one after it")
	p.click("[value=back]")
	p.asked("size")
	assert.True(t, read[bool](p, `document.querySelector("[value=middle]").checked`), "what was answered is shown")
	assert.Equal(t, 1, read[int](p, `document.querySelectorAll("input:checked").length`))
}

// What is not the same for all answers, or holds what somebody said, is not sent ahead; nor is
// anything once something else has been answered.
func TestNoPageAhead(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	q := a.orchardQuiz(t)
	plain(q)
	q.Questions["bloom"].Help = "You said {size}."
	q.Questions["decides"].ShowWhen = &quiz.Condition{All: []*quiz.Condition{
		{Subject: quiz.Subject{Answer: "budget"}, Test: quiz.Test{Op: quiz.IsNot, Value: quiz.Words("nothing")}}}}
	z, err := a.store.Definitions.AddQuiz(t.Context(), q)
	require.NoError(t, err)
	a.release(t, z)
	c := a.client(t)
	r, _ := c.form("/q/" + z.Slug)
	at := r.Header.Get("Location")
	next := func() string {
		_, html := c.get(at)
		_, rest, found := strings.Cut(html, `data-next="`)
		if !found {
			return ""
		}
		address, rest, _ := strings.Cut(rest, `"`)
		_, rest, _ = strings.Cut(rest, `data-stamp="`)
		stamp, _, _ := strings.Cut(rest, `"`)
		return address + stamp
	}
	ahead := func(address string) *http.Response {
		request, err := http.NewRequestWithContext(t.Context(), http.MethodGet, a.URL+address, nil)
		require.NoError(t, err)
		request.Header.Set("Sec-Purpose", "prefetch")
		r, err := c.Do(request)
		require.NoError(t, err)
		require.NoError(t, r.Body.Close())
		return r
	}
	address := next()
	require.Contains(t, address, "/size?")
	r = ahead(address)
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.Equal(t, "private, max-age=300", r.Header.Get("Cache-Control"))
	r, _ = c.get(address) // wanted before its time
	assert.Equal(t, at, r.Header.Get("Location"))

	sent := func(stamp string) (int, string) {
		form := url.Values{"asked": {"crop"}, "answer.crop": {"cherries"}, "go": {"on"}, "ahead": {stamp}}
		request, err := http.NewRequestWithContext(t.Context(), http.MethodPost, a.URL+at, strings.NewReader(form.Encode()))
		require.NoError(t, err)
		request.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		request.Header.Set("Accept", "text/plain")
		r, text := c.send(request)
		return r.StatusCode, text
	}
	status, _ := sent("earlier")
	assert.Equal(t, http.StatusConflict, status, "the form comes again by itself")
	begun, err := a.store.Responses.Passage(t.Context(), strings.Split(at, "/")[2])
	require.NoError(t, err)
	assert.Empty(t, begun.Typed(), "nothing was taken")
	_, stamp, _ := strings.Cut(address, "ahead=")
	status, to := sent(stamp)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, to, address+"#")
	assert.Equal(t, http.StatusNoContent, ahead(address).StatusCode, "something was answered since")
	at, _, _ = strings.Cut(to, "?")
	assert.Empty(t, next(), "what comes says what was answered")
	r, _ = c.answer(at, "middle")
	at = r.Header.Get("Location")
	assert.NotContains(t, at, "ahead", "a form goes as ever")
	r, _ = c.answer(at, "later")
	at = r.Header.Get("Location")
	r, _ = c.answer(at, "enough")
	at = r.Header.Get("Location")
	require.True(t, strings.HasSuffix(at, "/budget"))
	address = next()
	require.Contains(t, address, "/decides?")
	assert.Equal(t, http.StatusNoContent, ahead(address).StatusCode, "it depends on the answer")
}
