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
	"strconv"
	"time"

	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/hashicorp/golang-lru/v2/expirable"

	"omphalos/core/program"
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
	Member    func(*http.Request) *store.User // who is signed in to the studio, nil for nobody; nil where nobody can be
	Public    string                          // address under which the application is known, "" for the one that is asked
}

type player struct {
	Options
	store    *store.Store
	views    *ui.Views
	releases *lru.Cache[uint, *released]
	drafts   *lru.Cache[string, *released]
	personal *store.Memory[map[string]program.Typed]
	clicks   *store.Memory[map[string]string]
	ends     *store.Memory[end]
	secret   []byte // of this run
	sizes    sizes
	cards    cards
	gotten   *expirable.LRU[uint, map[string]int] // responses by outcome, by quiz
	limits   limits
}

// What says who somebody is waits in memory for a day at most, in so many bytes.
const (
	personalBytes      = 32 << 20
	clickBytes         = 8 << 20 // what names clicks waits as long
	personalTime       = 24 * time.Hour
	rememberedSizes    = 4096 // of pictures
	rememberedReleases = 128  // compiled
	rememberedDrafts   = 64
)

// Mount serves the player under /q/{slug} and /p/{passage}. It returns what shows that
// something is wrong, in the look of respondents' pages.
func Mount(r gin.IRouter, s *store.Store, with Options) ui.Problem {
	releases, _ := lru.New[uint, *released](rememberedReleases) // never fails
	drafts, _ := lru.New[string, *released](rememberedDrafts)
	p := &player{
		Options:  with,
		releases: releases,
		drafts:   drafts,
		store:    s,
		views:    ui.Load(templates),
		limits:   limits{guard.NewRate(with.Limits.Starts), guard.NewRate(with.Limits.Finishes)},
		cards:    newCards(),
		gotten:   expirable.NewLRU[uint, map[string]int](rememberedReleases, nil, gottenTime),
		sizes:    sizes{s, expirable.NewLRU[string, [2]int](rememberedSizes, nil, personalTime)},
		personal: store.NewMemory(personalBytes, personalTime, sizeOf),
		ends:     newEnds(),
		secret:   []byte(store.Token()),
		clicks:   store.NewMemory(clickBytes, personalTime, sizeOfClicks),
	}
	if p.Calendar == nil {
		p.Calendar = store.Diary{Store: s}
	}
	tell := func(c *gin.Context, status int, heading, text string) {
		p.show(c, status, "problem", newProblem(p.asked(c), heading, text))
	}
	ui.Serve(r, slices.Concat(p.ways(), p.rehearsals(), p.handedRoutes(), p.appointments(), p.letters(),
		p.showings(), p.passing()), tell)
	return tell
}

// public returns the release at the address that was asked for, compiled, or
// answers with a page that there is none.
func (p *player) public(c *gin.Context) (*store.Release, *released, bool) {
	release, err := p.store.Definitions.Public(c.Request.Context(), c.Param("slug"))
	if errors.Is(err, store.ErrNotFound) && p.leadOn(c) {
		return nil, nil, false
	}
	if err != nil {
		p.fail(c, err)
		return nil, nil, false
	}
	release = p.arm(c, release)
	r, err := p.released(c.Request.Context(), release.ID)
	if err != nil {
		p.fail(c, err)
		return nil, nil, false
	}
	r.allowFrames(c)
	return release, r.wanted(c), true
}

// resume leads to where the passage has come.
func (p *player) resume(c *gin.Context) {
	if j, ok := p.journey(c); ok {
		p.lead(c, j.here())
	}
}

func (p *player) journey(c *gin.Context) (*journey, bool) {
	begun, err := p.store.Responses.Passage(c.Request.Context(), c.Param("passage"))
	if errors.Is(err, store.ErrNotFound) {
		if !p.ended(c, c.Param("passage")) {
			p.show(c, http.StatusNotFound, "problem", newProblem(nil, "This is over",
				"Nobody went on with it for a long time, or the quiz has been taken down. Nothing of it is kept."))
		}
		return nil, false
	}
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
	if taken, err := p.taken(c.Request.Context(), begun.Slug); err == nil {
		j.gate = taken.Gate
		if !begun.Finished && p.shut(c, r, taken, true) {
			return nil, false
		}
	} else if errors.Is(err, store.ErrNotFound) && !begun.Finished {
		p.show(
			c,
			http.StatusGone,
			"problem",
			newProblem(
				r,
				"This quiz is over",
				"It has been taken down while you were answering. Nothing that you answered is kept.",
			),
		)
		return nil, false
	}
	if !j.atHome(c) {
		p.refuse(c, r, begun.Slug)
		return nil, false
	}
	if c.Request.Method == http.MethodGet && !sentByScript(c) && asks(c, tokenField) != "" && !j.carries {
		clean := *c.Request.URL // the device keeps cookies: its addresses need no token
		query := clean.Query()
		query.Del(tokenField)
		clean.RawQuery = query.Encode()
		c.Redirect(http.StatusSeeOther, clean.RequestURI())
		return nil, false
	}
	return j, true
}

// refuse tells a stranger that a passage is somebody else's, and how to begin their own.
func (p *player) refuse(c *gin.Context, r *released, slug string) {
	page := newProblem(r, "These answers are private",
		"They are shown only on the device on which they were given. You can take the quiz yourself.")
	if slug != "" {
		page.Link, page.LinkWords = "/q/"+slug, page.Say("Take the quiz")
	}
	p.show(c, http.StatusForbidden, "problem", page)
}

// question shows one question of the passage, or the result under "end".
func (p *player) question(c *gin.Context) {
	j, ok := p.journey(c)
	if !ok {
		return
	}
	p.page(c, j, c.Param("question"))
}

// page shows one page of a passage, by the last part of its address.
func (p *player) page(c *gin.Context, j *journey, key string) {
	at := j.program.Position(key)
	onPath := at >= 0 && slices.Contains(j.path(), at)
	switch {
	case key == calendarFile:
		p.calendarFile(c, j)
	case key == drawnPlace:
		p.drawn(c, j)
	case key == contactPage && j.wantsContact(quiz.BeforeResult):
		p.show(c, http.StatusOK, "contact", j.contactPage(nil, nil, ""))
	case onPath && asks(c, reviewed) != "" && j.reviewsEach():
		p.review(c, j, j.together(at))
	case j.passage.Finished && !(j.rehearsal != nil && onPath):
		p.result(c, j)
	case !onPath:
		p.lead(c, j.here())
	case asks(c, "near") != "":
		p.nearest(c, j, at)
	default:
		p.show(c, http.StatusOK, "question", j.page(j.together(at), nil))
	}
}

func (p *player) show(c *gin.Context, status int, page string, data any) {
	html, err := p.views.Part(page, "layout", data)
	if err != nil {
		slog.Error("showing a page", "page", page, "error", err)
		c.AbortWithStatus(http.StatusInternalServerError)
		return
	}
	p.send(c, status, html)
}

// send answers with a page.
func (p *player) send(c *gin.Context, status int, html []byte) {
	if sentByScript(c) {
		c.Header(sentHeader, "yes")
	}
	c.Header("Content-Length", strconv.Itoa(len(html)))
	c.Data(status, "text/html; charset=utf-8", html)
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
