package player

import (
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/program"
	"omphalos/web/ui"
)

// ways are the routes of respondents.
func (p *player) ways() []ui.Route {
	return []ui.Route{
		ui.Get("/q/:slug", p.opening),
		ui.Post("/q/:slug", ui.Answers, p.start),
		ui.Get("/look/:release", p.look),
		ui.Get("/embed.js", embedScript),
		ui.Get("/i/:token", p.invited),
		ui.Get("/p/:passage", p.resume),
		ui.Get("/p/:passage/:question", p.question),
		ui.Post("/p/:passage/:question", ui.Answers, p.answer),
	}
}

// asked returns the quiz at the address that was asked for, where it is known, so that
// what is wrong is told in its colours.
func (p *player) asked(c *gin.Context) *released {
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
	return r.wanted(c)
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
