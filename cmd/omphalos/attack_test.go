package main

import (
	"bytes"
	"flag"
	"fmt"
	"image"
	"image/png"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"omphalos/store"
)

var attack = flag.Duration("attack", 0, "how long each kind of attack takes; make attack gives it")

// An attacker asks for what costs much, as fast as it can, from so many connections.
type attacker struct {
	name        string
	connections int
	ask         func(n int) (*http.Request, error)
}

// TestAttack runs attacks on a server of its own on loopback, one after the other, while a
// respondent takes a quiz beside them, and prints what comes of it: memory, and how long
// the respondent waits. Figures are told, not asserted, but for the respondent being served
// and the server standing at the end. make attack runs it.
func TestAttack(t *testing.T) {
	if *attack == 0 {
		t.Skip("only make attack attacks")
	}
	w := newWorkplace(t)
	s, err := store.Open(w.file)
	require.NoError(t, err)
	require.NoError(t, s.People.PutUser(t.Context(), "ann@example.org", "Ann", "smoke-and-honey"))
	require.NoError(t, s.Close())
	server := w.serve(t, freeAddress(t))
	home := "http://" + server.address

	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	inside := &http.Client{Jar: jar, Timeout: time.Minute}
	_, err = inside.PostForm(
		home+"/studio/sign-in",
		url.Values{"email": {"ann@example.org"}, "password": {"smoke-and-honey"}},
	)
	require.NoError(t, err)

	draft := fmt.Sprintf("%s/studio/quizzes/%d/draft", home, w.quiz)
	patches := []string{
		`[{"op":"add","path":"/questions/q0/showWhen/all/130000","value":{}}]`,
		`[{"op":"add","path":"/questions/q0/showWhen/all/500000000","value":{}}]`,
		`[{"op":"add","path":"/title","value":"` + strings.Repeat("x", 900_000) + `"}]`,
		"[" + strings.TrimSuffix(
			strings.Repeat(`{"op":"copy","from":"/questions","path":"/sections/x"},`, 1500),
			",",
		) + "]",
		"[" + strings.TrimSuffix(strings.Repeat(`{"op":"test","path":"/title","value":"Test"},`, 1500), ",") + "]",
	}
	var gray, deep bytes.Buffer
	require.NoError(t, png.Encode(&gray, image.NewGray(image.Rect(0, 0, 7000, 7000))))
	require.NoError(t, png.Encode(&deep, image.NewNRGBA(image.Rect(0, 0, 6900, 6900))))
	frames := append(
		[]byte("GIF89a\x01\x00\x01\x00\x80\x00\x00\x00\x00\x00\xff\xff\xff"),
		bytes.Repeat([]byte{0x2c, 0, 0, 0, 0, 1, 0, 1, 0, 0, 2, 2, 0x44, 0x01, 0}, 250_000)...)
	pictures := [][]byte{gray.Bytes(), deep.Bytes(), append(frames, 0x3b)}
	long := url.Values{"asked": {"q0"}, "go": {"look"}, "answer.q0": {strings.Repeat("x", 400<<10)}}.Encode()

	form := func(address, body string) (*http.Request, error) {
		r, err := http.NewRequest(http.MethodPost, address, strings.NewReader(body))
		if err == nil {
			r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		}
		return r, err
	}
	attackers := []attacker{
		{"nobody", 0, nil},
		{"patches", 16, func(n int) (*http.Request, error) {
			r, err := http.NewRequest(http.MethodPatch, draft, strings.NewReader(patches[n%len(patches)]))
			if err == nil {
				r.Header.Set("If-Match", fmt.Sprintf("%q", fmt.Sprint(1)))
				r.Header.Set("Content-Type", "application/json-patch+json")
			}
			return r, err
		}},
		{"pictures", 16, func(n int) (*http.Request, error) {
			return http.NewRequest(http.MethodPost, home+"/studio/pictures", bytes.NewReader(pictures[n%len(pictures)]))
		}},
		{"sign-ins", 200, func(n int) (*http.Request, error) {
			return form(
				home+"/studio/sign-in",
				url.Values{"email": {fmt.Sprintf("n%d@example.org", n)}, "password": {"whatever it is"}}.Encode(),
			)
		}},
		{"long answers", 32, func(n int) (*http.Request, error) {
			return form(home+"/q/"+w.slug, "passage="+store.PassageNumber()+"&"+long)
		}},
	}
	for _, a := range attackers {
		statuses := a.run(inside)
		times := w.taken(t, server)
		for _, done := range statuses() {
			fmt.Print(done)
		}
		at := func(part float64) time.Duration {
			return times[int(part*float64(len(times)-1))].Round(100 * time.Microsecond)
		}
		fmt.Printf(
			"%-14s a respondent beside it: %5d requests, p50 %-8v p99 %-8v   most memory so far %s\n",
			a.name,
			len(times),
			at(.5),
			at(.99),
			server.memory(),
		)
	}
	r, err := http.Get(home + "/readyz")
	require.NoError(t, err)
	defer r.Body.Close()
	require.Equal(t, http.StatusOK, r.StatusCode, "it stands")
}

// run attacks for a while, and returns what tells, when it is over, how it was answered.
func (a attacker) run(c *http.Client) func() []string {
	var mu sync.Mutex
	answers := map[int]int{}
	var wait sync.WaitGroup
	until := time.Now().Add(*attack)
	for i := range a.connections {
		wait.Go(func() {
			for n := i; time.Now().Before(until); n += a.connections {
				r, err := a.ask(n)
				if err != nil {
					continue
				}
				status := 0
				if answer, err := c.Do(r); err == nil {
					_, _ = io.Copy(io.Discard, answer.Body)
					_ = answer.Body.Close()
					status = answer.StatusCode
				}
				mu.Lock()
				answers[status]++
				mu.Unlock()
			}
		})
	}
	return func() (said []string) {
		wait.Wait()
		for status, n := range answers {
			said = append(said, fmt.Sprintf("  %d× %d", n, status))
		}
		slices.Sort(said)
		return append(said, "\n")
	}
}

// taken lets a respondent look at openings and finish passages, and returns how long each
// request took, rising.
func (w workplace) taken(t *testing.T, server *process) []time.Duration {
	t.Helper()
	l, err := dial(server.address)
	require.NoError(t, err)
	defer l.Close()
	var times []time.Duration
	for until := time.Now().Add(*attack); time.Now().Before(until); time.Sleep(5 * time.Millisecond) {
		for request, want := range map[string]int{getRequest("/q/" + w.opening): http.StatusOK,
			postRequest("/q/"+w.slug, filledIn(store.PassageNumber())): http.StatusSeeOther} {
			asked := time.Now()
			status, _, err := l.ask(request)
			require.NoError(t, err)
			require.Equal(t, want, status)
			times = append(times, time.Since(asked))
		}
	}
	slices.Sort(times)
	return times
}
