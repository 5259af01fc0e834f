package web_test

import (
	"net/http"
	"net/url"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/gate"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Opening, closing, pausing: each with a page of its own; who is mid-way has some time more.
func TestWhenAQuizIsOpen(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t)
	at := c.walk("berries")
	studio := a.client(t).signIn()
	room, read := studio.releaseRoom(z)
	tomorrow := time.Now().UTC().AddDate(0, 0, 1)
	opens := func(what string, status int, says string) {
		t.Helper()
		r, page := a.client(t).get("/q/" + z.Slug)
		assert.Equal(t, status, r.StatusCode, what)
		assert.Contains(t, page, says, what)
		r, _ = a.client(t).form("/q/" + z.Slug)
		assert.Equal(t, status != http.StatusOK, r.StatusCode != http.StatusSeeOther, what)
	}
	opens("nothing said", http.StatusOK, "See if they would")
	studio.form(room+"/open", "opens", tomorrow.Format("2006-01-02T15:04"), "grace", "60")
	opens("tomorrow", http.StatusServiceUnavailable, "This quiz opens on "+tomorrow.Format("Monday 2 January"))
	studio.form(room+"/open", "opens", "tomorrow", "grace", "60")
	assert.Contains(t, read(), "is no date with a time")
	studio.form(room+"/open", "opens", "2026-04-30T09:00", "closes", "2026-04-29T09:00")
	assert.Contains(t, read(), "It would close before it opens")
	studio.form(room+"/open", "closes", time.Now().UTC().Add(-2*time.Minute).Format("2006-01-02T15:04"),
		"grace", "60", "words", "Come back in *spring*.")
	opens("over", http.StatusGone, "Come back in *spring*.")
	r, _ := c.answer(at, "small")
	assert.Equal(t, http.StatusSeeOther, r.StatusCode, "who is mid-way has an hour")
	studio.form(room+"/open", "closes", time.Now().UTC().Add(-2*time.Minute).Format("2006-01-02T15:04"), "grace", "0")
	r, _ = c.get(r.Header.Get("Location"))
	assert.Equal(t, http.StatusGone, r.StatusCode, "or none")
	studio.form(room+"/open", "grace", "60")
	opens("open again", http.StatusOK, "See if they would")
	studio.form(room+"/open", "do", "pause")
	opens("paused", http.StatusServiceUnavailable, "rests for a while")
	studio.form(room+"/open", "do", "open")
	studio.form(room+"/open", "do", "close")
	opens("closed", http.StatusGone, "It has closed")
	assert.Contains(t, read(), "It is closed for good.")
}

// A quiz that closes at a number of responses takes exactly that many of 200 who finish at once.
func TestClosingAtANumber(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	require.NoError(t, a.store.Definitions.SetGate(t.Context(), z.ID, gate.Gate{Most: 40}))
	form := url.Values{"asked": {"want"}, "answer.want": {"hive"}, "go": {"on"}}.Encode()
	var taken, full atomic.Int64
	var all sync.WaitGroup
	for range 200 {
		all.Go(func() {
			r, err := http.NewRequest(http.MethodPost, a.URL+"/q/"+z.Slug, strings.NewReader(form))
			if err != nil {
				t.Error(err)
				return
			}
			r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
			answer, err := http.DefaultTransport.RoundTrip(r)
			if err != nil {
				t.Error(err)
				return
			}
			answer.Body.Close()
			switch answer.StatusCode {
			case http.StatusSeeOther:
				taken.Add(1)
			case http.StatusGone:
				full.Add(1)
			default:
				t.Error(answer.StatusCode)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, 40, taken.Load())
	assert.EqualValues(t, 160, full.Load())
	n, err := a.store.Responses.Answered(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, 40, n)
	_, page := a.client(t).get("/q/" + z.Slug)
	assert.Contains(t, page, "This quiz is full")
}
