package web_test

import (
	"context"
	"database/sql"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"os"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
	"omphalos/web"
)

// from is a client behind a proxy that says where it is.
func (c *client) from(address string) *client {
	c.Transport = roundTripper(func(r *http.Request) (*http.Response, error) {
		r.Header.Set("X-Forwarded-For", address)
		return http.DefaultTransport.RoundTrip(r)
	})
	return c
}

type roundTripper func(*http.Request) (*http.Response, error)

func (f roundTripper) RoundTrip(r *http.Request) (*http.Response, error) { return f(r) }

// Guessing a password is slowed by address and client, however the address is spelled;
// nobody is locked out by it, and who signs in rightly is not counted.
func TestGuessingIsSlowed(t *testing.T) {
	a := newAppWith(t, web.Options{Proxies: []string{"127.0.0.1"}})
	guess := func(c *client, as, word string) (int, int) {
		r, page := c.form("/studio/sign-in", "email", as, "password", word)
		wait, _ := strconv.Atoi(r.Header.Get("Retry-After"))
		if r.StatusCode == http.StatusTooManyRequests {
			assert.Contains(t, page, "Not so fast")
		}
		return r.StatusCode, wait
	}
	for range 70 { // more than wrong ones may be
		status, _ := guess(a.client(t).from("198.51.100.1"), email, password)
		assert.Equal(t, http.StatusSeeOther, status)
	}
	refused, longest := 0, 0
	for i := range 14 {
		as := []string{email, strings.ToUpper(email), " " + email + "\u00a0", strings.Replace(email, "k", "\u212a", 1)}[i%4]
		status, wait := guess(a.client(t).from(fmt.Sprintf("2001:db8:1:2::%d", i)), as, "not the password")
		if status == http.StatusTooManyRequests {
			refused++
		}
		longest = max(longest, wait)
	}
	assert.Greater(t, refused, 8, "one network of IPv6 is one client, one address however it is spelled")
	assert.LessOrEqual(t, longest, 60)
	status, _ := guess(a.client(t).from("198.51.100.1"), email, password)
	assert.Equal(t, http.StatusSeeOther, status, "where the owner has come in before, the owner comes in")
}

// So many at once that their hashes would fill the memory: two are worked out at a time,
// the others are asked to come again.
func TestManySignInsAtOnce(t *testing.T) {
	a := newAppWith(t, web.Options{Proxies: []string{"127.0.0.1"}})
	var wait sync.WaitGroup
	statuses := make([]int, 120)
	for i := range statuses {
		wait.Go(func() {
			r, _ := a.client(t).from(fmt.Sprintf("203.0.113.%d", i)).
				form("/studio/sign-in", "email", fmt.Sprintf("n%d@example.org", i), "password", "whatever it is")
			statuses[i] = r.StatusCode
		})
	}
	wait.Wait()
	for _, s := range statuses {
		assert.Contains(t, []int{http.StatusUnprocessableEntity, http.StatusTooManyRequests}, s)
	}
}

// A session ends with the password that opened it and when nobody is there; its cookie is
// for HTTPS alone where the application is, and is not what the workspace holds.
func TestSessionsEnd(t *testing.T) {
	t.Parallel()
	a := newAppWith(t, web.Options{Idle: time.Second, Public: "https://quiz.example.org"})
	c := a.client(t)
	r, _ := c.form("/studio/sign-in", "email", email, "password", password)
	cookie := r.Cookies()[0]
	assert.True(t, cookie.Secure && cookie.HttpOnly)
	assert.Equal(t, "max-age=31536000", r.Header.Get("Strict-Transport-Security"))
	data, err := os.ReadFile(a.file + "-wal")
	require.NoError(t, err)
	assert.NotContains(t, string(data), cookie.Value)
	inside := func() int {
		r, err := http.NewRequest(http.MethodGet, a.URL+"/studio", nil)
		require.NoError(t, err)
		r.AddCookie(&http.Cookie{Name: cookie.Name, Value: cookie.Value})
		answer, _ := a.client(t).send(r)
		return answer.StatusCode
	}
	assert.Equal(t, http.StatusOK, inside())
	time.Sleep(2100 * time.Millisecond)
	assert.Equal(t, http.StatusSeeOther, inside(), "nobody was there")

	r, _ = c.form("/studio/sign-in", "email", email, "password", password)
	cookie = r.Cookies()[0]
	assert.Equal(t, http.StatusOK, inside())
	for range 5 { // a page that is open and hears news, with nobody there
		r, err := http.NewRequest(http.MethodGet, a.URL+"/studio/quizzes/1/news", nil)
		require.NoError(t, err)
		r.Header.Set("Accept", "text/event-stream")
		r.AddCookie(&http.Cookie{Name: cookie.Name, Value: cookie.Value})
		ctx, stop := context.WithTimeout(t.Context(), 500*time.Millisecond)
		if answer, err := http.DefaultClient.Do(r.WithContext(ctx)); err == nil {
			_, _ = io.Copy(io.Discard, answer.Body)
			_ = answer.Body.Close()
		}
		stop()
	}
	assert.Equal(t, http.StatusSeeOther, inside(), "an open page is nobody")

	r, _ = c.form("/studio/sign-in", "email", email, "password", password)
	cookie = r.Cookies()[0]
	assert.Equal(t, http.StatusOK, inside())
	require.NoError(t, a.store.People.PutUser(t.Context(), email, "", "another-for-hire"))
	assert.Equal(t, http.StatusSeeOther, inside(), "there is a new password")
}

