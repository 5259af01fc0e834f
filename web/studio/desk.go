// Package studio is the marketer's side: the quizzes, the sheet on which one
// is designed, its releases and its responses.
package studio

import (
	"cmp"
	"embed"
	"errors"
	"io/fs"
	"log/slog"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"

	"omphalos/store"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A Desk is what all rooms of the studio work at: who has signed in, and how a page is
// shown, a sentence said and a fault told.
type Desk struct {
	Options
	store    *store.Store
	sessions *scs.SessionManager
	views    *ui.Views
	door     *door
	seen     *lru.Cache[string, int64] // by session: when it was seen last, in Unix time
}

// newDesk returns a Desk without templates; see with.
func newDesk(s *store.Store, sessions *scs.SessionManager, with Options) *Desk {
	d := &Desk{store: s, sessions: sessions, door: newDoor(), Options: with}
	d.Idle = cmp.Or(d.Idle, 12*time.Hour)
	d.seen, _ = lru.New[string, int64](mostSeen)
	d.views = ui.Load(templates)
	return d
}

// with returns the Desk of a room, which has templates of its own.
func (s *Desk) with(room fs.FS) *Desk {
	d := *s
	d.views = ui.Load(templates, room)
	return &d
}

// Options say what the studio works with.
type Options struct {
	Public   string          // address under which the application is known: "https://quiz.example.org"; "" for the one that is asked
	Idle     time.Duration   // after which a session ends in which nobody did anything; 0 for 12 hours
	StandIns string          // address of the stand-ins, "" for none
	Ending   <-chan struct{} // closed when the server ends
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

func (s *Desk) frame(c *gin.Context, title, room string, z *store.Quiz) frame {
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
func (s *Desk) say(c *gin.Context, sentence, undo string) {
	s.setCookie(c, saidCookie, sentence+"\n"+undo, "/studio", 60)
}

func (s *Desk) setCookie(c *gin.Context, name, value, path string, seconds int) {
	http.SetCookie(
		c.Writer,
		&http.Cookie{Name: name, Value: url.QueryEscape(value), Path: path, MaxAge: seconds, HttpOnly: true,
			SameSite: http.SameSiteLaxMode, Secure: strings.HasPrefix(ui.Origin(c.Request, s.Public), "https://")},
	)
}

func (s *Desk) user(c *gin.Context) uint {
	return c.MustGet(userKey).(*store.User).ID
}

// quiz returns the quiz that the address names, or answers with a page that it
// is not there.
func (s *Desk) quiz(c *gin.Context) (*store.Quiz, bool) {
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

func (s *Desk) show(c *gin.Context, status int, page string, data any) {
	if err := s.views.Page(c.Writer, status, page, data); err != nil {
		slog.Error("showing a page", "page", page, "error", err)
		c.AbortWithStatus(http.StatusInternalServerError)
	}
}

// tell answers that something is wrong, in the look of the studio; a sheet in JSON.
func (s *Desk) tell(c *gin.Context, status int, heading, text string) {
	if ui.AnswersJSON(c) || c.GetHeader("If-Match") != "" { // or a sheet asks for what has changed
		c.JSON(status, gin.H{"message": heading + ". " + text})
		return
	}
	s.show(c, status, "problem", problemPage{s.frame(c, heading, "", nil), heading, text})
}

// outside are the routes of those who have not signed in.
func (s *Desk) outside() []ui.Route {
	return []ui.Route{
		ui.Get("/sign-in", s.signInPage),
		ui.Post("/sign-in", ui.Form, s.signIn),
		ui.Post("/sign-out", ui.Form, s.signOut),
	}
}

type problemPage struct {
	frame
	Heading, Text string
}

func (s *Desk) fail(c *gin.Context, err error) {
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
