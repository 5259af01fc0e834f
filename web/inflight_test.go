package web_test

import (
	"net/http"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// What is done while the sheet asks how it stands is kept where nothing has moved, and told to
// be too late where something has.
func TestWhatIsDoneWhileTheSheetAsks(t *testing.T) {
	t.Parallel()
	var slow atomic.Bool
	asked := make(chan bool, 8)
	a := newAppBehind(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if slow.Load() && r.Method == http.MethodGet && r.URL.Path == "/studio/quizzes/1/draft" {
				asked <- true
				time.Sleep(time.Second)
			}
			h.ServeHTTP(w, r)
		})
	})
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	b.until("news are heard", `document.readyState === "complete"`)
	slow.Store(true)
	a.release(t, z)
	<-asked
	b.run(`document.querySelector('[data-act="add?path=/questions"]').click()`)
	b.until("it is made", `document.querySelectorAll("#questions > .question").length === 7`)
	b.kept()
	assert.Len(t, a.draft(t, z.ID).Questions, 7)

	a.edit(t, z.ID, `[{"op":"replace","path":"/questions/crop/label","value":"What grows there?"}]`)
	<-asked
	b.run(`document.querySelector('[data-act="add?path=/questions"]').click()`)
	b.until("it is told",
		`document.getElementById("notice").textContent.includes("changed in another tab or by somebody else")`)
	assert.Equal(t, "What grows there?", b.value(`[data-path="/questions/crop/label"]`))
	assert.NotContains(t, b.text("#notice"), "undefined")
}