// Patches that would fill the memory, or keep everybody waiting, are refused at once.
func TestPatchesAreBounded(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	c := a.client(t).signIn()
	draft := fmt.Sprintf("/studio/quizzes/%d/draft", z.ID)
	many := strings.TrimSuffix(strings.Repeat(`{"op":"add","path":"/title","value":"x"},`, 3000), ",")
	for what, patch := range map[string]string{
		"an index far behind the end":    `[{"op":"add","path":"/questions/crop/showWhen/all/130000","value":{}}]`,
		"one behind every end":           `[{"op":"add","path":"/questions/crop/showWhen/all/500000000","value":{}}]`,
		"one beyond all numbers":         `[{"op":"add","path":"/questions/crop/showWhen/all/99999999999999999999","value":{}}]`,
		"one in a list of lists":         `[{"op":"add","path":"/outcomes/walk/landings/booking/tags/9000/9000","value":"x"}]`,
		"an index to be moved from":      `[{"op":"move","from":"/title/70000","path":"/title"}]`,
		"a path of many parts":           `[{"op":"add","path":"` + strings.Repeat("/a", 500) + `","value":1}]`,
		"a long path":                    `[{"op":"add","path":"/questions/` + strings.Repeat("a", 5000) + `","value":1}]`,
		"more operations than are meant": "[" + many + "]",
		"a picture on another site":      `[{"op":"add","path":"/opening/picture","value":{"source":"https://example.org/tree.png"}}]`,
	} {
		began := time.Now()
		status, said := c.change(http.MethodPatch, draft, z.Revision, patch)
		assert.Contains(t, []int{400, 409, 422}, status, what)
		assert.NotEmpty(t, said, what)
		assert.Less(t, time.Since(began), 2*time.Second, what)
	}
	status, _ := c.change(
		http.MethodPatch,
		draft,
		z.Revision,
		`[{"op":"add","path":"/questions/crop/expect/apples","value":40}]`,
	)
	assert.Equal(t, http.StatusOK, status)
}

// Whatever a form holds, of what respondents type no more is kept than the question takes:
// asked what the page holds now, going back, going on.
func TestNoMoreIsKeptThanAsked(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("any")
	m.Opening = &quiz.Opening{Heading: "Begin"}
	m.Ask("first", quiz.Single, "a", "b")
	m.Ask("line", quiz.ShortText).Limits = &quiz.Limits{High: quiz.NumberBound(decimal.FromInt(300))}
	m.Ask("some", quiz.Several, "c", "d")
	m.Ask("rows", quiz.Grid, "e", "f").Rows = map[string]*quiz.Row{"r": {Order: 1, Label: "r"}}
	m.Ask("age", quiz.Number)
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	for _, way := range []string{"look", "back"} {
		c := a.client(t)
		r, _ := c.form("/q/" + z.Slug)
		at := strings.Split(r.Header.Get("Location"), "/")[2]
		for _, form := range [][]string{
			{"first", "answer.first", "zzz", "answer.first", "a", "answer.first", "b"},
			{"line", "answer.line", "A\u202eB\x07C" + strings.Repeat("x", 400<<10), "words.line", strings.Repeat("y", 1000)},
			{"some", "answer.some", "c", "answer.some", "c", "answer.some", "nope"},
			{"rows", "row.rows.r", "g", "row.rows.s", "e"},
			{"age", "answer.age", strings.Repeat("9", 5000)},
		} {
			c.form("/p/"+at+"/first", append([]string{"asked", form[0], "go", way}, form[1:]...)...)
		}
		begun, err := a.store.Responses.Passage(t.Context(), at)
		require.NoError(t, err)
		kept := begun.Typed()
		assert.Equal(t, []string{"a"}, kept["first"].Values, way)
		assert.Equal(t, 300, len(kept["line"].Values[0]), way)
		assert.True(t, strings.HasPrefix(kept["line"].Values[0], "ABC"), way)
		assert.Empty(t, kept["line"].WriteIn, way)
		assert.Equal(t, []string{"c"}, kept["some"].Values, way)
		assert.Empty(t, kept["rows"].Rows, way)
		assert.Equal(t, 200, len(kept["age"].Values[0]), way)
	}
}

