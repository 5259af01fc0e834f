package sheet

import (
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// A reusable question is one of another quiz.
type reusable struct {
	Quiz    uint
	Title   string
	Key     string
	Label   string
	Answers string
}

// mostReusable is how many questions are listed at a time.
const mostReusable = 40

// questions lists the questions of the other quizzes whose words hold all that is
// looked for, as a piece of a page.
func (s *Room) questions(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	list, err := s.Store.Definitions.Drafts(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	words := strings.Fields(strings.ToLower(c.Query("q")))
	var found []reusable
	for _, other := range list {
		q, err := other.Document()
		if other.ID == z.ID || err != nil {
			continue
		}
		for _, k := range q.QuestionKeys() {
			r := reusable{Quiz: other.ID, Title: other.Title, Key: k, Label: q.Questions[k].Label}
			var answers []string
			for _, a := range quiz.InOrder(q.Questions[k].Answers) {
				answers = append(answers, q.Questions[k].Answers[a].Label)
			}
			r.Answers = strings.Join(answers, " · ")
			text := strings.ToLower(r.Label + " " + r.Answers + " " + r.Title)
			holds := true
			for _, w := range words {
				holds = holds && strings.Contains(text, w)
			}
			if holds && len(found) < mostReusable {
				found = append(found, r)
			}
		}
	}
	html, err := s.Views.Part("sheet", "reusables", found)
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Data(http.StatusOK, "text/html; charset=utf-8", html)
}

// reuse adds a question of another quiz at the end.
func (s *Room) reuse(c *gin.Context) {
	z, base, _, ok := s.changing(c)
	if !ok {
		return
	}
	if z.Revision != base {
		s.refuse(c, z.ID, store.ErrStale)
		return
	}
	other, ok := desk.Number(c, "other")
	if !ok {
		c.JSON(http.StatusConflict, update{Message: "The other quiz has been deleted in the meantime."})
		return
	}
	from, err := s.Store.Definitions.Quiz(c.Request.Context(), uint(other))
	if err != nil {
		c.JSON(http.StatusConflict, update{Message: "The other quiz has been deleted in the meantime."})
		return
	}
	q, err := from.Document()
	if err != nil {
		s.refuse(c, z.ID, err)
		return
	}
	patch, made, err := edit.Reuse([]byte(z.Draft), q, c.Param("key"))
	if err != nil {
		s.refuse(c, z.ID, err)
		return
	}
	s.make(c, z, base, patch, made)
}
