package player

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// reviewed is the parameter that asks for the right answers of a page instead of its questions.
const reviewed = "right"

// A reviewPage shows what is right of the questions of one page.
type reviewPage struct {
	frame
	Reviews  []reviewView
	Onward   string // address
	Progress progress
}

// A reviewView is a question that has right answers, filled in.
type reviewView struct {
	Tongue  tongue
	Label   string
	Right   bool
	Answers []passage.Reviewed
	Reason  string
}

func reviewViews(list []passage.Review, filler *passage.Filler, j *journey) []reviewView {
	var views []reviewView
	for _, r := range list {
		v := reviewView{j.tongue(), filler.Text(j.program.Question(r.Question).Label), r.Right, r.Answers,
			filler.Text(r.Reason)}
		for i := range v.Answers {
			v.Answers[i].Label = filler.Text(v.Answers[i].Label)
		}
		views = append(views, v)
	}
	return views
}

// reviewsEach tells whether right answers are shown after each page.
func (j *journey) reviewsEach() bool {
	s := j.program.Quiz.Settings
	return s != nil && s.Review == quiz.ReviewEach
}

// hasReview tells whether right answers of a page are to be shown.
func (j *journey) hasReview(page []int) bool {
	for _, at := range page {
		if j.reviewsEach() && j.program.HasRight(at) {
			return true
		}
	}
	return false
}

func (j *journey) reviewAddress(first int) string {
	return j.place(j.program.Key(first), reviewed, "yes")
}

// review shows what is right of the questions of a page, and leads on.
func (p *player) review(c *gin.Context, j *journey, page []int) {
	in := j.input()
	var list []passage.Review
	for _, at := range page {
		if r, has := passage.ReviewOf(j.program, at, in.Answers[at]); has && in.Answers[at].State != program.Absent {
			list = append(list, r)
		}
	}
	if len(list) == 0 {
		p.lead(c, j.here())
		return
	}
	view := reviewPage{
		frame:    j.frame(j.program.Question(page[0]).Label, quiz.At("questions", j.program.Key(page[0]))),
		Reviews:  reviewViews(list, j.filler(), j),
		Onward:   j.here(),
		Progress: j.progress(page[0]),
	}
	if next, more := j.after(page[len(page)-1]); more {
		view.Onward = j.address(j.together(next)[0])
	}
	p.show(c, http.StatusOK, "review", view)
}

// Say says a sentence of ours in the language of the page.
func (r reviewView) Say(english string, parts ...any) string { return r.Tongue.say(english, parts...) }