// The number of a passage through one quiz begins none through another; a quiz that is
// taken down ends the passages under way.
func TestNumbersAreOfOneQuiz(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	quizzes := make([]*store.Quiz, 2)
	for i := range quizzes {
		m := quiztest.New("any")
		m.Title = fmt.Sprint("Quiz ", i)
		m.Ask("first", quiz.Single, "a", "b")
		m.Ask("second", quiz.Single, "c", "d")
		quizzes[i] = a.add(t, string(m.Write()))
		a.release(t, quizzes[i])
	}
	c := a.client(t)
	r, _ := c.form("/q/"+quizzes[0].Slug, "asked", "first", "answer.first", "a", "go", "on")
	at := r.Header.Get("Location")
	number := strings.Split(at, "/")[2]
	r, _ = c.form("/q/"+quizzes[1].Slug, "passage", number, "asked", "first", "answer.first", "b", "go", "on")
	assert.NotContains(t, r.Header.Get("Location"), number)
	begun, err := a.store.Responses.Passage(t.Context(), number)
	require.NoError(t, err)
	assert.Equal(t, quizzes[0].ID, begun.QuizID)
	assert.Equal(t, []string{"a"}, begun.Typed()["first"].Values)

	require.NoError(t, a.store.Definitions.DeleteQuiz(t.Context(), quizzes[0].ID))
	for _, ask := range []func() (*http.Response, string){
		func() (*http.Response, string) { return c.get(at) },
		func() (*http.Response, string) { return c.answer(at, "c") },
	} {
		r, page := ask()
		assert.Equal(t, http.StatusGone, r.StatusCode)
		assert.Contains(t, page, "This quiz is over")
	}
}

// Stand-ins are at an origin of their own, show what they are given as text, and load no
// script that an address names.
func TestStandInsStandApart(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	c := a.client(t)
	for _, path := range []string{"/standin/booking", "/standin/host"} {
		r, _ := c.get(path)
		assert.Equal(t, http.StatusNotFound, r.StatusCode)
	}
	r, err := http.Get(a.standIns + "/standin/host?home=http://127.0.0.1:1&quiz=%22%3E%3Cscript%3E&as=block")
	require.NoError(t, err)
	defer r.Body.Close()
	policy := r.Header.Get("Content-Security-Policy")
	assert.Contains(t, policy, "script-src "+a.URL)
	assert.NotContains(t, policy, "127.0.0.1:1;")
	for name, path := range map[string]string{"studio": "/studio", "a passage": "/p/x", "a quiz": "/q/x"} {
		r, err := http.Get(a.standIns + path)
		require.NoError(t, err)
		r.Body.Close()
		assert.Equal(t, http.StatusNotFound, r.StatusCode, name)
	}
}

// Those who watch over the server are told how it is; /assets/ lists nothing; whom to tell
// of a problem is said where it is known.
func TestTheServerIsWatched(t *testing.T) {
	a := newAppWith(t, web.Options{Security: "mailto:safe@quillbrook.example", Public: "https://quiz.example.org"})
	c := a.client(t)
	for path, said := range map[string]string{"/healthz": "alive", "/readyz": "ready", "/.well-known/security.txt": "Contact: mailto:safe@quillbrook.example\nExpires: "} {
		r, page := c.get(path)
		assert.Equal(t, http.StatusOK, r.StatusCode, path)
		assert.Contains(t, page, said)
	}
	free := a.lock(t)
	r, _ := c.get("/readyz")
	assert.Equal(t, http.StatusServiceUnavailable, r.StatusCode)
	r, _ = c.get("/healthz")
	assert.Equal(t, http.StatusOK, r.StatusCode)
	free()
	for _, path := range []string{"/assets/", "/assets", "/assets/fonts/", "/assets/../web.go"} {
		r, page := c.get(path)
		assert.NotEqual(t, http.StatusOK, r.StatusCode, path)
		assert.NotContains(t, page, "studio.js\"", path)
	}
	r, _ = newApp(t).client(t).get("/.well-known/security.txt")
	assert.Equal(t, http.StatusNotFound, r.StatusCode)
}

