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
	"omphalos/store"
)

type quizzesPage struct {
	frame
	Quizzes []quizRow
	Wrong   string
	Typed   string
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

func (s *studio) quizzes(c *gin.Context) { s.listQuizzes(c, http.StatusOK, "", "") }

func (s *studio) listQuizzes(c *gin.Context, status int, typed, wrong string) {
	list, err := s.store.Quizzes()
	if err != nil {
		s.fail(c, err)
		return
	}
	page := quizzesPage{frame: s.frame(c, "Quizzes", "", nil), Wrong: wrong, Typed: typed}
	for _, z := range list {
		row := quizRow{Listed: z}
		if q, err := z.Document(); err == nil {
			row.Shares = shares(q, z.Outcomes)
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
		add(share{Outcome: k, Name: o.Name, Letter: q.Letter(k), Class: hue(i), Standing: string(o.Standing), Count: by[k]})
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

func (s *studio) addQuiz(c *gin.Context) {
	words, wrong := title(c)
	if wrong != "" {
		s.listQuizzes(c, http.StatusUnprocessableEntity, words, wrong)
		return
	}
	z, err := s.store.AddQuiz(blank(words))
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, address(z))
}

func address(z *store.Quiz) string { return "/studio/quizzes/" + itoa(z.ID) }

// blank is a new quiz: one question to begin with, one scale, two outcomes.
func blank(title string) *quiz.Quiz {
	page := func() map[string]*quiz.Landing {
		return map[string]*quiz.Landing{"page": {Order: 1, Kind: quiz.PageLanding}}
	}
	return &quiz.Quiz{
		Format:   quiz.Format,
		Title:    title,
		Opening:  &quiz.Opening{Heading: title},
		Sections: map[string]*quiz.Section{"main": {Order: 1}},
		Questions: map[string]*quiz.Question{"question_1": {Order: 1, Section: "main", Kind: quiz.Single, Required: true,
			Answers: map[string]*quiz.Answer{"answer_1": {Order: 1}, "answer_2": {Order: 2}}}},
		Scales: map[string]*quiz.Scale{"points": {Order: 1, Name: "Points", Kind: quiz.Points}},
		Decision: quiz.Decision{Otherwise: "not_now", Steps: map[string]*quiz.Step{"bands": {Order: 1, Kind: quiz.BandsStep, Scale: "points",
			Lowest: "not_now", Cuts: map[string]*quiz.Cut{"cut_1": {At: 1_000_000, Outcome: "good_fit"}}}}},
		Outcomes: map[string]*quiz.Outcome{
			"good_fit": {Order: 1, Name: "Good fit", Standing: quiz.Fit, Landings: page()},
			"not_now":  {Order: 2, Name: "Not now", Standing: quiz.NotAFit, Landings: page()},
		},
	}
}

func (s *studio) renameQuiz(c *gin.Context) {
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
	if _, _, err := s.store.Edit(z.ID, z.Revision, patch, s.user(c)); err != nil && !errors.Is(err, store.ErrStale) {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/studio")
}

func (s *studio) copyQuiz(c *gin.Context) {
	z, ok := s.quiz(c)
	if !ok {
		return
	}
	if _, err := s.store.CopyQuiz(z.ID); err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/studio")
}

func (s *studio) deleteQuiz(c *gin.Context) {
	z, ok := s.quiz(c)
	if !ok {
		return
	}
	if err := s.store.DeleteQuiz(z.ID); err != nil {
		s.fail(c, err)
		return
	}
	s.say(c, "“"+cmp.Or(z.Title, "The quiz")+"” is deleted, and its public address closed.", address(z)+"/restore")
	c.Redirect(http.StatusSeeOther, "/studio")
}

func (s *studio) restoreQuiz(c *gin.Context) {
	id, ok := number(c, "quiz")
	if !ok {
		s.fail(c, store.ErrNotFound)
		return
	}
	if err := s.store.RestoreQuiz(uint(id)); err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/studio")
}
