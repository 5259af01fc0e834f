package player

import (
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/core/gate"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// finish ends the passage in one commit, and lands it.
func (p *player) finish(c *gin.Context, j *journey, at int, notKept func(error)) {
	if j.rehearsal != nil {
		p.rehearsed(c, j, at, notKept)
		return
	}
	if !p.limits.mayFinish(c) {
		notKept(errMany)
		return
	}
	w := passage.NewWalker(j.program)
	result := w.Walk(j.input())
	if result.End == program.Parted {
		if err := p.screenOut(c, j, w, result); err != nil {
			notKept(err)
		}
		return
	}
	result = j.settleClicks(w, !j.asksAfter())
	response := store.Record(j.program, j.input(), result)
	response.Address = j.redirect(result)
	response.Contacts, response.Consents = append(response.Contacts, j.contacts()...), j.consents()
	taker := p.taker(c, j, response.Contacts)
	if j.anonymous() {
		response.Contacts, response.Consents = nil, nil
		for key := range j.typed { // nor with the passage
			if asked := j.program.Quiz.Ask(key); asked != nil && asked.Kind.Personal() {
				delete(j.typed, key)
			}
		}
		j.reckoned = reckoned{}
		w.Walk(j.input())
	}
	response.FollowUps = store.FollowUps(j.program, w)
	if taken := p.book(j); taken >= 0 {
		p.show(
			c,
			http.StatusConflict,
			"question",
			j.page(j.together(taken),
				map[int]string{taken: j.tongue().say("This time has just been taken. Choose another one.")}),
		)
		return
	}
	bounds := store.Bounds{Most: j.gate.Most, Repeats: j.program.Quiz.Repeating(), Taker: taker}
	kept, err := p.store.Responses.FinishWithin(c.Request.Context(), j.passage, j.typed, response, bounds)
	if errors.Is(err, store.ErrFull) || errors.Is(err, store.ErrRepeated) {
		p.unbook(j)
	}
	if errors.Is(err, store.ErrFull) {
		p.showShut(c, j.released, gate.Full, j.gate, true)
		return
	}
	if errors.Is(err, store.ErrRepeated) {
		p.repeated(c, j, taker)
		return
	}
	if err != nil {
		notKept(err)
		return
	}
	p.personal.Remove(j.passage.ID)
	p.forgetPassage(c, j.passage.Slug)
	if page := j.together(at); j.hasReview(page) && !j.asksContact() {
		p.lead(c, j.reviewAddress(page[0]))
		return
	}
	p.land(c, j, kept)
}

// screened is what is kept of somebody who is screened out: where they ended.
func screened(p *program.Program, r *passage.Result) odds.Screened {
	at := odds.Screened{Outcome: passage.OutcomeKey(p, r), Landing: passage.LandingKey(p, r)}
	if n := len(r.Seen); n > 0 {
		at.Place = p.Key(r.Seen[n-1])
	}
	return at
}

// land sends a finished passage to its landing: to an address at once by a 302,
// to a page of ours by a 303.
func (p *player) land(c *gin.Context, j *journey, kept *store.Response) {
	if j.leaves(kept) {
		p.lead(c, kept.Address)
		return
	}
	p.lead(c, j.end())
}

// result shows the landing of a finished passage again. ?stay=here stays where a
// redirect would go on after some seconds.
func (p *player) result(c *gin.Context, j *journey) {
	if j.rehearsal != nil {
		p.rehearsedResult(c, j)
		return
	}
	kept, err := p.store.Responses.ByPassage(c.Request.Context(), j.passage.ID)
	if err != nil {
		p.fail(c, err)
		return
	}
	if j.leaves(kept) {
		p.lead(c, kept.Address)
		return
	}
	w := passage.NewWalker(j.program)
	w.Walk(j.input())
	page := p.resultPage(j, w, false)
	page.Redirect, page.Stays = kept.Address, asks(c, "stay") != ""
	if j.wantsContact(quiz.AfterResult) {
		form := j.contactPage(nil, nil, "")
		page.Contact = &form
	}
	page.Thanks = asks(c, "thanks") != ""
	if _, err := c.Cookie(beforeCookie); err == nil {
		page.Before = true
		p.setCookie(c, beforeCookie, "", passagePrefix+j.passage.ID, -1)
	}
	p.show(c, http.StatusOK, "result", page)
}

// landAgain lands a passage that is finished.
func (p *player) landAgain(c *gin.Context, j *journey) {
	kept, err := p.store.Responses.ByPassage(c.Request.Context(), j.passage.ID)
	if err != nil {
		p.fail(c, err)
		return
	}
	p.land(c, j, kept)
}
