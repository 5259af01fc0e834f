package player

import (
	"bytes"
	"errors"
	"html/template"
	"net/http"

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
			page.Resume = before.here()
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
		c.Data(http.StatusOK, "text/html; charset=utf-8", bytes.ReplaceAll(html, []byte(home), []byte(p.homeOf(c))))
		return
	}
	if before != nil {
		c.Redirect(http.StatusSeeOther, before.here())
		return
	}
	visitor := p.visitorOf(c, r.program)
	r.tell(c, visitor)
	who.tell(visitor, anonymous(r.program))
	j := p.newJourney(c.Request.Context(), store.Begin(c.GetString(numberKey), release, c.Param("slug"), *visitor), r)
	j.fresh = true
	first := j.path()[0] // filled in or not, it is the first that is shown
	j.fillFrom(c.Request.URL.Query())
	page := j.page(j.together(first), nil)
	page.Shared, page.Listed = sharedOf(r, c.Param("slug"), ui.Origin(c.Request, p.Public)), true
	page.Languages = r.languageWays("/q/"+c.Param("slug"), c.Request.URL.Query()).of(ui.Origin(c.Request, p.Public))
	p.show(c, http.StatusOK, "question", page)
}

// see counts somebody who has not begun yet. A page that a browser fetches before anybody
// wants it is not seen.
func (p *player) see(c *gin.Context, release *store.Release, r *released) {
	if c.Request.Method == http.MethodGet && !fetchesAhead(c.Request) {
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
	number, slug := c.PostForm("passage"), c.Param("slug")
	if number != "" && !store.IsPassageNumber(number) {
		number = ""
	}
	if number != "" {
		known, err := p.store.Responses.Passage(c.Request.Context(), number)
		if err == nil && known.QuizID == release.QuizID {
			p.again(c, known)
			return
		}
		if !errors.Is(err, store.ErrNotFound) { // it is of another quiz
			number = ""
		}
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
	if clicks != nil {
		p.clicks.Add(begun.ID, clicks)
	}
	if err := p.takeUp(c, who, begun.ID); err != nil {
		p.fail(c, err)
		return
	}
	begun.Framed = c.Query("frame") != ""
	j := p.newJourney(c.Request.Context(), begun, r)
	j.gate = release.Gate
	if c.PostForm("asked") != "" {
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
	c.Redirect(http.StatusSeeOther, j.address(j.together(first)[0]))
}

// again takes the first answers of a passage that has begun already.
func (p *player) again(c *gin.Context, known *store.Passage) {
	r, err := p.released(c.Request.Context(), known.ReleaseID)
	if err != nil {
		p.fail(c, err)
		return
	}
	j := p.newJourney(c.Request.Context(), known, r)
	if now, err := p.taken(c.Request.Context(), known.Slug); err == nil {
		j.gate = now.Gate
	}
	if known.Finished {
		p.landAgain(c, j)
		return
	}
	p.took(c, j, j.path()[0])
}
