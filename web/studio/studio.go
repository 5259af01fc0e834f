package studio

import (
	"context"
	"net/http"
	"runtime"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"

	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/studio/leads"
	"omphalos/web/studio/learn"
	"omphalos/web/studio/outbox"
	"omphalos/web/studio/pictures"
	"omphalos/web/studio/quizzes"
	"omphalos/web/studio/rehearse"
	"omphalos/web/studio/release"
	"omphalos/web/studio/sheet"
	"omphalos/web/studio/tables"
	"omphalos/web/ui"
)

// Mount serves the studio. It returns what shows, in its look, that something is wrong, and
// what tells who has signed in to it.
func Mount(r gin.IRouter, s *store.Store, sessions *scs.SessionManager, with desk.Options) (ui.Problem,
	func(*http.Request) *store.User) {
	d := desk.New(s, sessions, with)
	sheet := sheet.New(d)
	rooms := [][]ui.Route{
		quizzes.New(d).Routes(),
		pictures.New(d).Routes(),
		tables.New(d).Routes(),
		sheet.Routes(),
		rehearse.New(d).Routes(),
		release.New(d, sheet).Routes(),
		learn.New(d).Routes(),
		leads.New(d).Routes(),
		outbox.New(d).Routes(),
	}
	ui.Serve(r, d.Outside(), d.Tell)
	in := r.Group("", d.SignedIn)
	ui.Serve(in, sheet.Hearing(), d.Tell)
	in.Use(d.Stays)
	ui.Serve(in, pictures.New(d).Long(), d.Tell)
	ui.Serve(in, quizzes.New(d).Long(), d.Tell)
	ui.Serve(in, learn.New(d).Long(), d.Tell)
	ui.Serve(in, leads.New(d).Long(), d.Tell)
	in = in.Group("", inTime(d.Tell))
	for _, routes := range rooms {
		ui.Serve(in, routes, d.Tell)
	}
	return d.Tell, d.Member
}

// working bounds how many requests of the studio are worked on at once, so that a core is
// left for respondents.
var working = semaphore.NewWeighted(int64(max(runtime.GOMAXPROCS(0)-1, 1)))

// inTime ends the work on a request when its time is over or the client has gone. What
// does not get its turn within as long is asked to come again.
func inTime(tell ui.Problem) gin.HandlerFunc {
	return func(c *gin.Context) {
		waits, stop := context.WithTimeout(c.Request.Context(), desk.Longest)
		defer stop()
		if working.Acquire(waits, 1) != nil {
			c.Abort()
			c.Header("Retry-After", "2")
			tell(
				c,
				http.StatusServiceUnavailable,
				"One moment, please",
				"Too much is being worked on just now. Try again in a moment.",
			)
			return
		}
		defer working.Release(1)
		ctx, stop := context.WithTimeout(c.Request.Context(), desk.Longest)
		defer stop()
		c.Request = c.Request.WithContext(ctx)
		c.Next()
	}
}
