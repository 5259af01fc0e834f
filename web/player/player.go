// Package player takes respondents through a released quiz: the opening, one
// question at a time, and the landing.
//
// Every step is a form that works without scripts. What is typed is kept on
// the server at each step, under the number of the passage, so that a reload,
// the browser's back and a second tab find it again.
package player

import (
	"embed"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"slices"
	"sync"

	"github.com/gin-gonic/gin"

	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

type player struct {
	store    *store.Store
	views    *ui.Views
	programs sync.Map // release ID → *passage.Program
	openings sync.Map // release ID → []byte, the rendered opening
}

// Mount serves the player under /q/{slug} and /p/{passage}.
func Mount(r gin.IRouter, s *store.Store) {
	p := &player{store: s, views: ui.Load(templates)}
	r.GET("/q/:slug", p.opening)
	r.POST("/q/:slug", p.start)
	r.GET("/look/:release", p.look)
	r.GET("/p/:passage", p.resume)
	r.GET("/p/:passage/:question", p.question)
	r.POST("/p/:passage/:question", p.answer)
}

// program returns the compiled release, compiling each release once.
func (p *player) program(release uint) (*passage.Program, error) {
	if found, ok := p.programs.Load(release); ok {
		return found.(*passage.Program), nil
	}
	r, err := p.store.ReleaseByID(release)
	if err != nil {
		return nil, err
	}
	q, err := r.Read()
	if err != nil {
		return nil, fmt.Errorf("reading release %d: %w", release, err)
	}
	program, err := passage.Compile(q)
	if err != nil {
		return nil, fmt.Errorf("release %d: %w", release, err)
	}
	p.programs.Store(release, program)
	return program, nil
}

// public returns the release at the address that was asked for, compiled, or
// answers with a page that there is none.
func (p *player) public(c *gin.Context) (*store.Release, *passage.Program, bool) {
	release, err := p.store.Public(c.Param("slug"))
	if err != nil {
		p.fail(c, err)
		return nil, nil, false
	}
	program, err := p.program(release.ID)
	if err != nil {
		p.fail(c, err)
		return nil, nil, false
	}
	return release, program, true
}

// opening shows the opening, or the first question of a quiz without one. Its
// form goes to the page's own address, parameters included, so that the opening
// of a release is the same for everybody and rendered once.
func (p *player) opening(c *gin.Context) {
	release, program, ok := p.public(c)
	if !ok {
		return
	}
	if q := program.Quiz(); q.Opening != nil {
		page, rendered := p.openings.Load(release.ID)
		if !rendered {
			html, err := p.views.Part("opening", "layout", openingPage{newFrame(program, release.ID, q.Opening.Heading), q.Opening})
			if err != nil {
				p.fail(c, err)
				return
			}
			page, _ = p.openings.LoadOrStore(release.ID, html)
		}
		c.Data(http.StatusOK, "text/html; charset=utf-8", page.([]byte))
		return
	}
	j := &journey{program: program, release: release.ID, typed: map[string]passage.Typed{}, visitor: visitorOf(c, program), store: p.store}
	p.show(c, http.StatusOK, "question", j.page(j.path(), "", nil))
}

// start begins a passage. A quiz without an opening sends the first answer along.
func (p *player) start(c *gin.Context) {
	release, program, ok := p.public(c)
	if !ok {
		return
	}
	begun, err := p.store.Start(release, c.Param("slug"), *visitorOf(c, program))
	if err != nil {
		p.fail(c, err)
		return
	}
	j := p.newJourney(begun, program)
	first := j.walk().Next
	if program.Quiz().Opening == nil {
		p.take(c, j, first)
		return
	}
	c.Redirect(http.StatusSeeOther, j.address(first))
}

// resume leads to where the passage has come.
func (p *player) resume(c *gin.Context) {
	j, ok := p.journey(c)
	if !ok {
		return
	}
	c.Redirect(http.StatusSeeOther, j.here())
}

func (p *player) journey(c *gin.Context) (*journey, bool) {
	begun, err := p.store.Passage(c.Param("passage"))
	if err != nil {
		p.fail(c, err)
		return nil, false
	}
	program, err := p.program(begun.ReleaseID)
	if err != nil {
		p.fail(c, err)
		return nil, false
	}
	return p.newJourney(begun, program), true
}

// question shows one question of the passage, or the result under "end".
func (p *player) question(c *gin.Context) {
	j, ok := p.journey(c)
	if !ok {
		return
	}
	if j.passage.Finished {
		p.result(c, j)
		return
	}
	if c.Param("question") == contactPage && j.wantsContact(quiz.BeforeResult) {
		p.show(c, http.StatusOK, "contact", j.contactPage(nil, nil, ""))
		return
	}
	at := j.program.Position(c.Param("question"))
	if at < 0 || !slices.Contains(j.path(), at) {
		c.Redirect(http.StatusSeeOther, j.here())
		return
	}
	asked := j.together(at)
	p.show(c, http.StatusOK, "question", j.page(asked, j.address(asked[0]), nil))
}

// answer takes what was typed for one question and goes on, or back.
func (p *player) answer(c *gin.Context) {
	j, ok := p.journey(c)
	if !ok {
		return
	}
	if j.passage.Finished && c.Param("question") == contactPage {
		p.contactAfter(c, j)
		return
	}
	if j.passage.Finished {
		kept, err := p.store.ByPassage(j.passage.ID)
		if err != nil {
			p.fail(c, err)
			return
		}
		p.land(c, j, kept)
		return
	}
	if c.Param("question") == contactPage && j.wantsContact(quiz.BeforeResult) {
		p.contact(c, j)
		return
	}
	at := j.program.Position(c.Param("question"))
	if at < 0 || !slices.Contains(j.path(), at) {
		c.Redirect(http.StatusSeeOther, j.here())
		return
	}
	p.take(c, j, at)
}

// take keeps what was typed on the page of a question and goes on, or back. What
// can't be taken is kept as it was typed, and asked again.
func (p *player) take(c *gin.Context, j *journey, at int) {
	if err := c.Request.ParseForm(); err != nil {
		p.show(c, http.StatusRequestEntityTooLarge, "problem", newProblem(j.program, "That was too much", "The answer is too long to be taken. Go back and shorten it."))
		return
	}
	asked := j.read(c.Request.PostForm)
	page := j.together(at)
	ask := func(status int, wrongs map[int]string) {
		p.show(c, status, "question", j.page(page, j.address(page[0]), wrongs))
	}
	notKept := func(err error) {
		slog.Error("keeping answers", "error", err)
		c.Header("Retry-After", "5")
		ask(http.StatusServiceUnavailable, map[int]string{page[0]: "Your answer could not be kept just now. It is still here: try again in a moment."})
	}
	back := c.PostForm("go") == "back"
	fresh := slices.ContainsFunc(page, func(at int) bool { return !slices.Contains(asked, at) })
	if !back {
		wrongs := j.wrongs(slices.DeleteFunc(slices.Clone(page), func(at int) bool { return !slices.Contains(asked, at) }))
		if len(wrongs) > 0 {
			ask(http.StatusUnprocessableEntity, wrongs)
			return
		}
		if _, more := j.after(page[len(page)-1]); !fresh && !more && len(j.missing()) == 0 && !j.wantsContact(quiz.BeforeResult) {
			p.finish(c, j, notKept)
			return
		}
	}
	if err := p.store.SaveTyped(j.passage, j.typed); err != nil {
		notKept(err)
		return
	}
	next, more := j.after(page[len(page)-1])
	switch {
	case back:
		c.Redirect(http.StatusSeeOther, j.before(page[0]))
	case fresh: // an answer has brought up more questions on this page
		c.Redirect(http.StatusSeeOther, j.address(page[0]))
	case more:
		c.Redirect(http.StatusSeeOther, j.address(next))
	case len(j.missing()) > 0:
		c.Redirect(http.StatusSeeOther, j.address(j.missing()[0]))
	default:
		c.Redirect(http.StatusSeeOther, j.contactAddress())
	}
}

// finish ends the passage in one commit, and lands it.
func (p *player) finish(c *gin.Context, j *journey, notKept func(error)) {
	w := j.program.Walker()
	result := w.Walk(j.input())
	if result.End == passage.Parted {
		if err := p.store.Part(j.passage); err != nil {
			notKept(err)
			return
		}
		p.show(c, http.StatusOK, "result", j.resultPage(w, true))
		return
	}
	response := store.Record(j.program, j.input(), result)
	response.Address = j.redirect(result)
	response.Answers = append(response.Answers, j.contactAnswers()...)
	kept, err := p.store.Finish(j.passage, j.typed, response)
	if err != nil {
		notKept(err)
		return
	}
	p.land(c, j, kept)
}

// land sends a finished passage to its landing: to an address at once by a 302,
// to a page of ours by a 303.
func (p *player) land(c *gin.Context, j *journey, kept *store.Response) {
	if j.leaves(kept) {
		c.Redirect(http.StatusFound, kept.Address)
		return
	}
	c.Redirect(http.StatusSeeOther, "/p/"+j.passage.ID+"/end")
}

// result shows the landing of a finished passage again.
func (p *player) result(c *gin.Context, j *journey) {
	kept, err := p.store.ByPassage(j.passage.ID)
	if err != nil {
		p.fail(c, err)
		return
	}
	if j.leaves(kept) {
		c.Redirect(http.StatusFound, kept.Address)
		return
	}
	w := j.program.Walker()
	w.Walk(j.input())
	page := j.resultPage(w, false)
	page.Redirect = kept.Address
	if j.wantsContact(quiz.AfterResult) {
		form := j.contactPage(nil, nil, "")
		page.Contact = &form
	}
	page.Thanks = c.Query("thanks") != ""
	p.show(c, http.StatusOK, "result", page)
}

func (p *player) show(c *gin.Context, status int, page string, data any) {
	if err := p.views.Page(c.Writer, status, page, data); err != nil {
		slog.Error("showing a page", "page", page, "error", err)
		c.AbortWithStatus(http.StatusInternalServerError)
	}
}

func (p *player) fail(c *gin.Context, err error) {
	if errors.Is(err, store.ErrNotFound) {
		p.show(c, http.StatusNotFound, "problem", newProblem(nil, "There is no quiz here", "The address may be mistyped, or the quiz has been taken down."))
		return
	}
	slog.Error("player", "error", err)
	c.Writer.Header().Set("Retry-After", "5")
	p.show(c, http.StatusServiceUnavailable, "problem", newProblem(nil, "One moment, please", "Something is in the way just now. Try again in a moment."))
}
