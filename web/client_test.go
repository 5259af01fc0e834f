package web_test

import (
	"encoding/json"
	"fmt"
	"html"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// A client keeps cookies and does not follow redirects.
type client struct {
	t testing.TB
	http.Client
	app *app
}

func (a *app) client(t testing.TB) *client {
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &client{
		t,
		http.Client{
			Jar:           jar,
			CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
		},
		a,
	}
}

func (c *client) signIn() *client {
	r, _ := c.form("/studio/sign-in", "email", email, "password", password)
	require.Equal(c.t, http.StatusSeeOther, r.StatusCode)
	return c
}

func (c *client) send(r *http.Request) (*http.Response, string) {
	c.t.Helper()
	answer, err := c.Do(r)
	require.NoError(c.t, err)
	defer answer.Body.Close()
	body, err := io.ReadAll(answer.Body)
	require.NoError(c.t, err)
	return answer, string(body)
}

func (c *client) get(path string) (*http.Response, string) {
	c.t.Helper()
	r, err := http.NewRequest(http.MethodGet, c.app.URL+path, nil)
	require.NoError(c.t, err)
	return c.send(r)
}

// says returns what is read on a page: its words, without what marks them.
func (c *client) says(path string) string {
	c.t.Helper()
	_, page := c.get(path)
	return plainly(page)
}

var marked = regexp.MustCompile(`<[^>]*>`)

func plainly(page string) string {
	return strings.Join(strings.Fields(html.UnescapeString(marked.ReplaceAllString(page, " "))), " ")
}

func (c *client) form(path string, pairs ...string) (*http.Response, string) {
	c.t.Helper()
	values := url.Values{}
	for i := 0; i < len(pairs); i += 2 {
		values.Add(pairs[i], pairs[i+1])
	}
	r, err := http.NewRequest(http.MethodPost, c.app.URL+path, strings.NewReader(values.Encode()))
	require.NoError(c.t, err)
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	return c.send(r)
}

// answer answers the question at an address of a passage, or the first of a quiz
// without an opening, as the form there does.
func (c *client) answer(at, answer string) (*http.Response, string) {
	c.t.Helper()
	key := at[strings.LastIndexByte(at, '/')+1:]
	if strings.HasPrefix(at, "/q/") {
		_, page := c.get(at)
		_, rest, _ := strings.Cut(page, `name="asked" value="`)
		key, _, _ = strings.Cut(rest, `"`)
	}
	return c.form(at, "asked", key, "answer."+key, answer, "go", "on")
}

// change sends a change of a draft and returns the status and the message.
func (c *client) change(method, path string, revision int, body string) (int, string) {
	c.t.Helper()
	r, err := http.NewRequest(method, c.app.URL+path, strings.NewReader(body))
	require.NoError(c.t, err)
	if revision > 0 {
		r.Header.Set("If-Match", fmt.Sprintf("%q", fmt.Sprint(revision)))
	}
	answer, text := c.send(r)
	var said struct{ Message string }
	_ = json.Unmarshal([]byte(text), &said)
	return answer.StatusCode, said.Message
}

// walk takes the orchard quiz up to the last answer and returns the passage's address.
func (c *client) walk(answers ...string) string {
	c.t.Helper()
	r, _ := c.form("/q/is-your-orchard-ready-for-hired-bees?utm_source=letter&ref=7")
	require.Equal(c.t, http.StatusSeeOther, r.StatusCode)
	at := r.Header.Get("Location")
	for _, a := range answers {
		r, _ = c.answer(at, a)
		require.Equal(c.t, http.StatusSeeOther, r.StatusCode)
		at = r.Header.Get("Location")
	}
	return at
}
