package studio

import (
	"context"
	"net/http"
	"runtime"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"

	"omphalos/store"
	"omphalos/web/ui"
)

// Mount serves the studio. It returns what shows, in its look, that something is wrong.
func Mount(r gin.IRouter, s *store.Store, sessions *scs.SessionManager, with Options) ui.Problem {
	d := newDesk(s, sessions, with)
	sheet := newSheetRoom(d)
	rooms := [][]ui.Route{
		newQuizzesRoom(d).routes(),
		newPicturesRoom(d).routes(),
		newTablesRoom(d).routes(),
		sheet.routes(),
		newReleaseRoom(d, sheet).routes(),
		newLearnRoom(d).routes(),
	}
	ui.Serve(r, d.outside(), d.tell)
	in := r.Group("", d.signedIn)
	ui.Serve(in, sheet.hearing(), d.tell)
	in.Use(d.stays)
	ui.Serve(in, newPicturesRoom(d).long(), d.tell)
	in = in.Group("", inTime(d.tell))
	for _, routes := range rooms {
		ui.Serve(in, routes, d.tell)
	}
	return d.tell
}

// longest is how long a request is worked on: a bound for what nobody means to ask.
const longest = 5 * time.Second

// working bounds how many requests of the studio are worked on at once, so that a core is
// left for respondents.
var working = semaphore.NewWeighted(int64(max(runtime.GOMAXPROCS(0)-1, 1)))

// inTime ends the work on a request when its time is over or the client has gone. What
// does not get its turn within as long is asked to come again.
func inTime(tell ui.Problem) gin.HandlerFunc {
	return func(c *gin.Context) {
		waits, stop := context.WithTimeout(c.Request.Context(), longest)
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
		ctx, stop := context.WithTimeout(c.Request.Context(), longest)
		defer stop()
		c.Request = c.Request.WithContext(ctx)
		c.Next()
	}
}
