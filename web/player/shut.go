package player

import (
	"cmp"
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/gate"
	"omphalos/store"
	"omphalos/web/ui"
)

// A quiz opens and closes when it is told to; those who are mid-way get some time more.

// leadOn sends somebody on who comes to an address that the quiz had before.
func (p *player) leadOn(c *gin.Context) bool {
	to, err := p.store.Definitions.MovedTo(c.Request.Context(), c.Param("slug"))
	if err != nil {
		return false
	}
	at := "/q/" + to
	if query := c.Request.URL.RawQuery; query != "" {
		at += "?" + query
	}
	// 308 keeps what a form brings along (RFC 9110, 15.4.9).
	c.Redirect(http.StatusPermanentRedirect, at)
	return true
}

// taken returns what is public at an address, or at the one that the quiz has now.
func (p *player) taken(ctx context.Context, slug string) (*store.Release, error) {
	r, err := p.store.Definitions.Public(ctx, slug)
	if errors.Is(err, store.ErrNotFound) {
		to, moved := p.store.Definitions.MovedTo(ctx, slug)
		if moved != nil {
			return nil, err
		}
		return p.store.Definitions.Public(ctx, to)
	}
	return r, err
}

// shut answers somebody who is not let in, and tells whether it did.
func (p *player) shut(c *gin.Context, r *released, of *store.Release, midWay bool) bool {
	if of.Gate == (gate.Gate{}) {
		return false
	}
	there := 0
	if of.Gate.Most > 0 {
		var err error
		if there, err = p.store.Responses.Answered(c.Request.Context(), of.QuizID); err != nil {
			p.fail(c, err)
			return true
		}
	}
	state := of.Gate.At(time.Now(), there)
	if midWay {
		state = of.Gate.MidWay(time.Now(), there)
	}
	if state == gate.Open {
		return false
	}
	p.showShut(c, r, state, of.Gate, midWay)
	return true
}

// shutWords are what is read by those who are not let in.
var shutWords = map[gate.State][2]string{
	gate.Early:  {"Not yet", "This quiz is not open yet. Come back a little later."},
	gate.Late:   {"This quiz is over", "It has closed."},
	gate.Full:   {"This quiz is full", "As many as could take part have done so."},
	gate.Paused: {"One moment, please", "This quiz rests for a while. Come back a little later."},
	gate.Closed: {"This quiz is over", "It has closed."},
}

// showShut says why somebody is not let in, or can't finish what they began.
func (p *player) showShut(c *gin.Context, r *released, state gate.State, g gate.Gate, midWay bool) {
	words := shutWords[state]
	in := tongueOf(r.program)
	text := cmp.Or(g.Words, in.say(words[1]))
	if midWay && state != gate.Paused {
		text += " " + in.say("Nothing that you answered is kept.")
	}
	if state == gate.Early && g.Words == "" {
		text = in.say("This quiz opens on %s.", in.dayAndTime(g.Opens.In(ui.Zone(r.program.Quiz))))
	}
	status := http.StatusGone
	if state == gate.Early || state == gate.Paused {
		status = http.StatusServiceUnavailable
		c.Header("Retry-After", "3600")
	}
	p.show(c, status, "problem", newProblem(r, words[0], text))
}
