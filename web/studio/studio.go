// Package studio is the marketer's side: the quizzes, the sheet on which one
// is designed, its releases and its responses.
package studio

import (
	"cmp"
	"context"
	"embed"
	"errors"
	"log/slog"
	"net/http"
	"net/url"
	"runtime"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/sync/semaphore"

	"omphalos/store"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

type studio struct {
	Options
	store    *store.Store
	sessions *scs.SessionManager
	views    *ui.Views
	rendered *lru.Cache[string, []*rendered]      // by sheet.kept: what was sent last, the newest first
	newest   *lru.Cache[string, []store.Response] // by quiz, number of responses and the last of them: the newest
	door     *door
	seen     *lru.Cache[string, int64] // by session: when it was seen last, in Unix time
}

// How many sheets are kept as they were sent last, and of how many quizzes the newest
// responses.
const (
	mostRendered = 64
	mostNewest   = 4
)

// Options say what the studio works with.
type Options struct {
	Public   string          // address under which the application is known: "https://quiz.example.org"; "" for the one that is asked
	Idle     time.Duration   // after which a session ends in which nobody did anything; 0 for 12 hours
	StandIns string          // address of the stand-ins, "" for none
	Ending   <-chan struct{} // closed when the server ends
}

// Mount serves the studio. It returns what shows, in its look, that something is wrong.
func Mount(r gin.IRouter, s *store.Store, sessions *scs.SessionManager, with Options) ui.Problem {
	st := &studio{store: s, sessions: sessions, views: ui.Load(templates), door: newDoor(), Options: with}
	st.Idle = cmp.Or(st.Idle, 12*time.Hour)
	st.seen, _ = lru.New[string, int64](mostSeen)
	st.newest, _ = lru.New[string, []store.Response](mostNewest)
	st.rendered, _ = lru.New[string, []*rendered](mostRendered)
	tell := func(c *gin.Context, status int, heading, text string) {
		if ui.AnswersJSON(c) || c.GetHeader("If-Match") != "" { // or a sheet asks for what has changed
			c.JSON(status, update{Message: heading + ". " + text})
			return
		}
		st.show(c, status, "problem", problemPage{st.frame(c, heading, "", nil), heading, text})
	}
	ui.Serve(r, st.outside(), tell)
	in := r.Group("", st.signedIn)
	ui.Serve(in, st.hearing(), tell)
	in.Use(st.stays)
	ui.Serve(in, st.long(), tell)
	ui.Serve(in.Group("", inTime(tell)), st.rooms(), tell)
	return tell
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

// A frame is what every page of the studio has around its content.
type frame struct {
	Title string
	Room  string // "sheet", "release", "learn", "" beside a quiz
	User  string
	Quiz  *store.Quiz // nil beside a quiz
	Flash string      // said once
	Undo  string      // address that takes back what Flash tells
}

func (s *studio) frame(c *gin.Context, title, room string, z *store.Quiz) frame {
	f := frame{Title: title, Room: room, Quiz: z}
	if user, ok := c.Get(userKey); ok {
		f.User = user.(*store.User).Name
	}
	if said, err := c.Cookie(saidCookie); err == nil {
		f.Flash, f.Undo, _ = strings.Cut(said, "\n")
		s.setCookie(c, saidCookie, "", "/studio", -1)
	}
	return f
}

// What is said once, and how a quiz is looked at, is kept in cookies: a page that is asked
// for writes nothing.
const saidCookie = "said"

// say keeps a sentence for the next page, with the address that takes it back.
func (s *studio) say(c *gin.Context, sentence, undo string) {
	s.setCookie(c, saidCookie, sentence+"\n"+undo, "/studio", 60)
}

func (s *studio) setCookie(c *gin.Context, name, value, path string, seconds int) {
	http.SetCookie(
		c.Writer,
		&http.Cookie{Name: name, Value: url.QueryEscape(value), Path: path, MaxAge: seconds, HttpOnly: true,
			SameSite: http.SameSiteLaxMode, Secure: strings.HasPrefix(ui.Origin(c.Request, s.Public), "https://")},
	)
}

func (s *studio) user(c *gin.Context) uint {
	return c.MustGet(userKey).(*store.User).ID
}

// quiz returns the quiz that the address names, or answers with a page that it
// is not there.
func (s *studio) quiz(c *gin.Context) (*store.Quiz, bool) {
	id, ok := number(c, "quiz")
	if !ok {
		s.fail(c, store.ErrNotFound)
		return nil, false
	}
	z, err := s.store.Definitions.Quiz(c.Request.Context(), uint(id))
	if err != nil {
		s.fail(c, err)
		return nil, false
	}
	return z, true
}

func (s *studio) show(c *gin.Context, status int, page string, data any) {
	if err := s.views.Page(c.Writer, status, page, data); err != nil {
		slog.Error("showing a page", "page", page, "error", err)
		c.AbortWithStatus(http.StatusInternalServerError)
	}
}

type problemPage struct {
	frame
	Heading, Text string
}

func (s *studio) fail(c *gin.Context, err error) {
	if errors.Is(err, store.ErrNotFound) {
		s.show(
			c,
			http.StatusNotFound,
			"problem",
			problemPage{
				s.frame(c, "Not there", "", nil),
				"This is not there",
				"It may have been deleted, or the address is mistyped.",
			},
		)
		return
	}
	slog.Error("studio", "error", err)
	s.show(
		c,
		http.StatusInternalServerError,
		"problem",
		problemPage{
			s.frame(c, "Something went wrong", "", nil),
			"Something went wrong",
			"Nothing was changed. Try again; if it stays, the log of the server tells more.",
		},
	)
}
