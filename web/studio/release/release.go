// Package release is the room in which a quiz is published and shared.
package release

import (
	"embed"
	"errors"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/excerpt"
	"omphalos/core/quiz"
	"omphalos/interchange/qti"
	"omphalos/store"
	"omphalos/web/player"
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
		ui.Post("/quizzes/:quiz/release/back", ui.Form, s.takeBack),
		ui.Post("/quizzes/:quiz/release/again/:number", ui.Form, s.again),
		ui.Get("/quizzes/:quiz/release/compare", s.compare),
		ui.Get("/quizzes/:quiz/release/paper", s.paper),
		ui.Post("/quizzes/:quiz/release/try", ui.Form, s.try),
		ui.Post("/quizzes/:quiz/release/people", ui.Form, s.invite),
		ui.Get("/quizzes/:quiz/release/people.csv", s.peopleFile),
		ui.Post("/quizzes/:quiz/release/open", ui.Form, s.setGate),
		ui.Post("/quizzes/:quiz/release/address", ui.Form, s.move),
		ui.Post("/quizzes/:quiz/release/links", ui.Form, s.addLink),
		ui.Get("/quizzes/:quiz/release/code/:kind", s.code),
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

	Changes  []changed
	Warnings []warning
	Note     string
	Expected *split
	Walked   *split
	Open     openPart
	Moved    []store.Address
	Links    []linkRow
	Names    map[uint]string // of those who made releases
	Trial    *experiment
	People   people
	Code     codeLook
	Shared   desk.SharedCard
	Unsaid   []string // what QTI 3.0 has no words for
}

// How long it is worked on what those before and after would get, and from how many responses.
const (
	oddsTime   = time.Second
	oddsSteps  = 1 << 18
	oddsSample = 1 << 14
	mostWalked = 2048
)

func (s *Room) releasePage(c *gin.Context) { s.showRelease(c, http.StatusOK, "") }

func (s *Room) showRelease(c *gin.Context, status int, wrong string) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	sh, err := s.sheets.ForEverybody(c, z)
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
	if err := s.fill(c, z, sh, public, &page); err != nil {
		s.Fail(c, err)
		return
	}
	page.Share = shareOf(c, home, s.StandIns, z.Slug, z.Title, public)
	if page.Remarks, err = s.Store.Definitions.OpenRemarks(c.Request.Context(), z.ID); err != nil {
		s.Fail(c, err)
		return
	}
	page.Kept, page.Broken = len(sh.Doc.Rehearsals), len(sh.Broken())
	page.Unsaid = qti.Lost(sh.Doc)
	page.Changed = z.Released == 0 || z.Changes() > 0
	if page.Share.Try != "" {
		ui.MayShow(c, s.StandIns) // the page that stands in for somebody's
	}
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
	sh, err := s.sheets.ForEverybody(c, z)
	if err != nil {
		s.Fail(c, err)
		return
	}
	ticked := c.PostFormArray("tick")
	for _, w := range warnings(sh, nil, ticked) {
		if !w.Ticked && at == z.Revision && len(sh.Errors()) == 0 {
			s.showRelease(c, http.StatusUnprocessableEntity, "Tick off what you have seen, or mend it: "+w.Sentence)
			return
		}
	}
	in := store.In{Note: strings.TrimSpace(excerpt.Bounded(c.PostForm("note"), longestNote)), Ticked: ticked}
	r, err := s.Store.Definitions.ReleaseIn(c.Request.Context(), z.ID, at, s.User(c), in)
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

// longestNote is how long the line on what a release is for may be.
const longestNote = 300

// fill works out what a release would change, for whom, and who may come.
func (s *Room) fill(c *gin.Context, z *store.Quiz, sh *sheet.Sheet, public *quiz.Quiz, page *releasePage) (err error) {
	ctx := c.Request.Context()
	if page.Changes, err = changes(sh, public); err != nil {
		return err
	}
	page.Warnings = warnings(sh, page.Releases, c.PostFormArray("tick"))
	page.Note = c.PostForm("note")
	draft, now := sh.Odds()
	if len(page.Changes) > 0 {
		if page.Expected, err = expected(ctx, public, draft, now); err != nil {
			return err
		}
		if page.Walked, err = s.walked(ctx, z.ID, public, draft); err != nil {
			return err
		}
	}
	page.Open = openOf(z, sh.Doc, sh.Answered)
	if page.Moved, err = s.Store.Definitions.Addresses(ctx, z.ID); err != nil {
		return err
	}
	if page.Links, err = s.linksOf(c, z); err != nil {
		return err
	}
	page.Code = lookOf(c)
	if page.Shared = desk.SharedOf(z, sh.Doc, player.ShownQuiz); draft == nil {
		page.Shared.Pictured = ""
	}
	if page.People, err = s.peopleOf(c, z); err != nil {
		return err
	}
	if page.Trial, err = s.experimentOf(c, z, page.Releases); err != nil {
		return err
	}
	page.Names, err = s.Store.People.Names(ctx)
	return err
}