// What a request says of where it came from is believed from proxies only.
func TestWhoIsBelieved(t *testing.T) {
	t.Parallel()
	m := quiztest.New("any")
	m.Opening = &quiz.Opening{Heading: "Begin", Picture: &quiz.Picture{Source: "/assets/drawing-hive.svg"}}
	m.Ask("first", quiz.Single, "a", "b")
	for _, c := range []struct {
		with web.Options
		says string
	}{
		{web.Options{}, "http://"}, {web.Options{Proxies: []string{"127.0.0.0/8"}}, "https://"}, {web.Options{Public: "https://quiz.example.org"}, "https://quiz.example.org/"},
	} {
		a := newAppWith(t, c.with)
		z := a.add(t, string(m.Write()))
		a.release(t, z)
		r, err := http.NewRequestWithContext(context.Background(), http.MethodGet, a.URL+"/q/"+z.Slug, nil)
		require.NoError(t, err)
		r.Header.Set("X-Forwarded-Proto", "https")
		_, page := a.client(t).send(r)
		_, rest, found := strings.Cut(page, `property="og:image" content="`)
		require.True(t, found)
		assert.Equal(t, c.says, rest[:len(c.says)])
	}
}

// A form that is cut off on its way, or is none, is told so, to people and to scripts.
func TestFormsThatDoNotArrive(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	send := func(request string) string {
		line, err := net.Dial("tcp", a.Listener.Addr().String())
		require.NoError(t, err)
		defer line.Close()
		_, err = io.WriteString(line, request)
		require.NoError(t, err)
		require.NoError(t, line.(*net.TCPConn).CloseWrite())
		answer, err := io.ReadAll(line)
		require.NoError(t, err)
		return string(answer)
	}
	form := "POST /q/" + z.Slug + " HTTP/1.1\r\nHost: here\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: %d\r\n\r\n%s"
	answer := send(fmt.Sprintf(form, 100, "asked=crop"))
	assert.Contains(t, answer, " 400 ")
	assert.Contains(t, answer, "That was cut off")
	answer = send(fmt.Sprintf(form, 14, "asked=%zz&go=on"))
	assert.Contains(t, answer, " 400 ")
	assert.Contains(t, answer, "That can&#39;t be read")
	answer = send(fmt.Sprintf(form, 200_000, strings.Repeat("x", 90_000)))
	assert.Contains(t, answer, "That was cut off", "a long one")
	for _, c := range a.client(t).signIn().Jar.Cookies(must(url.Parse(a.URL))) {
		answer = send(
			fmt.Sprintf(
				"PATCH /studio/quizzes/1/draft HTTP/1.1\r\nHost: here\r\nIf-Match: \"1\"\r\nCookie: %s=%s\r\nContent-Length: 100\r\n\r\n[{",
				c.Name,
				c.Value,
			),
		)
		assert.Contains(t, answer, " 400 ")
		assert.Contains(t, answer, `{"revision":0`)
		assert.Contains(t, answer, "Only a part of the change arrived")
	}
}

// What is looked for in drafts today does not take a quiz off the air that was released
// before: its release is compiled as it was.
func TestAReleaseStaysOnTheAir(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("few", "many")
	m.Opening = &quiz.Opening{Heading: "Begin"}
	m.Ask("first", quiz.Single, "a", "b")
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	rules := map[string]*quiz.TableRule{}
	for i := range quiz.Most + 1 {
		rules[fmt.Sprint("r", i)] = &quiz.TableRule{
			Order:   float64(i),
			Outcome: "many",
			Cells:   map[string]*quiz.Test{"c": {Op: quiz.Is, Value: quiz.Words("a")}},
		}
	}
	m.Decision.Steps = map[string]*quiz.Step{
		"t": {
			Kind:    quiz.TableStep,
			Columns: map[string]*quiz.Column{"c": {Subject: quiz.Subject{Answer: "first"}}},
			Rules:   rules,
		},
	}
	require.NotEmpty(t, m.Check(), "more rules than a draft may have")
	db, err := sql.Open("sqlite3", a.file)
	require.NoError(t, err)
	defer db.Close()
	_, err = db.Exec("UPDATE releases SET document = ?", string(m.Write()))
	require.NoError(t, err)
	c := a.client(t)
	r, _ := c.form("/q/" + z.Slug)
	r, _ = c.answer(r.Header.Get("Location"), "a")
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	kept, err := a.store.Responses.Response(t.Context(), z.ID, 1)
	require.NoError(t, err)
	assert.Equal(t, "many", kept.Outcome)
	r, page := c.signIn().get(fmt.Sprintf("/studio/quizzes/%d/learn/1", z.ID))
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.Contains(t, page, "Rule 1 of the table fits")
}
