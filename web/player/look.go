package player

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/finding"
	"omphalos/core/quiz"
	"omphalos/web/assets"
)

// look sends the colours, the typeface and the background of a release as a style sheet. It never changes.
func (p *player) look(c *gin.Context) {
	id, err := strconv.ParseUint(c.Param("release"), 10, 32)
	if err != nil {
		c.AbortWithStatus(http.StatusNotFound)
		return
	}
	r, err := p.released(c.Request.Context(), uint(id))
	if err != nil {
		c.AbortWithStatus(http.StatusNotFound)
		return
	}
	c.Header("Cache-Control", "public, max-age=31536000, immutable")
	c.Data(http.StatusOK, "text/css; charset=utf-8", []byte(dress(r.program.Quiz.Look)))
}

// dress writes the style sheet of a look, "" where all stays as it is.
func dress(l *quiz.Look) string {
	if l == nil {
		return ""
	}
	css := colours(l)
	if face, known := faces[l.Typeface]; known {
		for _, part := range []struct{ name, letters string }{{"latin", "U+0000-00FF,U+0131,U+0152-0153,U+02BB-02BC,U+02C6,U+02DA,U+02DC,U+2000-206F,U+20AC,U+2122"}, {"latin-ext", "U+0100-02BA,U+1E00-1E9F,U+1EF2-1EFF,U+20A0-20AB"}} {
			css += fmt.Sprintf(
				`@font-face{font-family:"Chosen";src:url(%q) format("woff2");font-weight:100 900;font-display:optional;unicode-range:%s}`,
				assets.Path(face.file+"-"+part.name+".woff2"),
				part.letters,
			)
		}
		css += `body{font-family:"Chosen",` + face.instead + `}`
	}
	if l.Background != nil {
		source := strings.NewReplacer(`"`, "%22", `\`, "%5C", "\n", "", "\r", "").Replace(l.Background.Source)
		css += `html{background:var(--color-paper) url("` + source + `") center/cover fixed}`
	}
	return css
}

// faces are the typefaces beside the application's own.
var faces = map[quiz.Typeface]struct{ file, instead string }{
	quiz.Literata: {"literata", "Georgia,serif"},
	quiz.Atkinson: {"atkinson-hyperlegible-next", "system-ui,sans-serif"},
}

// colours writes the colours of a look; those that are not given stay as they are.
// A release holds nothing but "#rrggbb".
func colours(l *quiz.Look) string {
	css := ""
	set := func(name, value string) {
		if value != "" {
			css += fmt.Sprintf("--color-%s:%s;", name, value)
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
