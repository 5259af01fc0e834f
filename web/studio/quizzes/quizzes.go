// Package quizzes is the list of all quizzes, and the layouts to begin with.
package quizzes

import (
	"cmp"
	"embed"
	"encoding/json"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/core/starter"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A Room is the list of all quizzes, and the layouts to begin with.
type Room struct {
	*desk.Desk
}

// New returns the room at a desk.
func New(d *desk.Desk) *Room { return &Room{d.With(templates)} }

// Routes are the room's, each with what it takes.
func (s *Room) Routes() []ui.Route {
	return []ui.Route{
		ui.Get("", s.quizzes),
		ui.Get("/quizzes", func(c *gin.Context) { c.Redirect(http.StatusSeeOther, "/studio") }), // as one may type it
		ui.Post("/quizzes", ui.Form, s.addQuiz),
		ui.Get("/new/:starter", s.starterPage),
		ui.Get("/guide", s.guide),
		ui.Get("/settings", s.settings),
		ui.Post("/settings", ui.Form, s.setZone),
		ui.Post("/quizzes/:quiz/title", ui.Form, s.renameQuiz),
		ui.Post("/quizzes/:quiz/copy", ui.Form, s.copyQuiz),
		ui.Get("/quizzes/:quiz/along.zip", s.takeAlong),
		ui.Get("/quizzes/:quiz/qti.zip", s.takeElsewhere),
		ui.Post("/quizzes/:quiz/delete", ui.Form, s.deleteQuiz),
		ui.Post("/quizzes/:quiz/restore", ui.Form, s.restoreQuiz),
	}
}

type quizzesPage struct {
	desk.Frame
	Quizzes  []quizRow
	Wrong    string
	Typed    string
	Starters []starter.Starter
	Zone     zoneForm // of no zones where one is set
}

type quizRow struct {
	store.Listed
	Shares []desk.Share
}

func (s *Room) quizzes(c *gin.Context) { s.listQuizzes(c, http.StatusOK, "", "") }

func (s *Room) listQuizzes(c *gin.Context, status int, typed, wrong string) {
	list, err := s.Store.Definitions.Quizzes(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	zoned, err := s.Store.Definitions.HasZone(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	page := quizzesPage{Frame: s.Frame(c, "Quizzes", "", nil), Wrong: wrong, Typed: typed, Starters: starter.List[1:]}
	if !zoned {
		page.Zone = zoneForm{First: true, Zones: desk.Zones}
	}
	for _, z := range list {
		row := quizRow{Listed: z}
		if q, err := z.Outline(); err == nil {
			row.Shares = desk.Shares(q, z.Ended)
		}
		page.Quizzes = append(page.Quizzes, row)
	}
	s.Show(c, status, "quizzes", page)
}

// addQuiz makes a quiz from a starter; without one, a blank one.
func (s *Room) addQuiz(c *gin.Context) {
	words, wrong := desk.Title(c)
	from := cmp.Or(c.PostForm("from"), "blank")
	again := func(wrong string) {
		if _, chosen := c.GetPostForm("from"); chosen {
			s.showStarter(c, http.StatusUnprocessableEntity, from, words, c.PostForm("lines"), wrong)
		} else {
			s.listQuizzes(c, http.StatusUnprocessableEntity, words, wrong)
		}
	}
	if wrong != "" {
		again(wrong)
		return
	}
	q, err := starter.Make(from, words, strings.ReplaceAll(c.PostForm("lines"), "\r", ""))
	if err != nil {
		again(desk.SentenceOf(err.Error()))
		return
	}
	if zone := s.Store.Responses.Zone(); zone != time.UTC {
		q.Settings = cmp.Or(q.Settings, &quiz.Settings{})
		q.Settings.TimeZone = zone.String()
	}
	z, err := s.Store.Definitions.AddQuiz(c.Request.Context(), q)
	if err == nil && c.PostForm("lead") != "" {
		err = s.Store.Definitions.Lead(c.Request.Context(), z.ID, true)
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, desk.Address(z))
}

type starterPage struct {
	desk.Frame
	Starter             starter.Starter
	Others              []starter.Starter
	Title, Lines, Wrong string
}

// starterPage asks for what a starter needs.
func (s *Room) starterPage(c *gin.Context) {
	s.showStarter(c, http.StatusOK, c.Param("starter"), "", "", "")
}

func (s *Room) showStarter(c *gin.Context, status int, key, title, lines, wrong string) {
	page := starterPage{Frame: s.Frame(c, "A new quiz", "", nil), Title: title, Lines: lines, Wrong: wrong}
	for _, known := range starter.List {
		if known.Key == key {
			page.Starter = known
		} else {
			page.Others = append(page.Others, known)
		}
	}
	if page.Starter.Key == "" {
		s.Fail(c, store.ErrNotFound)
		return
	}
	s.Show(c, status, "starter", page)
}

func (s *Room) renameQuiz(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	words, wrong := desk.Title(c)
	if wrong != "" {
		s.listQuizzes(c, http.StatusUnprocessableEntity, words, wrong)
		return
	}
	patch, _ := json.Marshal([]edit.Op{{Op: "add", Path: "/title", Value: words}})
	if _, _, err := s.Store.Definitions.Edit(c.Request.Context(), z.ID, z.Revision, patch, s.User(c)); err != nil &&
		!errors.Is(err, store.ErrStale) {
		s.Fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/studio")
}

func (s *Room) copyQuiz(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	if _, err := s.Store.Definitions.CopyQuiz(c.Request.Context(), z.ID); err != nil {
		s.Fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/studio")
}

func (s *Room) deleteQuiz(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	if err := s.Store.Definitions.DeleteQuiz(c.Request.Context(), z.ID); err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, "“"+cmp.Or(z.Title, "The quiz")+"” is deleted, and its public address closed.",
		desk.Address(z)+"/restore")
	c.Redirect(http.StatusSeeOther, "/studio")
}

func (s *Room) restoreQuiz(c *gin.Context) {
	id, ok := desk.Number(c, "quiz")
	if !ok {
		s.Fail(c, store.ErrNotFound)
		return
	}
	if err := s.Store.Definitions.RestoreQuiz(c.Request.Context(), uint(id)); err != nil {
		s.Fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/studio")
}
