package player

import (
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"omphalos/core/finding"
	"omphalos/core/quiz"
)

// look sends the colours of a release as a style sheet. It never changes.
func (p *player) look(c *gin.Context) {
	id, err := strconv.ParseUint(c.Param("release"), 10, 32)
	if err != nil {
		c.AbortWithStatus(http.StatusNotFound)
		return
	}
	program, err := p.program(uint(id))
	if err != nil {
		c.AbortWithStatus(http.StatusNotFound)
		return
	}
	c.Header("Cache-Control", "public, max-age=31536000, immutable")
	c.Data(http.StatusOK, "text/css; charset=utf-8", []byte(colours(program.Quiz().Look)))
}

// colours writes the colours of a look; those that are not given stay as they are.
// A release holds nothing but "#rrggbb".
func colours(l *quiz.Look) string {
	if l == nil {
		return ""
	}
	css := ""
	set := func(name, value string) {
		if value != "" {
			css += fmt.Sprintf("--%s:%s;", name, value)
		}
	}
	set("ink", l.Ink)
	if l.Ink != "" && l.Paper != "" {
		set("ink-2", softer(l.Ink, l.Paper, 0.88))
		set("ink-3", softer(l.Ink, l.Paper, 0.78))
		set("line", "color-mix(in srgb,"+l.Ink+" 24%,"+l.Paper+")")
	}
	set("paper", l.Paper)
	set("sheet", l.Paper)
	if l.Accent != "" {
		set("action", l.Accent)
		on := "#ffffff"
		if finding.Contrast(l.Accent, "#000000") > finding.Contrast(l.Accent, on) {
			on = "#000000"
		}
		set("on-action", on)
	}
	if css == "" {
		return ""
	}
	return ":root{" + css + "}"
}

// softer mixes a part of an ink with the paper, as far as it can still be read: a
// contrast of 4.5 to 1 (WCAG 2.2, 1.4.3).
func softer(ink, paper string, part float64) string {
	var a, b [3]int
	if _, err := fmt.Sscanf(ink+paper, "#%02x%02x%02x#%02x%02x%02x", &a[0], &a[1], &a[2], &b[0], &b[1], &b[2]); err != nil {
		return ink
	}
	mixed := "#"
	for i := range a {
		mixed += fmt.Sprintf("%02x", int(part*float64(a[i])+(1-part)*float64(b[i])))
	}
	if finding.Contrast(mixed, paper) < 4.5 {
		return ink
	}
	return mixed
}
