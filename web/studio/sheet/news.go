package sheet

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/gin-contrib/sse"
	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/studio/desk"
)

// How often it is looked whether a quiz has changed, and how long a stream may be silent
// before something is sent to keep it open.
const (
	newsEach  = 500 * time.Millisecond
	newsQuiet = 20 * time.Second
	newsAgain = 500 // ms after which a browser asks again for a stream that has ended
)

// news tells an open sheet, as server-sent events, which revision of its quiz stands, at
// once and at every change: "stands", or "gone" where it was deleted. It ends with the
// session.
func (s *Room) news(c *gin.Context) {
	id, _ := desk.Number(c, "quiz")
	ctx := c.Request.Context()
	wire := http.NewResponseController(c.Writer)
	tick := time.NewTicker(newsEach)
	defer tick.Stop()
	var told gin.H
	var last time.Time
	for {
		now := gin.H{"revision": 0}
		revision, released, err := s.Store.Definitions.Revision(c.Request.Context(), uint(id))
		if err == nil {
			now = gin.H{"revision": revision, "released": released}
		} else if !errors.Is(err, store.ErrNotFound) {
			return
		}
		if told == nil || told["revision"] != now["revision"] || told["released"] != now["released"] ||
			time.Since(last) > newsQuiet {
			if wire.SetWriteDeadline(time.Now().Add(newsQuiet)) != nil {
				return
			}
			news := sse.Event{Event: "stands", Data: now, Retry: newsAgain}
			if err != nil {
				news.Event = "gone"
			}
			c.Render(-1, news)
			if wire.Flush() != nil {
				return
			}
			told, last = now, time.Now()
		}
		select {
		case <-tick.C:
			session, err := s.Sessions.Load(context.Background(), s.Sessions.Token(ctx)) // anew
			if err != nil {
				return
			}
			if _, in := s.Present(session); !in {
				return
			}
		case <-ctx.Done():
			return
		case <-s.Ending:
			return
		}
	}
}
