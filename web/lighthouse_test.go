package web_test

import (
	"encoding/json"
	"flag"
	"fmt"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/store"
)

var lighthouse = flag.String("lighthouse", "", "folder in which Lighthouse is installed; without, nothing is measured")
var looked = flag.String("looks", "", "the made looks whose pages are measured, with commas between; without, all")

// A measured page is what lighthouse.mjs writes of it.
type measured struct {
	Name                string
	Scores              [4]int // performance, accessibility, best practices, SEO; of 100
	LCP, Blocked, Shift float64
	Failing             []string
}

// Every page of every made look, with a picture and scores, as on a phone with a slow line.
// What depends on the machine is told; what does not must hold.
func TestLighthouse(t *testing.T) {
	if *lighthouse == "" {
		t.Skip("make lighthouse measures")
	}
	a := newApp(t)
	var pages []map[string]string
	for _, made := range quiz.Mades {
		if *looked != "" && !slices.Contains(strings.Split(*looked, ","), string(made)) {
			continue
		}
		q := a.orchardQuiz(t)
		q.Look.Made = made
		z, err := a.store.Definitions.AddQuiz(t.Context(), q)
		require.NoError(t, err)
		a.release(t, z)
		pages = append(pages, a.pagesOf(t, z, string(made))...)
	}
	input, err := json.Marshal(pages)
	require.NoError(t, err)
	script := *lighthouse + "/lighthouse.mjs" // beside what it imports
	source, err := os.ReadFile("assets/lighthouse.mjs")
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(script, source, 0o600))
	run := exec.CommandContext(t.Context(), "node", script)
	run.Stdin, run.Stderr = strings.NewReader(string(input)), os.Stderr
	output, err := run.Output()
	require.NoError(t, err)
	var list []measured
	require.NoError(t, json.Unmarshal(output, &list))
	require.Len(t, list, len(pages))
	for _, m := range list {
		fmt.Printf("%-24s %v  LCP %4.0f ms  blocked %3.0f ms  shift %.3f  %v\n", m.Name, m.Scores, m.LCP,
			m.Blocked, m.Shift, m.Failing)
		assert.GreaterOrEqual(t, min(m.Scores[1], m.Scores[2]), 98, m.Name)
		if strings.HasSuffix(m.Name, "opening") {
			assert.GreaterOrEqual(t, m.Scores[3], 98, m.Name)
		}
		assert.Zero(t, m.Shift, m.Name)
	}
}

// pagesOf takes a quiz to its end, and returns its pages with what opens them.
func (a *app) pagesOf(t *testing.T, z *store.Quiz, name string) []map[string]string {
	t.Helper()
	page := func(c *client, what, path string) map[string]string {
		site, err := url.Parse(a.URL)
		require.NoError(t, err)
		var cookies []string
		for _, one := range c.Jar.Cookies(site.JoinPath(path)) {
			cookies = append(cookies, one.Name+"="+one.Value)
		}
		return map[string]string{"name": name + " " + what, "url": a.URL + path, "cookie": strings.Join(cookies, "; ")}
	}
	begins := func() (*client, string) {
		c := a.client(t)
		r, _ := c.form("/q/" + z.Slug)
		require.Equal(t, http.StatusSeeOther, r.StatusCode)
		return c, r.Header.Get("Location")
	}
	still, first := begins() // stays at its first question
	c, at := begins()
	for _, answer := range []string{"cherries", "middle", "later", "enough", "little", "us"} {
		r, _ := c.answer(at, answer)
		at = r.Header.Get("Location")
	}
	require.True(t, strings.HasSuffix(at, "/end"), at)
	key := a.last(t, z).Outcome
	return []map[string]string{page(c, "opening", "/q/"+z.Slug), page(still, "question", first),
		page(c, "result", at), page(c, "passed on", "/got/"+z.Slug+"/"+key)}
}
