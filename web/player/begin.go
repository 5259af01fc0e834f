package player

import (
	"bytes"
	"errors"
	"html/template"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/ui"
)

// opening shows the opening, or the first question of a quiz without one and where the
// link leads past it (?start=now). Its form goes to the page's own address, parameters
// included, so that the opening of a release is the same for everybody and rendered once.
// Who has begun on this device before may go on.
func (p *player) opening(c *gin.Context) {
	release, r, ok := p.public(c)
	if !ok {
		return
	}
	before := p.begun(c)
	var who guest
	if before == nil {
		if who, ok = p.admitted(c, r, release); !ok {
			return
		}
	}
	if before == nil && (p.takenBefore(c, r, release, who) || p.shut(c, r, release, false)) {
		return
	}
	if before == nil {
		p.see(c, release, r)
	}
	if s := r.program.Quiz.Settings; s != nil && s.Unlisted || release.Gate.Members || release.Gate.Invited {
		c.Header("X-Robots-Tag", "noindex")
	}
	if r.program.Quiz.Opening != nil && c.Query("start") == "" {
		if before != nil {
			page := p.openingPage(c.Request.Context(), r, c.Param("slug"))
			page.Resume, page.Number, page.Token = before.here(), numberOf(c), tokenOf(p.deviceFor(numberOf(c)))
			page.Shared = sharedOf(r, c.Param("slug"), ui.Origin(c.Request, p.Public))
			page.Languages = nil // it is gone on with in its own
			p.show(c, http.StatusOK, "opening", page)
			return
		}
		html, err := p.openingOf(c.Request.Context(), r, c.Param("slug"))
		if err != nil {
			p.fail(c, err)
			return
		}
		if r.languages() != nil {
			html = withQuery(html, c.Request.URL.Query())
		}
		number := numberOf(c)
		for here, what := range map[string]string{home: p.homeOf(c), numberHere: number,
			tokenHere: tokenOf(p.deviceFor(number))} {
			html = bytes.ReplaceAll(html, []byte(here), []byte(what))
		}
		p.send(c, http.StatusOK, html)
		return
	}
	if before != nil && c.Query("start") != "anew" {
		p.offerToGoOn(c, r, before)
		return
	}
	visitor := p.visitorOf(c, r.program)
	r.tell(c, visitor)
	who.tell(visitor, anonymous(r.program))
	begun := store.Begin(numberOf(c), release, c.Param("slug"), *visitor)
	begun.Device = p.deviceFor(begun.ID)
	j := p.newJourney(c.Request.Context(), begun, r)
	j.fresh, j.own = true, true
	first := j.path()[0] // filled in or not, it is the first that is shown
	j.fillFrom(c.Request.URL.Query())
	page := j.page(j.together(first), nil)
	page.Shared, page.Listed = sharedOf(r, c.Param("slug"), ui.Origin(c.Request, p.Public)), true
	page.Languages = r.languageWays("/q/"+c.Param("slug"), c.Request.URL.Query()).of(ui.Origin(c.Request, p.Public))
	p.show(c, http.StatusOK, "question", page)
}

// offerToGoOn asks somebody who comes again to a quiz without an opening whether they go on.
func (p *player) offerToGoOn(c *gin.Context, r *released, before *journey) {
	text := "You have begun this quiz on this device."
	page := newProblem(r, r.program.Quiz.Title, text)
	page.Link, page.LinkWords = before.here(), page.Say("Go on where you were")
	anew := c.Request.URL.Query()
	anew.Set("start", "anew")
	page.Other, page.OtherWords = "?"+anew.Encode(), page.Say("Begin anew")
	p.show(c, http.StatusOK, "problem", page)
}

// see counts somebody who has not begun yet. A page that a browser fetches before anybody
// wants it is not seen.
func (p *player) see(c *gin.Context, release *store.Release, r *released) {
	if c.Request.Method == http.MethodGet && !strings.Contains(c.GetHeader("Sec-Purpose"), "prefetch") {
		visitor := p.visitorOf(c, r.program)
		r.tell(c, visitor)
		p.store.Responses.See(release, visitor)
	}
}

// homeOf returns the address under which the application is asked for, escaped for HTML.
func (p *player) homeOf(c *gin.Context) string {
	return template.HTMLEscapeString(ui.Origin(c.Request, p.Public))
}

// start begins a passage. A quiz without an opening sends the first answers along, under
// the number that the page was given, so that a form sent twice begins one passage.
func (p *player) start(c *gin.Context) {
	release, r, ok := p.public(c)
	if !ok {
		return
	}
	if !p.readForm(c, r) {
		return
	}
	number, slug, answers := numberOf(c), c.Param("slug"), c.PostForm("asked") != ""
	known, err := p.store.Responses.Passage(c.Request.Context(), number)
	switch {
	case err == nil && known.QuizID == release.QuizID && (answers || !known.Finished):
		p.again(c, known, answers)
		return
	case answers && p.ended(c, number):
		return
	case err == nil || !errors.Is(err, store.ErrNotFound): // it is of another quiz, or is over
		number = store.PassageNumber()
	}
	who, ok := p.admitted(c, r, release)
	if !ok {
		return
	}
	if p.takenBefore(c, r, release, who) || p.shut(c, r, release, false) {
		return
	}
	if !p.limits.mayStart(c) {
		p.tooMany(c, r)
		return
	}
	p.knowDevice(c, r, release.QuizID)
	visitor := p.visitorOf(c, r.program)
	r.tell(c, visitor)
	who.tell(visitor, anonymous(r.program))
	clicks := setAside(r.program, visitor)
	begun := store.Begin(number, release, slug, *visitor)
	begun.Device = p.deviceFor(number)
	if clicks != nil {
		p.clicks.Add(begun.ID, clicks)
	}
	if err := p.takeUp(c, who, begun.ID); err != nil {
		p.fail(c, err)
		return
	}
	begun.Framed = framed(c)
	j := p.newJourney(c.Request.Context(), begun, r)
	_, j.own = provenBy(c, begun.Device)
	j.begins = j.own
	j.gate = release.Gate
	if answers {
		j.fresh = true
		p.rememberPassage(c, begun)
		p.took(c, j, j.walk().Next)
		return
	}
	first := j.path()[0]
	j.fillFrom(c.Request.URL.Query())
	begun.Place = j.upToNow()
	if err := p.store.Responses.SaveTyped(c.Request.Context(), begun, j.typed); err != nil {
		p.fail(c, err)
		return
	}
	p.rememberPassage(c, begun)
	p.lead(c, j.address(j.together(first)[0]))
}

// again goes on with a passage that has begun already, with its first answers where they come
// once more.
func (p *player) again(c *gin.Context, known *store.Passage, answers bool) {
	r, err := p.released(c.Request.Context(), known.ReleaseID)
	if err != nil {
		p.fail(c, err)
		return
	}
	j := p.newJourney(c.Request.Context(), known, r)
	kept, _ := c.Cookie(begunCookie)
	if _, token := provenBy(c, known.Device); !token && kept != known.ID && j.personal() && !known.Finished {
		p.refuse(c, r, known.Slug)
		return
	} else if token {
		j.own, j.begins = true, true
	}
	if now, err := p.taken(c.Request.Context(), known.Slug); err == nil {
		j.gate = now.Gate
	}
	switch {
	case known.Finished:
		p.landAgain(c, j)
	case answers:
		p.took(c, j, j.path()[0])
	default:
		p.lead(c, j.here())
	}
}
