// Package release is the room in which a quiz is published and shared.
package release

import (
	"embed"
	"errors"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/studio/sheet"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A Room publishes a quiz.
type Room struct {
	*desk.Desk
	sheets *sheet.Room
}

// New returns the room at a desk.
func New(d *desk.Desk, sheets *sheet.Room) *Room { return &Room{d.With(templates), sheets} }

// Routes are the room's, each with what it takes.
func (s *Room) Routes() []ui.Route {
	return []ui.Route{
		ui.Get("/quizzes/:quiz/release", s.releasePage),
		ui.Post("/quizzes/:quiz/release", ui.Form, s.release),
	}
}

type releasePage struct {
	desk.Frame
	Address  string // whole, for sharing
	Path     string
	Errors   []sheet.Told
	Sheet    *sheet.Sheet
	Releases []store.Release
	Changed  bool // the draft differs from the newest release
	Remarks  int  // that are not settled
	Kept     int  // rehearsals
	Broken   int  // of them, those that do not hold
	Wrong    string
	Share    sharePart
}

func (s *Room) releasePage(c *gin.Context) { s.showRelease(c, http.StatusOK, "") }

func (s *Room) showRelease(c *gin.Context, status int, wrong string) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	sh, err := s.sheets.Read(c, z)
	if err != nil {
		s.Fail(c, err)
		return
	}
	releases, err := s.Store.Definitions.Releases(c.Request.Context(), z.ID)
	if err != nil {
		s.Fail(c, err)
		return
	}
	home := ui.Origin(c.Request, s.Public)
	var public *quiz.Quiz
	if len(releases) > 0 {
		if public, err = releases[0].Read(); err != nil {
			s.Fail(c, err)
			return
		}
	}
	page := releasePage{Frame: s.Frame(c, z.Title, "release", z), Path: "/q/" + z.Slug, Address: home + "/q/" + z.Slug,
		Errors: sh.Errors(), Sheet: sh, Releases: releases, Wrong: wrong}
	page.Share = shareOf(c, home, s.StandIns, z.Slug, z.Title, public)
	if page.Remarks, err = s.Store.Definitions.OpenRemarks(c.Request.Context(), z.ID); err != nil {
		s.Fail(c, err)
		return
	}
	page.Kept, page.Broken = len(sh.Doc.Rehearsals), len(sh.Broken())
	page.Changed = z.Released == 0 || z.Changes() > 0
	s.Show(c, status, "release", page)
}

// release publishes the draft as it was when the page was shown.
func (s *Room) release(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	at, err := strconv.Atoi(c.PostForm("revision"))
	if err != nil {
		at = -1
	}
	r, err := s.Store.Definitions.Release(c.Request.Context(), z.ID, at, s.User(c))
	switch {
	case err == nil:
		s.Say(c, "Release "+strconv.Itoa(r.Number)+" is public now.", "")
		c.Redirect(http.StatusSeeOther, desk.Address(z)+"/release")
	case errors.Is(err, store.ErrStale):
		s.showRelease(
			c,
			http.StatusConflict,
			"The draft has changed since you opened this page. Look at it again, then release it.",
		)
	case errors.Is(err, store.ErrUnfinished):
		s.showRelease(
			c,
			http.StatusUnprocessableEntity,
			"The draft is not ready yet: finish what is listed below first.",
		)
	default:
		s.Fail(c, err)
	}
}
