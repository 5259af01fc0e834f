package sheet

import (
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/finding"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

// A leadPart leads somebody through their first quiz, on the sheet itself. Its steps are done
// when the quiz says so, in whatever order.
type leadPart struct {
	Steps []leadStep
	Now   leadStep // the first that is not done
	Over  bool     // all are
	Leave string   // address that ends it
}

type leadStep struct {
	Number int
	Name   string
	Says   string // what to do, in a sentence or two
	At     string // where
	Go     string // words on the link there
	Done   bool
	Next   bool // it is the one to do now
}

// lead returns the steps; nil where nobody is led.
func (sh *Sheet) lead() *leadPart {
	if !sh.Quiz.Led || sh.version != "" {
		return nil
	}
	here := desk.Address(sh.Quiz)
	first := "#add-question"
	if keys := sh.Doc.QuestionKeys(); len(keys) > 0 {
		first = "#part-q-" + keys[0]
	}
	p := &leadPart{Leave: here + "/lead", Over: true, Steps: []leadStep{
		{Name: "Write", Says: "Write a question, and below it the answers that people can choose. Enter " +
			"goes on to the next line. Two questions are enough to begin with.",
			At: first, Go: "To the first question", Done: sh.written()},
		{Name: "Weigh", Says: "Choose how answers decide, then give the answers their weights in the " +
			"column at the right: a number for how much each adds.",
			At: "#part-opening", Go: "To how answers decide", Done: sh.weighed()},
		{Name: "Decide", Says: "Say which sum, or which column, leads to which outcome. The bars show " +
			"how many of a hundred would get each.",
			At: "#part-decision", Go: "To the decision", Done: sh.decided()},
		{Name: "Land", Says: "Write what people read with each outcome, and what they can do next: a " +
			"button, products, or a page of yours.",
			At: "#part-eyes", Go: "To the outcomes", Done: sh.landed()},
		{Name: "Rehearse", Says: "Walk the quiz as a respondent would, to the end. Nothing of it is kept.",
			At: here + "/rehearse", Go: "Walk it", Done: sh.walked},
		{Name: "Release", Says: "Make it public: what you release is what people see, while you can go on editing.",
			At: here + "/release", Go: "To the release", Done: sh.Quiz.Released > 0},
	}}
	for i := range p.Steps {
		s := &p.Steps[i]
		s.Number = i + 1
		if !s.Done && p.Over {
			s.Next, p.Now, p.Over = true, *s, false
		}
	}
	return p
}

// written tells whether two questions have words, and answers that have.
func (sh *Sheet) written() bool {
	n := 0
	for _, q := range sh.Doc.Questions {
		whole := strings.TrimSpace(q.Label) != ""
		for _, a := range q.Answers {
			whole = whole && strings.TrimSpace(a.Label) != ""
		}
		if whole {
			n++
		}
	}
	return n > 1
}

// weighed tells whether some answer adds something.
func (sh *Sheet) weighed() bool {
	for _, q := range sh.Doc.Questions {
		if len(q.Weigh) > 0 {
			return true
		}
		for _, a := range q.Answers {
			if len(a.Adds) > 0 {
				return true
			}
		}
	}
	return false
}

// decided tells whether there are steps, nothing is found at them, and two outcomes can be had.
func (sh *Sheet) decided() bool {
	for _, f := range sh.Findings {
		if f.Pointer.Within("/decision") && f.Level != finding.Hint {
			return false
		}
	}
	return len(sh.Doc.Decision.Steps) > 0 && sh.possible != nil && len(sh.possible.Outcomes) > 1
}

// landed tells whether every outcome has words.
func (sh *Sheet) landed() bool {
	for _, o := range sh.Doc.Outcomes {
		if strings.TrimSpace(o.Headline+o.Text) == "" && !redirects(o) {
			return false
		}
	}
	return len(sh.Doc.Outcomes) > 0
}

func redirects(o *quiz.Outcome) bool {
	for _, l := range o.Landings {
		if l == nil || l.Kind == quiz.PageLanding {
			return false
		}
	}
	return len(o.Landings) > 0
}

// leave ends that somebody is led through a quiz, or begins it where they wish.
func (s *Room) leave(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	if err := s.Store.Definitions.Lead(c.Request.Context(), z.ID, c.PostForm("do") == "lead"); err != nil {
		s.Fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, desk.Address(z))
}
