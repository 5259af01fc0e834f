package player

import (
	"cmp"
	"context"
	"fmt"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/web/ui"
)

// A released quiz is what is worked out once for each release.
type released struct {
	looks     string // address of its style sheet
	shown     bool   // it is looked at, and leads nowhere
	dress     dress
	program   *program.Program
	odds      func() *odds.Odds         // nil where they take too long
	remaining func() map[string]float64 // expected number of questions after each
	begin     sync.Once
	html      []byte // of the opening
	failed    error

	written  *released // in the language in which it was written; nil of that itself
	speaking sync.Mutex
	spoken   map[string]*released // in the languages that it is in beside that
}

// released returns a release, reading and compiling each once.
func (p *player) released(ctx context.Context, id uint) (*released, error) {
	if found, ok := p.releases.Get(id); ok {
		return found, nil
	}
	r, err := p.store.Definitions.ReleaseByID(ctx, id)
	if err != nil {
		return nil, err
	}
	q, err := r.Read()
	if err != nil {
		return nil, fmt.Errorf("reading release %d: %w", id, err)
	}
	program, err := program.CompileReleased(q)
	if err != nil {
		return nil, fmt.Errorf("release %d: %w", id, err)
	}
	one := compiled(program, fmt.Sprintf("/look/%d", id))
	if found, there, _ := p.releases.PeekOrAdd(id, one); there {
		return found, nil
	}
	return one, nil
}

// compiled returns what is worked out once for a program, whose colours are at an address.
func compiled(program *program.Program, looks string) *released {
	told := sync.OnceValue(func() *odds.Odds {
		ctx, stop := context.WithTimeout(context.Background(), mostTime)
		defer stop()
		o, err := odds.Of(program, odds.Options{Steps: mostSteps, Sample: progressSample, Context: ctx})
		if err != nil {
			return nil // pages do without
		}
		return o
	})
	worn := dressOf(program.Quiz)
	return &released{
		looks:   looks + "?v=" + worn.version,
		dress:   worn,
		program: program,
		odds:    told,
		remaining: sync.OnceValue(func() map[string]float64 {
			if told() == nil {
				return nil
			}
			return told().Remaining()
		}),
	}
}

// mostSteps and mostTime bound what is worked out once for a release: how long it is,
// and what its scores go from and to.
const (
	mostSteps = 50_000
	mostTime  = 2 * time.Second
)

// progressSample is enough passages to tell how many questions are still to come.
const progressSample = 2048

func (p *player) openingPage(ctx context.Context, r *released, slug string) openingPage {
	o := r.program.Quiz.Opening
	page := openingPage{frame: newFrame(r, o.Heading), Opening: o, Picture: p.sizes.of(ctx, o.Picture)}
	page.Ahead = picturesAhead(r.program, 0)
	page.Layout = cmp.Or(o.Layout, r.dress.Layout)
	if page.Title == "" {
		page.Title = r.program.Quiz.Title
	}
	page.Shared, page.Listed = sharedOf(r, slug, home), true
	page.Number, page.Token = numberHere, tokenHere
	page.Languages = r.languageWays("/q/"+slug, nil)
	return page
}

// A shared is how a page shows where its address is shared: a title, plain words and the whole
// address of a picture.
type shared struct{ Title, Text, Picture string }

// sharedOf is what the opening shows where it is shared: a card that is drawn here.
func sharedOf(r *released, slug, home string) *shared {
	as := r.program.Quiz.AsShared()
	return &shared{Title: as.Title, Text: ui.Told(as.Text), Picture: home + cardOf(r, slug, openingCard)}
}

// home stands in a page that is rendered once for the address under which it is asked for.
const home = "https://home.invalid"

// And these for the number of the passage that begins there, and its token.
const (
	numberHere = "00number00"
	tokenHere  = "00token00"
)

// openingOf returns the page of the opening, rendered once.
func (p *player) openingOf(ctx context.Context, r *released, slug string) ([]byte, error) {
	r.begin.Do(func() {
		r.html, r.failed = p.views.Part("opening", "layout", p.openingPage(context.WithoutCancel(ctx), r, slug))
	})
	return r.html, r.failed
}

// frames are the origins of pages that may show the quiz inside them.
func (r *released) frames() []string {
	if s := r.program.Quiz.Settings; s != nil {
		return s.Frames
	}
	return nil
}

// allowFrames lets a browser show the page inside those that the quiz names, and in the studio,
// which shows it inside the page that stands in for them.
func (r *released) allowFrames(c *gin.Context) {
	if frames := r.frames(); len(frames) > 0 {
		ui.ShowIn(c, append([]string{"'self'"}, frames...)...)
	}
}
