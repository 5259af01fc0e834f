// Package player takes respondents through a released quiz: the opening, its
// questions, and the landing.
//
// Every step is a form that works without scripts. What is typed is kept on
// the server at each step, under the number of the passage, so that a reload,
// the browser's back, a closed tab and a second one find it again. What says who
// somebody is reaches the disk only when the passage is finished.
package player

import (
	"embed"
	"errors"
	"log/slog"
	"net/http"
	"net/netip"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/program"

	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/hashicorp/golang-lru/v2/expirable"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/guard"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// Options say what the player works with. The zero value knows no countries, offers no
// appointments and limits nobody.
type Options struct {
	Countries func(netip.Addr) string // the country of a visitor's address (ISO 3166-1 alpha-2), "" for unknown
	Calendar  Calendar
	Limits    Limits
	Public    string // address under which the application is known, "" for the one that is asked
}

type player struct {
	Options
	store    *store.Store
	views    *ui.Views
	releases *lru.Cache[uint, *released]
	personal *store.Memory[map[string]program.Typed]
	sizes    sizes
	limits   limits
}

// What says who somebody is waits in memory for a day at most, in so many bytes.
const (
	personalBytes      = 32 << 20
	personalTime       = 24 * time.Hour
	rememberedSizes    = 4096 // of pictures
	rememberedReleases = 128  // compiled
)

// Mount serves the player under /q/{slug} and /p/{passage}. It returns what shows that
// something is wrong, in the look of respondents' pages.
func Mount(r gin.IRouter, s *store.Store, with Options) ui.Problem {
	releases, _ := lru.New[uint, *released](rememberedReleases) // never fails
	p := &player{
		Options:  with,
		releases: releases,
		store:    s,
		views:    ui.Load(templates),
		limits:   limits{guard.NewRate(with.Limits.Starts), guard.NewRate(with.Limits.Finishes)},
		sizes:    sizes{s, expirable.NewLRU[string, [2]int](rememberedSizes, nil, personalTime)},
		personal: store.NewMemory(personalBytes, personalTime, sizeOf),
	}
	tell := func(c *gin.Context, status int, heading, text string) {
		p.show(c, status, "problem", newProblem(p.asked(c), heading, text))
	}
	ui.Serve(r, p.ways(), tell)
	return tell
}

// ways are the routes of respondents.
func (p *player) ways() []ui.Route {
	return []ui.Route{
		ui.Get("/q/:slug", p.opening),
		ui.Post("/q/:slug", ui.Answers, p.start),
		ui.Get("/look/:release", p.look),
		ui.Get("/embed.js", embedScript),
		ui.Get("/p/:passage", p.resume),
		ui.Get("/p/:passage/:question", p.question),
		ui.Post("/p/:passage/:question", ui.Answers, p.answer),
	}
}

// asked returns the quiz at the address that was asked for, where it is known, so that
// what is wrong is told in its colours.
func (p *player) asked(c *gin.Context) *program.Program {
	_, rest, found := strings.Cut(c.Request.URL.Path, "/q/")
	slug, _, _ := strings.Cut(rest, "/")
	if !found {
		return nil
	}
	release, err := p.store.Definitions.Public(c.Request.Context(), slug)
	if err != nil {
		return nil
	}
	r, err := p.released(c.Request.Context(), release.ID)
	if err != nil {
		return nil
	}
	return r.program
}

// sizeOf returns how many bytes what was typed takes, or so.
func sizeOf(typed map[string]program.Typed) int {
	size := 0
	for key, t := range typed {
		size += len(key) + len(t.WriteIn) + 100
		for _, v := range t.Values {
			size += len(v) + 16
		}
	}
	return size
}

// public returns the release at the address that was asked for, compiled, or
// answers with a page that there is none.
func (p *player) public(c *gin.Context) (*store.Release, *released, bool) {
	release, err := p.store.Definitions.Public(c.Request.Context(), c.Param("slug"))
	if err != nil {
		p.fail(c, err)
		return nil, nil, false
	}
	r, err := p.released(c.Request.Context(), release.ID)
	if err != nil {
		p.fail(c, err)
		return nil, nil, false
	}
	r.allowFrames(c)
	return release, r, true
}

// resume leads to where the passage has come.
func (p *player) resume(c *gin.Context) {
	if j, ok := p.journey(c); ok {
		c.Redirect(http.StatusSeeOther, j.here())
	}
}

func (p *player) journey(c *gin.Context) (*journey, bool) {
	begun, err := p.store.Responses.Passage(c.Request.Context(), c.Param("passage"))
	if err != nil {
		p.fail(c, err)
		return nil, false
	}
	r, err := p.released(c.Request.Context(), begun.ReleaseID)
	if err != nil {
		p.fail(c, err)
		return nil, false
	}
	r.allowFrames(c)
	j := p.newJourney(c.Request.Context(), begun, r)
	if _, err := p.store.Definitions.Public(c.Request.Context(), begun.Slug); errors.Is(err, store.ErrNotFound) &&
		!begun.Finished {
		p.show(
			c,
			http.StatusGone,
			"problem",
			newProblem(
				r.program,
				"This quiz is over",
				"It has been taken down while you were answering. Nothing that you answered is kept.",
			),
		)
		return nil, false
	}
	if !j.atHome(c) {
		p.show(
			c,
			http.StatusForbidden,
			"problem",
			newProblem(
				r.program,
				"This is somebody's own way",
				"What was answered here is shown only on the device that it was begun on. You can begin on your own.",
			),
		)
		return nil, false
	}
	return j, true
}

// question shows one question of the passage, or the result under "end".
func (p *player) question(c *gin.Context) {
	j, ok := p.journey(c)
	if !ok {
		return
	}
	key := c.Param("question")
	at := j.program.Position(key)
	onPath := at >= 0 && slices.Contains(j.path(), at)
	switch {
	case key == calendarFile:
		p.calendarFile(c, j)
	case key == contactPage && j.wantsContact(quiz.BeforeResult):
		p.show(c, http.StatusOK, "contact", j.contactPage(nil, nil, ""))
	case onPath && c.Query(reviewed) != "" && j.reviewsEach():
		p.review(c, j, j.together(at))
	case j.passage.Finished:
		p.result(c, j)
	case !onPath:
		c.Redirect(http.StatusSeeOther, j.here())
	case c.Query("near") != "":
		p.nearest(c, j, at)
	default:
		p.show(c, http.StatusOK, "question", j.page(j.together(at), nil))
	}
}

// answer takes what was typed for one question and goes on, or back.
func (p *player) answer(c *gin.Context) {
	j, ok := p.journey(c)
	if !ok {
		return
	}
	if !p.readForm(c, j.released) {
		return
	}
	if j.passage.Finished && c.Param("question") == contactPage {
		p.contactAfter(c, j)
		return
	}
	if j.passage.Finished {
		p.landAgain(c, j)
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
	p.took(c, j, at)
}

// readForm looks at the form that was sent: one that a robot filled in gets a page like any
// other, and nothing is done.
func (p *player) readForm(c *gin.Context, r *released) bool {
	if c.PostForm(trap) != "" {
		p.show(c, http.StatusOK, "problem", newProblem(r.program, "Thank you", "We have what you sent."))
		return false
	}
	return true
}

// took keeps what was typed on the page of a question and goes on, or back. What
// can't be taken is kept as it was typed, and asked again.
func (p *player) took(c *gin.Context, j *journey, at int) {
	asked := j.read(c.Request.PostForm)
	page := j.together(at)
	ask := func(status int, wrongs map[int]string) { p.show(c, status, "question", j.page(page, wrongs)) }
	notKept := func(err error) {
		status, sorry := sorryFor(c, err)
		ask(status, map[int]string{page[0]: "Your answer could not be kept just now. It is still here: " + sorry})
	}
	if c.PostForm("go") == "look" { // a script asks what the page holds now
		if err := p.save(j); err != nil {
			notKept(err)
			return
		}
		ask(http.StatusOK, nil)
		return
	}
	back := c.PostForm("go") == "back"
	fresh := slices.ContainsFunc(page, func(at int) bool { return !slices.Contains(asked, at) })
	if !back {
		wrongs := j.wrongs(
			slices.DeleteFunc(slices.Clone(page), func(at int) bool { return !slices.Contains(asked, at) }),
		)
		if len(wrongs) > 0 {
			ask(http.StatusUnprocessableEntity, wrongs)
			return
		}
		if _, more := j.after(page[len(page)-1]); !fresh && !more && len(j.missing()) == 0 &&
			!j.wantsContact(quiz.BeforeResult) {
			p.finish(c, j, at, notKept)
			return
		}
	}
	if err := p.save(j); err != nil {
		notKept(err)
		return
	}
	next, more := j.after(page[len(page)-1])
	switch {
	case back:
		c.Redirect(http.StatusSeeOther, j.before(page[0]))
	case fresh: // an answer has brought up more questions on this page
		c.Redirect(http.StatusSeeOther, j.address(page[0]))
	case j.hasReview(page):
		c.Redirect(http.StatusSeeOther, j.reviewAddress(page[0]))
	case more:
		c.Redirect(http.StatusSeeOther, j.address(j.together(next)[0]))
	case len(j.missing()) > 0:
		c.Redirect(http.StatusSeeOther, j.address(j.together(j.missing()[0])[0]))
	default:
		c.Redirect(http.StatusSeeOther, j.contactAddress())
	}
}

// save keeps what has been typed so far: on disk, but for what says who somebody is.
func (p *player) save(j *journey) error {
	for key, t := range j.typed {
		if at := j.program.Position(key); at >= 0 {
			j.put(key, j.program.Keep(at, t))
		}
	}
	lasting, personal := j.parted()
	if len(personal) > 0 {
		p.personal.Add(j.passage.ID, personal)
	}
	if err := p.store.Responses.SaveTyped(j.ctx, j.passage, lasting); err != nil {
		return err
	}
	j.fresh = false
	return nil
}

// sorryFor returns the status of a page that says that something could not be kept, and
// when to try again.
func sorryFor(c *gin.Context, err error) (int, string) {
	if errors.Is(err, errMany) {
		c.Header("Retry-After", "60")
		return http.StatusTooManyRequests, "many people are answering from where you are. Try again in a minute."
	}
	if !errors.Is(err, store.ErrBusy) {
		slog.Error("keeping answers", "error", err)
	}
	c.Header("Retry-After", "5")
	return http.StatusServiceUnavailable, "try again in a moment."
}

func (p *player) show(c *gin.Context, status int, page string, data any) {
	if err := p.views.Page(c.Writer, status, page, data); err != nil {
		slog.Error("showing a page", "page", page, "error", err)
		c.AbortWithStatus(http.StatusInternalServerError)
	}
}

func (p *player) fail(c *gin.Context, err error) {
	if errors.Is(err, store.ErrNotFound) {
		p.show(
			c,
			http.StatusNotFound,
			"problem",
			newProblem(nil, "There is no quiz here", "The address may be mistyped, or the quiz has been taken down."),
		)
		return
	}
	if !errors.Is(err, store.ErrBusy) {
		slog.Error("player", "error", err)
	}
	c.Writer.Header().Set("Retry-After", "5")
	p.show(
		c,
		http.StatusServiceUnavailable,
		"problem",
		newProblem(nil, "One moment, please", "Something is in the way just now. Try again in a moment."),
	)
}
