package main

import (
	"database/sql"
	"flag"
	"math/rand/v2"
	"net/http"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/store"
)

var kills = flag.Int("kills", 4, "how often the server is killed under load; make crash does it 50 times")

// The server is killed at random moments while passages are finished. Whatever was
// acknowledged is there when it has started again, once, and the file is sound.
func TestKilledUnderLoad(t *testing.T) {
	w := newWorkplace(t)
	acknowledged := w.killedUnderLoad(t, freeAddress(t), func(acknowledged map[string]bool, kill int) {
		w.holds(t, acknowledged, kill)
	})
	t.Logf("%d finished passages were acknowledged before %d kills", len(acknowledged), *kills)
	require.NotEmpty(t, acknowledged)
}

// killedUnderLoad kills the server again and again while passages are finished, and returns
// the numbers of those that were acknowledged. After each kill something is looked at.
func (w workplace) killedUnderLoad(t *testing.T, address string, after func(acknowledged map[string]bool,
	kill int)) map[string]bool {
	t.Helper()
	chance := rand.New(rand.NewPCG(3, uint64(*kills)))
	var mu sync.Mutex
	acknowledged := map[string]bool{}
	for n := range *kills {
		server := w.serve(t, address)
		var wait sync.WaitGroup
		busy := make(chan struct{}, 1) // a passage was acknowledged since it started
		for range 8 {
			wait.Go(func() {
				l, err := dial(address)
				if err != nil {
					return
				}
				defer l.Close()
				for {
					number := store.PassageNumber()
					status, _, err := l.ask(postRequest("/q/"+w.slug, filledIn(number)))
					if err != nil { // killed
						return
					}
					if status == http.StatusSeeOther {
						mu.Lock()
						acknowledged[number] = true
						mu.Unlock()
						select {
						case busy <- struct{}{}:
						default:
						}
					}
				}
			})
		}
		select {
		case <-busy:
		case <-time.After(30 * time.Second): // what is missing then is told below
		}
		time.Sleep(time.Duration(chance.IntN(400)) * time.Millisecond)
		server.kill()
		wait.Wait()
		after(acknowledged, n+1)
	}
	return acknowledged
}

// Where the disk is full the respondent gets a page that says to try again, with the
// answers in the form; nothing is half-written, and what was acknowledged is there.
func TestAFullDisk(t *testing.T) {
	w := newWorkplace(t)
	info, err := os.Stat(w.file)
	require.NoError(t, err)
	address := freeAddress(t)
	server := w.serveWithin(t, address, int(info.Size()/1024)+300)
	l, err := dial(address)
	require.NoError(t, err)
	acknowledged := map[string]bool{}
	refused := 0
	for range 3000 {
		number := store.PassageNumber()
		status, page, err := l.page(postRequest("/q/"+w.slug, filledIn(number)))
		require.NoError(t, err)
		if status == http.StatusSeeOther {
			acknowledged[number] = true
			continue
		}
		require.Equal(t, http.StatusServiceUnavailable, status)
		require.Contains(t, page, "It is still here: try again in a moment.")
		require.Contains(
			t,
			page,
			`value="`+number+`"`,
			"the number of the passage, so that trying again is no second one",
		)
		require.Equal(t, 6, strings.Count(page, " checked"), "the answers are in the form")
		if refused++; refused == 3 {
			break
		}
	}
	require.Equal(t, 3, refused, "the disk was full")
	require.NotEmpty(t, acknowledged, "at first there was room")
	server.kill()
	w.holds(t, acknowledged, 1)
}

// holds checks the file after a kill.
func (w workplace) holds(t *testing.T, acknowledged map[string]bool, kill int) {
	t.Helper()
	s, err := store.Open(w.file)
	require.NoError(t, err)
	all, err := s.Responses.List(t.Context(), w.quiz, store.Page{}, 1_000_000)
	require.NoError(t, err)
	for _, r := range all {
		require.Len(t, r.Answers, 6, "%s is half-written", r.Passage)
	}
	require.NoError(t, s.Close())
	db, err := sql.Open("sqlite3", w.file)
	require.NoError(t, err)
	defer db.Close()
	sound := ""
	require.NoError(t, db.QueryRow("PRAGMA integrity_check").Scan(&sound))
	require.Equal(t, "ok", sound, "after kill %d", kill)
	var both, counted int
	require.NoError(t, db.QueryRow("SELECT count(*) FROM responses r JOIN passages p ON p.id = r.passage").Scan(&both))
	require.Zero(t, both, "under way and finished, after kill %d", kill)
	require.NoError(
		t,
		db.QueryRow("SELECT coalesce(sum(count), 0) FROM outcome_counts WHERE quiz_id = ?", w.quiz).Scan(&counted),
	)
	require.Equal(t, len(all), counted, "figures after kill %d", kill)
	rows, err := db.Query("SELECT passage FROM responses WHERE quiz_id = ?", w.quiz)
	require.NoError(t, err)
	defer rows.Close()
	there := map[string]bool{}
	for rows.Next() {
		var number string
		require.NoError(t, rows.Scan(&number))
		require.False(t, there[number], "%s is there twice", number)
		there[number] = true
	}
	require.NoError(t, rows.Err())
	for number := range acknowledged {
		if !there[number] {
			assert.Fail(t, "lost", "%s was acknowledged before kill %d and is not there", number, kill)
		}
	}
}
