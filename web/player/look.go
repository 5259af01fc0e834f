package player

import (
	"cmp"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"html/template"
	"maps"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/look"
	"omphalos/core/quiz"
	"omphalos/web/assets"
	"omphalos/web/ui"
)

// A dress is the look of a quiz as its pages wear it: classes of the page for the forms, a
// style sheet for colours, typefaces and pictures.
type dress struct {
	look.Dress
	Classes string
	Faces   []string // addresses of the files of typefaces that are fetched first
	css     string   // what the look says, beside the styles that all pages have
	version string   // changes with the style sheet
}

// sheet is the whole style sheet of the pages: one, so that a slow line fetches once.
func (d dress) sheet() []byte {
	all, err := assets.Read("player.css")
	if err != nil {
		panic("player: " + err.Error()) // it ships with it
	}
	return append(slices.Clip(all), d.css...)
}

// Icon is the picture of a tab, in the colours of the look: it is in the page, so that nothing is
// asked for on its behalf.
func (d dress) Icon() template.URL {
	colours := d.Light
	if d.Scheme == quiz.DarkOnly {
		colours = d.Dark
	}
	svg := `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 30 32">` +
		`<path d="M3 29C3 12 8 3 15 3s12 9 12 26Z" fill="` + colours.Sheet + `" stroke="` + colours.Accent +
		`" stroke-width="2.4" stroke-linejoin="round"/></svg>`
	return template.URL("data:image/svg+xml," + url.PathEscape(svg))
}

// plain is the address of the style sheet of pages that are of no quiz.
const plain = "/look/plain"

// undressed is what pages of no quiz wear.
var undressed = func() *released {
	worn := dressOf(&quiz.Quiz{})
	return &released{looks: plain + "?v=" + worn.version, dress: worn}
}()

// look sends the style sheet of a release. Its address changes with it.
func (p *player) look(c *gin.Context) {
	r := undressed
	if name := c.Param("release"); name != "plain" {
		id, err := strconv.ParseUint(name, 10, 32)
		if err == nil {
			r, err = p.released(c.Request.Context(), uint(id))
		}
		if err != nil {
			c.AbortWithStatus(http.StatusNotFound)
			return
		}
	}
	c.Header("Cache-Control", "public, max-age=31536000, immutable")
	p.sendSheet(c, r)
}

// sendSheet sends a style sheet, compressed once where the browser takes that.
func (p *player) sendSheet(c *gin.Context, r *released) {
	if ui.Developing() {
		c.Header("Cache-Control", "no-store")
	}
	assets.SendStyles(c.Writer, c.Request, r.dress.version, r.dress.sheet)
}

// dressOf returns how the pages of a quiz are dressed.
func dressOf(q *quiz.Quiz) dress {
	d := dress{Dress: look.Of(q.Look)}
	d.css = schemes[d.Scheme] + colours(d.Dress) + typefaces(d.Dress, q) + background(q.Look) + focuses(q)
	d.Faces = fetchedFirst(d.Dress, q)
	sum := sha256.Sum256([]byte(assets.Path("player.css") + d.css))
	d.version = hex.EncodeToString(sum[:5])
	d.Classes = strings.Join([]string{
		"made-" + string(d.Made), "weight-" + string(d.Weight), "corners-" + string(d.Corners),
		"density-" + string(d.Density), "width-" + string(d.Width), "align-" + string(d.Align),
		"answers-" + string(d.Answers), "buttons-" + string(d.Buttons),
		"ornament-" + string(d.Ornament),
	}, " ")
	if q.Look != nil && q.Look.Background != nil {
		d.Classes += " over-picture"
	}
	return d
}

// schemes are what a style sheet says about light and dark.
var schemes = map[quiz.Scheme]string{
	quiz.AsDevice:  ":root{color-scheme:light dark}",
	quiz.LightOnly: ":root{color-scheme:light}",
	quiz.DarkOnly:  ":root{color-scheme:dark}",
}

// tokens are the names of styles for the roles of a palette.
var tokens = map[string][]string{
	"soft":      {"ink-2", "ink-3"},
	"line":      {"line", "line-2"},
	"accent":    {"action"},
	"on-accent": {"on-action"},
	"wrong":     {"unfit"},
	"right":     {"fit"},
}

// colours writes the colours of a look, "#rrggbb" all, as tokens for light, dark or both.
func colours(d look.Dress) string {
	css := ":root{"
	dark := d.Dark.Roles()
	for i, role := range d.Light.Roles() {
		names := tokens[role.Name]
		if names == nil {
			names = []string{role.Name}
		}
		for _, name := range names {
			switch d.Scheme {
			case quiz.LightOnly:
				css += fmt.Sprintf("--color-%s:%s;", name, role.Colour)
			case quiz.DarkOnly:
				css += fmt.Sprintf("--color-%s:%s;", name, dark[i].Colour)
			default:
				css += fmt.Sprintf("--color-%s:light-dark(%s,%s);", name, role.Colour, dark[i].Colour)
			}
		}
	}
	return css + "}" + moreContrast
}

// moreContrast has words and lines stand out for those who want that.
const moreContrast = "@media (prefers-contrast:more){:root{" +
	"--color-ink-2:var(--color-ink);--color-ink-3:var(--color-ink);--color-line:var(--color-ink);" +
	"--color-line-2:var(--color-ink);--color-edge:var(--color-ink)}}"

// background writes the picture behind the pages.
func background(l *quiz.Look) string {
	if l == nil || l.Background == nil {
		return ""
	}
	source := strings.NewReplacer(`"`, "%22", `\`, "%5C", "\n", "", "\r", "").Replace(l.Background.Source)
	at := "center"
	if f := l.Background.Focus; f != nil {
		at = fmt.Sprintf("%d%% %d%%", f.X, f.Y)
	}
	return `html{background:var(--color-paper) url("` + source + `") ` + at + `/cover fixed}`
}

// focuses writes, for each point on which a picture of the quiz is to be seen, where its crop
// lies. Pages name them by class, since they may hold no styles.
func focuses(q *quiz.Quiz) string {
	points := map[quiz.Focus]bool{}
	for _, p := range q.Pictures() {
		if p.Focus != nil {
			points[*p.Focus] = true
		}
	}
	css := ""
	for _, f := range slices.SortedFunc(maps.Keys(points), func(a, b quiz.Focus) int {
		return cmp.Or(cmp.Compare(a.X, b.X), cmp.Compare(a.Y, b.Y))
	}) {
		css += fmt.Sprintf(".%s{object-position:%d%% %d%%}", focusClass(f), f.X, f.Y)
	}
	return css
}

func focusClass(f quiz.Focus) string { return fmt.Sprintf("focus-%d-%d", f.X, f.Y) }
