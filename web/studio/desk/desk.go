// Package desk is what all rooms of the studio have in common: signing in, how a page is
// shown, a sentence said and a fault told.
package desk

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

	"omphalos/core/quiz"
	"omphalos/outbox"
	"omphalos/store"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A Desk is what all rooms of the studio work at: who has signed in, and how a page is
// shown, a sentence said and a fault told.
type Desk struct {
	Options
	Store    *store.Store
	Sessions *scs.SessionManager
	Views    *ui.Views
	door     *door
	seen     *lru.Cache[string, int64] // by session: when it was seen last, in Unix time
}

// New returns a Desk without templates; see with.
func New(s *store.Store, sessions *scs.SessionManager, with Options) *Desk {
	d := &Desk{Store: s, Sessions: sessions, door: newDoor(), Options: with}
	d.Idle = cmp.Or(d.Idle, 12*time.Hour)
	d.seen, _ = lru.New[string, int64](mostSeen)
	d.Views = ui.LoadIn(s.Responses.Zone, templates)
	return d
}

// With returns the Desk of a room, whose templates see those of the desk.
func (s *Desk) With(rooms ...fs.FS) *Desk {
	d := *s
	d.Views = ui.LoadIn(s.Store.Responses.Zone, append([]fs.FS{templates}, rooms...)...)
	return &d
}

// Options say what the studio works with.
type Options struct {
	Public   string          // own address, "https://quiz.example.org"; "" for the one that is asked
	Idle     time.Duration   // after which a session ends in which nobody did anything; 0 for 12 hours
	StandIns string          // address of the stand-ins, "" for none
	Outbox   *outbox.Worker  // what sends; nil where nothing goes out
	Ending   <-chan struct{} // closed when the server ends
	Lost     bool            // nobody tells the country of a visitor
	Parts    bool            // there is a page of the parts that rooms are built from
}

// A Frame is what every page of the studio has around its content.
type Frame struct {
	Title string
	Room  string // "sheet", "release", "learn", "" beside a quiz
	User  string
	Quiz  *store.Quiz // nil beside a quiz
	Flash string      // said once
	Undo  string      // address that takes back what Flash tells
}

// Frame returns what is around a page: who is signed in, and what is said once.
func (s *Desk) Frame(c *gin.Context, title, room string, z *store.Quiz) Frame {
	f := Frame{Title: title, Room: room, Quiz: z}
	if user, ok := c.Get(userKey); ok {
		f.User = user.(*store.User).Name
	}
	if said, err := c.Cookie(saidCookie); err == nil {
		f.Flash, f.Undo, _ = strings.Cut(said, "\n")
		s.SetCookie(c, saidCookie, "", "/studio", -1)
	}
	return f
}

// What is said once, and how a quiz is looked at, is kept in cookies: a page that is asked
// for writes nothing.
const saidCookie = "said"

// Say keeps a sentence for the next page, with the address that takes it back.
func (s *Desk) Say(c *gin.Context, sentence, undo string) {
	s.SetCookie(c, saidCookie, sentence+"\n"+undo, "/studio", 60)
}

// SetCookie keeps something in the browser for so many seconds, out of scripts' reach.
func (s *Desk) SetCookie(c *gin.Context, name, value, path string, seconds int) {
	http.SetCookie(
		c.Writer,
		&http.Cookie{Name: name, Value: url.QueryEscape(value), Path: path, MaxAge: seconds, HttpOnly: true,
			SameSite: http.SameSiteLaxMode, Secure: strings.HasPrefix(ui.Origin(c.Request, s.Public), "https://")},
	)
}

// User returns who is signed in.
func (s *Desk) User(c *gin.Context) uint {
	return c.MustGet(userKey).(*store.User).ID
}

// QuizOf returns the quiz that the address names, or answers with a page that it
// is not there.
func (s *Desk) QuizOf(c *gin.Context) (*store.Quiz, bool) {
	id, ok := Number(c, "quiz")
	if !ok {
		s.Fail(c, store.ErrNotFound)
		return nil, false
	}
	z, err := s.Store.Definitions.Quiz(c.Request.Context(), uint(id))
	if err != nil {
		s.Fail(c, err)
		return nil, false
	}
	return z, true
}

// DraftOf is QuizOf with the document of the draft.
func (s *Desk) DraftOf(c *gin.Context) (*store.Quiz, *quiz.Quiz, bool) {
	z, ok := s.QuizOf(c)
	if !ok {
		return nil, nil, false
	}
	q, err := z.Document()
	if err != nil {
		s.Fail(c, err)
		return nil, nil, false
	}
	return z, q, true
}

// Show answers with a page of the room.
func (s *Desk) Show(c *gin.Context, status int, page string, data any) {
	if err := s.Views.Page(c.Writer, status, page, data); err != nil {
		slog.Error("showing a page", "page", page, "error", err)
		c.AbortWithStatus(http.StatusInternalServerError)
	}
}

// Tell answers that something is wrong, in the look of the studio; a sheet in JSON.
func (s *Desk) Tell(c *gin.Context, status int, heading, text string) {
	if ui.AnswersJSON(c) || c.GetHeader("If-Match") != "" { // or a sheet asks for what has changed
		c.JSON(status, gin.H{"message": heading + ". " + text})
		return
	}
	s.Show(c, status, "problem", problemPage{s.Frame(c, heading, "", nil), heading, text})
}

// Outside are the routes of those who have not signed in.
func (s *Desk) Outside() []ui.Route {
	return []ui.Route{
		ui.Get("/sign-in", s.signInPage),
		ui.Post("/sign-in", ui.Form, s.signIn),
		ui.Post("/sign-out", ui.Form, s.signOut),
	}
}

type problemPage struct {
	Frame
	Heading, Text string
}

// Fail answers with the page of what is not there, or of a fault, which is logged.
func (s *Desk) Fail(c *gin.Context, err error) {
	if errors.Is(err, store.ErrNotFound) {
		s.Show(
			c,
			http.StatusNotFound,
			"problem",
			problemPage{
				s.Frame(c, "Not there", "", nil),
				"This is not there",
				"It may have been deleted, or the address is mistyped.",
			},
		)
		return
	}
	slog.Error("studio", "error", err)
	s.Show(
		c,
		http.StatusInternalServerError,
		"problem",
		problemPage{
			s.Frame(c, "Something went wrong", "", nil),
			"Something went wrong",
			"Nothing was changed. Try again; if it stays, the log of the server tells more.",
		},
	)
}

// Longest is how long a request is worked on: a bound for what nobody means to ask.
const Longest = 5 * time.Second
