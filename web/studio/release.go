package studio

import (
	"errors"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/ui"
)

// A releaseRoom publishes a quiz.
type releaseRoom struct {
	*Desk
	sheets *sheetRoom
}

func newReleaseRoom(d *Desk, sheets *sheetRoom) *releaseRoom { return &releaseRoom{d, sheets} }

// routes are the room's, each with what it takes.
func (s *releaseRoom) routes() []ui.Route {
	return []ui.Route{
		ui.Get("/quizzes/:quiz/release", s.releasePage),
		ui.Post("/quizzes/:quiz/release", ui.Form, s.release),
	}
}

type releasePage struct {
	frame
	Address  string // whole, for sharing
	Path     string
	Errors   []told
	Sheet    *sheet
	Releases []store.Release
	Changed  bool // the draft differs from the newest release
	Wrong    string
	Share    sharePart
}

func (s *releaseRoom) releasePage(c *gin.Context) { s.showRelease(c, http.StatusOK, "") }

func (s *releaseRoom) showRelease(c *gin.Context, status int, wrong string) {
	z, ok := s.quiz(c)
	if !ok {
		return
	}
	sh, err := s.sheets.read(c, z)
	if err != nil {
		s.fail(c, err)
		return
	}
	releases, err := s.store.Definitions.Releases(c.Request.Context(), z.ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	home := ui.Origin(c.Request, s.Public)
	var public *quiz.Quiz
	if len(releases) > 0 {
		if public, err = releases[0].Read(); err != nil {
			s.fail(c, err)
			return
		}
	}
	page := releasePage{frame: s.frame(c, z.Title, "release", z), Path: "/q/" + z.Slug, Address: home + "/q/" + z.Slug,
		Errors: sh.Errors(), Sheet: sh, Releases: releases, Wrong: wrong}
	page.Share = shareOf(c, home, s.StandIns, z.Slug, z.Title, public)
	page.Changed = z.Released == 0 || z.Changes() > 0
	s.show(c, status, "release", page)
}

// release publishes the draft as it was when the page was shown.
func (s *releaseRoom) release(c *gin.Context) {
	z, ok := s.quiz(c)
	if !ok {
		return
	}
	at, err := strconv.Atoi(c.PostForm("revision"))
	if err != nil {
		at = -1
	}
	r, err := s.store.Definitions.Release(c.Request.Context(), z.ID, at, s.user(c))
	switch {
	case err == nil:
		s.say(c, "Release "+strconv.Itoa(r.Number)+" is public now.", "")
		c.Redirect(http.StatusSeeOther, address(z)+"/release")
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
		s.fail(c, err)
	}
}
