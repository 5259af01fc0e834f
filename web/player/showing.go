package player

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/ui"
)

// ShowingPrefix is how the addresses begin under which pages of a draft are shown to those
// who design it, each by itself: ShowingPrefix + number of the quiz + "/" + page.
const ShowingPrefix = "/showing/"

// The pages of a showing; that of a question is its key.
const (
	ShownOpening = openingPlace
	ShownResult  = "result." // and the outcome's key
	ShownCard    = "card."   // and the outcome's key, or ShownQuiz: the picture where it is shared
	ShownQuiz    = openingCard
)

// showings are the routes of pages that are looked at, not walked.
func (p *player) showings() []ui.Route {
	return []ui.Route{ui.Get(ShowingPrefix+":quiz/:page", p.showing)}
}

// showing shows one page of a draft to somebody who is signed in.
func (p *player) showing(c *gin.Context) {
	if p.Member == nil || p.Member(c.Request) == nil {
		p.fail(c, store.ErrNotFound)
		return
	}
	framedHere(c)
	ctx, key := c.Request.Context(), c.Param("page")
	id, err := strconv.ParseUint(c.Param("quiz"), 10, 32)
	if err != nil {
		p.fail(c, store.ErrNotFound)
		return
	}
	draft, err := p.draft(ctx, uint(id), nil)
	var unfinished *unfinishedError
	switch {
	case errors.As(err, &unfinished):
		p.show(c, http.StatusConflict, "problem", newProblem(nil, "The draft can’t be shown yet", unfinished.said))
		return
	case err != nil:
		p.fail(c, err)
		return
	}
	if key == looksPlace {
		c.Header("Cache-Control", "no-store")
		p.sendSheet(c, draft)
		return
	}
	looks := fmt.Sprintf("%s%d/%s?v=%s", ShowingPrefix, id, looksPlace, draft.dress.version)
	r := draft.wanted(c).dressedAt(looks)
	r.shown = true
	walk := &store.Walk{QuizID: uint(id)}
	j := &journey{
		ctx: ctx, released: r, typed: map[string]program.Typed{}, visitor: &program.Visitor{}, player: p, rehearsal: walk,
		passage: &store.Passage{ID: "showing", QuizID: uint(id), Started: time.Now()},
	}
	at := j.program.Position(key)
	outcome, result := strings.CutPrefix(key, ShownResult)
	shared, card := strings.CutPrefix(key, ShownCard)
	switch {
	case card && (shared == ShownQuiz || j.program.Quiz.Outcomes[shared] != nil):
		data, err := p.card(ctx, r, cardWords(r, shared), nil)
		if err != nil {
			p.fail(c, err)
			return
		}
		c.Header("Cache-Control", "no-store")
		c.Data(http.StatusOK, "image/png", data)
	case key == ShownOpening && r.program.Quiz.Opening != nil:
		page := p.openingPage(ctx, r, "")
		page.Shared, page.Listed = nil, false
		p.show(c, http.StatusOK, "opening", page)
	case result && j.program.Quiz.Outcomes[outcome] != nil:
		j.getTo(outcome)
		j.passage.Finished = true
		p.show(c, http.StatusOK, "result", p.resultPage(j, passage.NewWalker(j.program), false))
	case at >= 0:
		p.show(c, http.StatusOK, "question", j.page(j.beside(at), nil))
	default:
		p.fail(c, store.ErrNotFound)
	}
}

// beside returns the questions that stand on a page with one, whether it would be come by or
// not.
func (j *journey) beside(at int) []int {
	if slices.Contains(j.path(), at) {
		return j.together(at)
	}
	return []int{at}
}

// mostShowing bounds what is looked for to show a result.
const mostShowing = 200_000

// getTo fills in answers that get to an outcome, where there are some.
func (j *journey) getTo(outcome string) {
	ways, err := odds.Witness(context.WithoutCancel(j.ctx), j.program, j.visitor, mostShowing)
	if err != nil {
		return
	}
	in, err := ways.To(odds.Target{Outcome: outcome})
	if err != nil {
		return
	}
	for i, v := range in.Answers {
		if v.State == program.Given {
			j.typed[j.program.Key(i)] = j.program.Typed(i, v)
		}
	}
	if in.Visitor != nil {
		j.visitor = in.Visitor
	}
}

// A Showing is a page of a quiz that can be shown.
type Showing struct{ Place, Name string }

// Showings lists the pages of a quiz that are worth looking at: its opening, its questions
// and its results.
func Showings(q *quiz.Quiz) []Showing {
	var list []Showing
	if q.Opening != nil {
		list = append(list, Showing{ShownOpening, "Opening"})
	}
	for i, key := range q.QuestionKeys() {
		list = append(list, Showing{key, fmt.Sprintf("%d %s", i+1, q.Questions[key].Label)})
	}
	for _, key := range quiz.InOrder(q.Outcomes) {
		list = append(list, Showing{ShownResult + key, "Result: " + q.Outcomes[key].Name})
	}
	return list
}
