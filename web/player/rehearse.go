package player

import (
	"errors"
	"net/http"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/ui"
)

// A rehearsal is walked on the pages of respondents, from the draft as it is at that moment.
// Its pages are reached by the number of its walk alone. Nothing of it is kept as a response,
// counted, booked or sent: where a respondent would leave for another site, a page says where.

// RehearsalPrefix is how the addresses of rehearsals begin.
const RehearsalPrefix = "/rehearsals/"

// Places of a rehearsal beside its questions; no question's key is like them.
const (
	openingPlace = "the-opening"
	awayPlace    = "away"
	looksPlace   = "looks.css"
	remarkPlace  = "a-remark"
)

// slowLine is how much longer a page takes to come over a slow line.
const slowLine = 1500 * time.Millisecond

// rehearsals are the routes of rehearsals.
func (p *player) rehearsals() []ui.Route {
	return []ui.Route{
		ui.Get(RehearsalPrefix+":walk", p.walking(p.resumeWalk)),
		ui.Get(RehearsalPrefix+":walk/:question", p.walking(p.walk)),
		ui.Post(RehearsalPrefix+":walk/:question", ui.Answers, p.walking(p.answerWalk)),
	}
}

// walking hands the journey of a walk to what shows a page of it.
func (p *player) walking(next func(*gin.Context, *journey)) gin.HandlerFunc {
	return func(c *gin.Context) {
		framedHere(c)
		j, err := p.walkOf(c.Request.Context(), c.Param("walk"))
		var unfinished *unfinishedError
		switch {
		case errors.As(err, &unfinished):
			p.show(c, http.StatusConflict, "problem", newProblem(nil, "The draft can’t be walked yet",
				unfinished.said+" Finish it on the sheet: this page follows."))
			return
		case errors.Is(err, errClosed), errors.Is(err, store.ErrNotFound):
			p.show(c, http.StatusGone, "problem", newProblem(nil, "This rehearsal is over",
				"Its link has ended or was withdrawn, or nobody went on with it for a week. Ask for another one."))
			return
		case err != nil:
			p.fail(c, err)
			return
		}
		if j.rehearsal.Slow {
			select {
			case <-time.After(slowLine):
			case <-c.Request.Context().Done():
			}
		}
		next(c, j)
	}
}

// framedHere lets the studio show a page in a frame.
func framedHere(c *gin.Context) { ui.ShowIn(c, "'self'") }

func (p *player) resumeWalk(c *gin.Context, j *journey) {
	switch {
	case j.rehearsal.Begun:
		p.lead(c, j.here())
	case j.program.Quiz.Opening != nil:
		p.lead(c, j.place(openingPlace))
	default:
		p.lead(c, j.address(j.path()[0]))
	}
}

// walk shows a page of a rehearsal.
func (p *player) walk(c *gin.Context, j *journey) {
	switch key := c.Param("question"); key {
	case looksPlace:
		c.Header("Cache-Control", "no-store")
		p.sendSheet(c, j.released)
	case openingPlace:
		if j.program.Quiz.Opening == nil {
			p.lead(c, j.here())
			return
		}
		if named := c.Query(languageParameter); slices.Contains(j.languages(), named) && named != j.visitor.Language {
			j.visitor.Language = named
			j.rehearsal.Be(*j.visitor)
			if err := p.store.Definitions.KeepWalk(j.ctx, j.rehearsal); err != nil {
				p.fail(c, err)
				return
			}
			j.released = j.in(named).dressedAt(j.looks)
		}
		page := p.openingPage(c.Request.Context(), j.released, "")
		page.Number = ""
		languages := page.Languages
		page.frame = j.frame(page.Title, "/opening")
		page.Languages = languages
		p.show(c, http.StatusOK, "opening", page)
	case awayPlace:
		p.show(c, http.StatusOK, "away", awayPage{j.frame("They leave from here", ""), c.Query("to"), j.here()})
	default:
		p.page(c, j, key)
	}
}

// An awayPage says where a respondent would leave for.
type awayPage struct {
	frame
	To, Back string
}

// outward is the address behind a link to another site: in a rehearsal that of a page that
// says where it would lead.
func (j *journey) outward(address string) string {
	if j.rehearsal == nil || address == "" {
		return address
	}
	return j.place(awayPlace, "to", address)
}

// answerWalk takes what was typed on a page of a rehearsal.
func (p *player) answerWalk(c *gin.Context, j *journey) {
	key := c.Param("question")
	switch {
	case key == openingPlace:
		if err := p.keepWalk(j, false); err != nil {
			p.fail(c, err)
			return
		}
		p.lead(c, j.address(j.path()[0]))
	case key == remarkPlace:
		p.remark(c, j)
	case j.passage.Finished && key != contactPage && slices.Contains(j.path(), j.program.Position(key)):
		j.passage.Finished = false // somebody has gone back to answer otherwise
		p.take(c, j, key)
	default:
		p.take(c, j, key)
	}
}

// keepWalk keeps what was typed in a rehearsal.
func (p *player) keepWalk(j *journey, finished bool) error {
	j.rehearsal.Type(j.typed)
	j.rehearsal.Begun, j.rehearsal.Finished = true, finished
	return p.store.Definitions.KeepWalk(j.ctx, j.rehearsal)
}

// rehearsed ends a rehearsal: nothing is kept but that it has come to its end.
func (p *player) rehearsed(c *gin.Context, j *journey, at int, notKept func(error)) {
	if err := p.keepWalk(j, true); err != nil {
		notKept(err)
		return
	}
	j.passage.Finished = true
	if page := j.together(at); j.hasReview(page) {
		p.lead(c, j.reviewAddress(page[0]))
		return
	}
	p.lead(c, j.end())
}

// rehearsedResult shows where a rehearsal lands.
func (p *player) rehearsedResult(c *gin.Context, j *journey) {
	w := passage.NewWalker(j.program)
	r := w.Walk(j.input())
	address := j.redirect(r)
	landing := passage.LandingOf(j.program, r)
	if address != "" && r.End != program.Parted && landing.After == 0 {
		about := quiz.At("outcomes", passage.OutcomeKey(j.program, r))
		p.show(c, http.StatusOK, "away", awayPage{j.frame("They leave from here", about), address, ""})
		return
	}
	page := p.resultPage(j, w, r.End == program.Parted)
	page.Redirect, page.Stays = j.outward(address), true
	if j.wantsContact(quiz.AfterResult) {
		form := j.contactPage(nil, nil, "")
		page.Contact = &form
	}
	page.Thanks = asks(c, "thanks") != ""
	p.show(c, http.StatusOK, "result", page)
}
