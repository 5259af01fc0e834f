package studio

import (
	"cmp"
	"encoding/json"
	"errors"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/core/starter"
	"omphalos/store"
	"omphalos/web/ui"
)

// A quizzesRoom is the list of all quizzes, and the layouts to begin with.
type quizzesRoom struct {
	*Desk
}

func newQuizzesRoom(d *Desk) *quizzesRoom { return &quizzesRoom{d} }

// routes are the room's, each with what it takes.
func (s *quizzesRoom) routes() []ui.Route {
	return []ui.Route{
		ui.Get("", s.quizzes),
		ui.Post("/quizzes", ui.Form, s.addQuiz),
		ui.Get("/new/:starter", s.starterPage),
		ui.Post("/quizzes/:quiz/title", ui.Form, s.renameQuiz),
		ui.Post("/quizzes/:quiz/copy", ui.Form, s.copyQuiz),
		ui.Post("/quizzes/:quiz/delete", ui.Form, s.deleteQuiz),
		ui.Post("/quizzes/:quiz/restore", ui.Form, s.restoreQuiz),
	}
}

type quizzesPage struct {
	frame
	Quizzes  []quizRow
	Wrong    string
	Typed    string
	Starters []starter.Starter
}

type quizRow struct {
	store.Listed
	Shares []share
}

// A share is an outcome's part of the responses.
type share struct {
	Outcome, Name, Letter, Class, Standing string
	Count                                  int
	Part                                   float64
	X, Width                               float64 // in a bar of 100
}

func (s *quizzesRoom) quizzes(c *gin.Context) { s.listQuizzes(c, http.StatusOK, "", "") }

func (s *quizzesRoom) listQuizzes(c *gin.Context, status int, typed, wrong string) {
	list, err := s.store.Definitions.Quizzes(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	page := quizzesPage{frame: s.frame(c, "Quizzes", "", nil), Wrong: wrong, Typed: typed, Starters: starter.List[1:]}
	for _, z := range list {
		row := quizRow{Listed: z}
		if q, err := z.Outline(); err == nil {
			row.Shares = shares(q, z.Counts)
		}
		page.Quizzes = append(page.Quizzes, row)
	}
	s.show(c, status, "quizzes", page)
}

// shares puts the counts in the order of the outcomes; outcomes that the draft
// does not know any more come last under their keys.
func shares(q *quiz.Quiz, counts []store.OutcomeCount) []share {
	total := 0
	by := map[string]int{}
	for _, n := range counts {
		total += n.Count
		by[n.Outcome] = n.Count
	}
	var list []share
	x := 0.0
	add := func(one share) {
		if total > 0 {
			one.Part = float64(one.Count) / float64(total)
		}
		one.X, one.Width = x, 100*one.Part
		x += one.Width
		list = append(list, one)
	}
	for i, k := range quiz.InOrder(q.Outcomes) {
		o := q.Outcomes[k]
		add(
			share{
				Outcome:  k,
				Name:     o.Name,
				Letter:   q.Letter(k),
				Class:    hue(i),
				Standing: string(o.Standing),
				Count:    by[k],
			},
		)
		delete(by, k)
	}
	for _, n := range counts {
		if _, left := by[n.Outcome]; left {
			add(share{Outcome: n.Outcome, Name: n.Outcome, Letter: "?", Class: "to-none", Count: n.Count})
		}
	}
	return list
}

// title reads a quiz's title out of a form and says what is wrong with it.
func title(c *gin.Context) (words, wrong string) {
	words = strings.TrimSpace(c.PostForm("title"))
	switch n := len([]rune(words)); {
	case n == 0:
		return words, "Give the quiz a title first."
	case n > quiz.MaxTitle:
		return words, "This title is too long for a list: shorten it to 200 characters at most."
	}
	return words, ""
}

// addQuiz makes a quiz from a starter; without one, a blank one.
func (s *quizzesRoom) addQuiz(c *gin.Context) {
	words, wrong := title(c)
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
		again(sentenceOf(err.Error()))
		return
	}
	z, err := s.store.Definitions.AddQuiz(c.Request.Context(), q)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, address(z))
}

type starterPage struct {
	frame
	Starter             starter.Starter
	Others              []starter.Starter
	Title, Lines, Wrong string
}

// starterPage asks for what a starter needs.
func (s *quizzesRoom) starterPage(c *gin.Context) {
	s.showStarter(c, http.StatusOK, c.Param("starter"), "", "", "")
}

func (s *quizzesRoom) showStarter(c *gin.Context, status int, key, title, lines, wrong string) {
	page := starterPage{frame: s.frame(c, "A new quiz", "", nil), Title: title, Lines: lines, Wrong: wrong}
	for _, known := range starter.List {
		if known.Key == key {
			page.Starter = known
		} else {
			page.Others = append(page.Others, known)
		}
	}
	if page.Starter.Key == "" {
		s.fail(c, store.ErrNotFound)
		return
	}
	s.show(c, status, "starter", page)
}

func address(z *store.Quiz) string { return "/studio/quizzes/" + itoa(z.ID) }

func (s *quizzesRoom) renameQuiz(c *gin.Context) {
	z, ok := s.quiz(c)
	if !ok {
		return
	}
	words, wrong := title(c)
	if wrong != "" {
		s.listQuizzes(c, http.StatusUnprocessableEntity, words, wrong)
		return
	}
	patch, _ := json.Marshal([]edit.Op{{Op: "add", Path: "/title", Value: words}})
	if _, _, err := s.store.Definitions.Edit(c.Request.Context(), z.ID, z.Revision, patch, s.user(c)); err != nil &&
		!errors.Is(err, store.ErrStale) {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/studio")
}

func (s *quizzesRoom) copyQuiz(c *gin.Context) {
	z, ok := s.quiz(c)
	if !ok {
		return
	}
	if _, err := s.store.Definitions.CopyQuiz(c.Request.Context(), z.ID); err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/studio")
}

func (s *quizzesRoom) deleteQuiz(c *gin.Context) {
	z, ok := s.quiz(c)
	if !ok {
		return
	}
	if err := s.store.Definitions.DeleteQuiz(c.Request.Context(), z.ID); err != nil {
		s.fail(c, err)
		return
	}
	s.say(c, "“"+cmp.Or(z.Title, "The quiz")+"” is deleted, and its public address closed.", address(z)+"/restore")
	c.Redirect(http.StatusSeeOther, "/studio")
}

func (s *quizzesRoom) restoreQuiz(c *gin.Context) {
	id, ok := number(c, "quiz")
	if !ok {
		s.fail(c, store.ErrNotFound)
		return
	}
	if err := s.store.Definitions.RestoreQuiz(c.Request.Context(), uint(id)); err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/studio")
}
