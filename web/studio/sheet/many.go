package sheet

import (
	"io"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/quiz"
)

// A manyPart is what lines would become.
type manyPart struct {
	List []manyQuestion
	Sum  string
}

type manyQuestion struct {
	Label   string
	Answers []manyAnswer
}

type manyAnswer struct{ Label, Adds string }

// many tells what lines would become, as a piece of a page: nothing is changed.
func (s *Room) many(c *gin.Context) {
	if _, ok := s.QuizOf(c); !ok {
		return
	}
	body, err := io.ReadAll(c.Request.Body)
	if err != nil {
		c.String(http.StatusRequestEntityTooLarge, "This is too much at once: at most 2 MB can be read.")
		return
	}
	page := manyPart{}
	answers, weights := 0, 0
	for _, q := range edit.ReadQuestions(string(body)) {
		made := manyQuestion{Label: q.Label}
		for _, a := range q.Answers {
			row := manyAnswer{Label: a.Label}
			var adds []string
			for _, n := range a.Adds {
				if n == nil {
					adds = append(adds, "·")
					continue
				}
				weights++
				adds = append(adds, n.Signed())
			}
			row.Adds = strings.Join(adds, " ")
			answers++
			made.Answers = append(made.Answers, row)
		}
		page.List = append(page.List, made)
	}
	page.Sum = quiz.Count(len(page.List), "question") + ", " + quiz.Count(answers, "answer") + ", " +
		quiz.Count(weights, "weight")
	if len(page.List) > quiz.Most {
		page.Sum += ": more than fit"
	}
	html, err := s.Views.Part("sheet", "many", page)
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Questions", strings.Fields(quiz.Count(len(page.List), "question"))[0])
	c.Data(http.StatusOK, "text/html; charset=utf-8", html)
}
