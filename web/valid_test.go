package web_test

import (
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/store"
)

// Every page is HTML as the standard has it: html-validate finds nothing, with the rules
// in validate.json.
func TestPagesAreValid(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	folder := t.TempDir()
	c := a.client(t)
	keep := func(r *http.Response, page string) string {
		name := strings.NewReplacer("/", "_", "?", "_").Replace(r.Request.URL.RequestURI())
		require.NoError(
			t,
			os.WriteFile(filepath.Join(folder, fmt.Sprintf("%d%s.html", r.StatusCode, name)), []byte(page), 0o600),
		)
		return page
	}
	keep(c.get("/studio/sign-in"))
	c.signIn()
	keep(c.get("/studio"))
	keep(c.get("/studio/catalogue"))
	keep(c.get("/studio/places"))
	keep(c.get("/studio/signposts"))
	var quizzes []*store.Quiz
	for _, name := range []string{"orchard", "keeper", "finder", "day"} {
		data, err := os.ReadFile("../cmd/omphalos/demo/" + name + ".json")
		require.NoError(t, err)
		q, err := quiz.Read(data)
		require.NoError(t, err)
		for _, asked := range q.Questions { // so that every page is come to
			asked.Required = false
		}
		quizzes = append(quizzes, a.add(t, string(q.Write())))
	}
	require.NoError(
		t,
		a.store.Definitions.PutProducts(
			t.Context(),
			[]store.Product{
				{Key: "smoker", Name: "Smoker", Price: "29.00", Currency: "EUR", Tags: "tools"},
				{Key: "veil", Name: "Veil & hat", Price: "19.00", Currency: "EUR"},
			},
		),
	)
	require.NoError(
		t,
		a.store.Definitions.PutPlaces(
			t.Context(),
			[]store.Place{{Table: "yards", Key: "north", Name: "North yard", Latitude: 52, Longitude: 4}},
		),
	)
	require.NoError(
		t,
		a.store.Definitions.PutSignposts(
			t.Context(),
			[]store.Signpost{{Table: "shops", Row: "nl", Address: "https://example.org/nl"}},
			1,
		),
	)
	for _, z := range quizzes {
		a.release(t, z)
		p := a.client(t)
		keep(p.get("/q/" + z.Slug))
		at := "/q/" + z.Slug
		for n := 0; n < 40; n++ {
			key := at[strings.LastIndexByte(at, '/')+1:]
			r, page := p.form(at, "asked", key, "go", "on")
			if r.StatusCode == http.StatusSeeOther {
				at = r.Header.Get("Location")
				r, page = p.get(at)
			}
			keep(r, page)
			if r.StatusCode != http.StatusOK {
				break
			}
		}
		room := fmt.Sprintf("/studio/quizzes/%d", z.ID)
		for _, page := range []string{"", "/map", "/release", "/learn"} {
			keep(c.get(room + page))
		}
	}
	empty, _ := c.form("/studio/quizzes", "title", "Nothing yet")
	keep(c.get(empty.Header.Get("Location")))
	last := c.walk("none", "small", "not_now", "enough", "nothing")
	r, _ := c.answer(last, "other")
	keep(c.get(r.Header.Get("Location")))
	keep(c.get("/studio/quizzes/1"))
	keep(c.get("/studio/quizzes/1/learn"))
	keep(c.get("/studio/quizzes/1/learn/1"))
	keep(c.get("/studio"))
	keep(c.get("/studio/catalogue"))
	keep(c.get("/studio/places?table=yards"))
	keep(c.get("/studio/signposts"))
	keep(c.get("/studio/new/offers"))
	keep(c.get("/studio/not-there"))
	keep(c.get("/q/not-there"))

	found, _ := filepath.Glob(filepath.Join(folder, "*.html"))
	assert.GreaterOrEqual(t, len(found), 60)
	check := exec.Command(
		"node_modules/.bin/html-validate",
		append([]string{"--config", "web/validate.json", "--formatter", "text"}, found...)...)
	check.Dir = ".."
	said, err := check.CombinedOutput()
	assert.NoError(t, err, string(said))
}
