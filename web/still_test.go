package web_test

import (
	"bytes"
	"fmt"
	"maps"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/player"
)

// Nothing on a page moves when the rest of it comes, or its script, however late that is: what is
// there has its place from the start.
func TestNothingMovesWhenTheScriptComes(t *testing.T) {
	t.Parallel()
	a := newAppBehind(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			switch {
			case strings.HasPrefix(r.URL.Path, "/assets/player.js"):
				time.Sleep(400 * time.Millisecond)
			case strings.HasPrefix(r.URL.Path, player.ShowingPrefix):
				inTwo(h, w, r)
				return
			}
			h.ServeHTTP(w, r)
		})
	})
	id := a.dressed(t)
	var shops []store.Place
	for i := range 7 {
		shops = append(shops, store.Place{Table: "shops", Key: fmt.Sprintf("shop_%d", i),
			Name: fmt.Sprintf("Shop %d", i), Latitude: 53, Longitude: -6})
	}
	require.NoError(t, a.store.Definitions.PutPlaces(t.Context(), shops))
	var counties []string
	for i := range 20 {
		counties = append(counties, fmt.Sprintf(`"county_%d":{"order":%d,"label":"County %d"}`, i, i, i))
	}
	a.edit(t, id, `[{"op":"remove","path":"/pace"},
		{"op":"add","path":"/questions/county","value":{"order":91,"section":"main","kind":"dropdown",
			"label":"Where?","answers":{`+strings.Join(counties, ",")+`}}},
		{"op":"add","path":"/questions/q_single/answers/other",
			"value":{"order":9,"label":"Something else","writeIn":true}},
		{"op":"add","path":"/questions/shop",
			"value":{"order":90,"section":"main","kind":"location","label":"Where?","table":"shops"}}]`)
	b := a.newTabOf(t, 390, 1600, true)
	b.signIn()
	_, err := chromedp.Call(b.ctx, network.SetCacheDisabled, network.SetCacheDisabledParams{CacheDisabled: true})
	require.NoError(t, err)
	pages := []string{"the-opening", "slides", "shop", "county", "result.walk", "result.plan"}
	for _, kind := range quiz.Kinds {
		if kind != quiz.Location {
			pages = append(pages, "q_"+string(kind))
		}
	}
	for _, page := range pages {
		b.open(fmt.Sprintf("/showing/%d/%s", id, page))
		b.run(`new Promise(done => {
			window.moved = []
			new PerformanceObserver(list => {
				for (const entry of list.getEntries())
					for (const s of entry.sources)
						window.moved.push((s.node?.className ?? s.node?.nodeName) + " at " + Math.round(entry.startTime))
			}).observe({type: "layout-shift", buffered: true})
			setTimeout(done, 700)
		})`)
		moved := read[[]string](b, `window.moved`)
		assert.Empty(t, moved, page)
	}
}

// inTwo sends a page as a slow line does: what stands in the second half of it comes later.
func inTwo(h http.Handler, w http.ResponseWriter, r *http.Request) {
	r.Header.Del("Accept-Encoding")
	whole := httptest.NewRecorder()
	h.ServeHTTP(whole, r)
	maps.Copy(w.Header(), whole.Header())
	w.Header().Del("Content-Length")
	w.WriteHeader(whole.Code)
	page := whole.Body.Bytes()
	from, to := bytes.Index(page, []byte("<main>")), bytes.Index(page, []byte("</main>"))
	if from < 0 || to < from {
		_, _ = w.Write(page)
		return
	}
	half := (from + to) / 2
	_, _ = w.Write(page[:half])
	_ = http.NewResponseController(w).Flush()
	time.Sleep(200 * time.Millisecond)
	_, _ = w.Write(page[half:])
}
