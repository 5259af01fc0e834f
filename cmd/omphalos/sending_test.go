package main

import (
	"database/sql"
	"fmt"
	"net/http"
	"net/http/httptest"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// A deskOf calls counts the calls that come to it by their keys, and takes its time.
type deskOfCalls struct {
	*httptest.Server
	mu    sync.Mutex
	calls map[string]int
}

func newDesk(t testing.TB, slow time.Duration) *deskOfCalls {
	d := &deskOfCalls{calls: map[string]int{}}
	d.Server = httptest.NewServer(http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		time.Sleep(slow)
		d.mu.Lock()
		defer d.mu.Unlock()
		d.calls[r.Header.Get("webhook-id")]++
	}))
	t.Cleanup(d.Close)
	return d
}

// calling is a workplace whose quiz calls a desk when somebody lands.
func calling(t testing.TB, d *deskOfCalls) workplace {
	t.Helper()
	w := newWorkplaceWith(t, func(m quiztest.Maker) {
		m.FollowUps = map[string]*quiz.FollowUp{"call": {Kind: quiz.CallFollowUp, Receiver: "desk"}}
	})
	s, err := store.Open(w.file)
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, s.Outbox.PutReceiver(t.Context(), &store.Receiver{Name: "Desk", Kind: quiz.CallFollowUp,
		Address: d.URL}))
	return w
}

// waits is how many deliveries wait in a file.
func waits(t testing.TB, file string) (n int) {
	t.Helper()
	db, err := sql.Open("sqlite3", "file:"+file+"?mode=ro")
	require.NoError(t, err)
	defer db.Close()
	require.NoError(t, db.QueryRow("SELECT count(*) FROM deliveries WHERE state = 'waiting'").Scan(&n))
	return n
}

// The server is killed at random moments while it sends. When it has started again, all that
// is due arrives, for every response: what comes twice carries the same key.
func TestKilledWhileSending(t *testing.T) {
	d := newDesk(t, 2*time.Millisecond)
	w := calling(t, d)
	address := freeAddress(t)
	acknowledged := w.killedUnderLoad(t, address, func(map[string]bool, int) {})
	require.NotEmpty(t, acknowledged)
	server := w.serve(t, address)
	require.Eventually(t, func() bool { return waits(t, w.file) == 0 }, 5*time.Minute, 100*time.Millisecond, "all is sent")
	server.kill()
	s, err := store.Open(w.file)
	require.NoError(t, err)
	defer s.Close()
	all, err := s.Outbox.Deliveries(t.Context(), store.Search{}, 10_000_000)
	require.NoError(t, err)
	by := map[uint]string{}
	twice := 0
	d.mu.Lock()
	defer d.mu.Unlock()
	for _, one := range all {
		require.Equal(t, store.Delivered, one.State, one.Why)
		require.Empty(t, by[one.ResponseID], "one for each response")
		by[one.ResponseID] = one.Key
		require.Positive(t, d.calls[one.Key], "it arrived")
		if d.calls[one.Key] > 1 {
			twice++
		}
	}
	assert.Len(t, d.calls, len(all), "no other key came")
	assert.GreaterOrEqual(t, len(all), len(acknowledged))
	there, err := s.Responses.Answered(t.Context(), w.quiz)
	require.NoError(t, err)
	assert.Equal(t, there, len(all))
	t.Logf("%d responses, %d kills: all arrived, %d of them twice", len(all), *kills, twice)
}

// TestLoadWhileSending measures finished passages while ten thousand deliveries wait for a slow
// receiver, beside a quiz that sends nothing, in one run. make load runs it.
func TestLoadWhileSending(t *testing.T) {
	if *load == 0 {
		t.Skip("only make load measures")
	}
	finish := func(w workplace) func() string {
		return func() string { return postRequest("/q/"+w.slug, filledIn(store.PassageNumber())) }
	}
	plain := newWorkplace(t)
	quiet := plain.serve(t, freeAddress(t))
	d := newDesk(t, time.Second)
	w := calling(t, d)
	busy := w.serve(t, freeAddress(t))
	l, err := dial(busy.address)
	require.NoError(t, err)
	for range 10_000 {
		_, _, err := l.ask(finish(w)())
		require.NoError(t, err)
	}
	fmt.Printf("%d deliveries wait for a receiver that takes a second for each; memory %s\n", waits(t, w.file),
		busy.memory())
	var without, with float64
	for range 3 {
		without += rush(t, "nothing goes out", quiet, http.StatusSeeOther, finish(plain))
		with += rush(t, "a call goes out", busy, http.StatusSeeOther, finish(w))
	}
	fmt.Printf("\n%d wait; memory %s; finishing takes %.2f times as long as where nothing goes out\n",
		waits(t, w.file), busy.memory(), without/with)
}
