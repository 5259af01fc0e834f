// Package ui holds what all pages share: the layout, how a page is rendered,
// counts and shares in words, and the drawings.
package ui

import (
	"bytes"
	"embed"
	"fmt"
	"html/template"
	"io/fs"
	"net/http"
	"path"
	"strconv"
	"strings"
	"sync"
	"time"

	"golang.org/x/text/language"
	"golang.org/x/text/message"

	"omphalos/core/atlas"
	"omphalos/core/excerpt"
	"omphalos/core/inference"
	"omphalos/interchange/markdown"
	"omphalos/web/assets"
)

//go:embed *.html
var shared embed.FS

// Views are the parsed pages of one room.
type Views struct {
	rooms []fs.FS
	zone  func() *time.Location
	pages map[string]*template.Template
}

// Load parses templates: each page_*.html becomes a page, the other files are parts that
// every page may use, beside the shared ones.
func Load(rooms ...fs.FS) *Views {
	return LoadIn(func() *time.Location { return time.UTC }, rooms...)
}

// LoadIn is Load of pages that write times in the zone that it is then.
func LoadIn(zone func() *time.Location, rooms ...fs.FS) *Views {
	return &Views{rooms, zone, parsed(rooms, zone)}
}

func parsed(rooms []fs.FS, zone func() *time.Location) map[string]*template.Template {
	in := func(write func(time.Time) string) func(time.Time) string {
		return func(t time.Time) string { return write(t.In(zone())) }
	}
	base := template.New("").Funcs(functions).
		Funcs(template.FuncMap{"stamp": in(Stamp), "brief": in(brief), "ago": in(Ago)})
	template.Must(base.ParseFS(shared, "*.html"))
	pages := map[string]fs.FS{} // by file
	for _, room := range rooms {
		names, err := fs.Glob(room, "*.html")
		if err != nil {
			panic("ui: " + err.Error())
		}
		for _, name := range names {
			if strings.HasPrefix(name, "page_") {
				pages[name] = room
			} else {
				template.Must(base.ParseFS(room, name))
			}
		}
	}
	all := map[string]*template.Template{}
	for name, room := range pages {
		page := strings.TrimSuffix(strings.TrimPrefix(path.Base(name), "page_"), ".html")
		all[page] = template.Must(template.Must(base.Clone()).ParseFS(room, name))
		lean(all[page])
	}
	return all
}

// Page writes a page with a status. It is rendered whole before anything is sent.
func (v *Views) Page(w http.ResponseWriter, status int, page string, data any) error {
	body, err := v.Part(page, "layout", data)
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Content-Length", strconv.Itoa(len(body)))
	w.WriteHeader(status)
	_, err = w.Write(body)
	return err
}

// Part renders one template of a page.
func (v *Views) Part(page, name string, data any) ([]byte, error) {
	pages := v.pages
	if Developing() {
		rooms := make([]fs.FS, len(v.rooms))
		for i, room := range v.rooms {
			rooms[i] = onDisk(room)
		}
		pages = parsed(rooms, v.zone)
	}
	t := pages[page]
	if t == nil {
		return nil, fmt.Errorf("there is no page %q", page)
	}
	var b bytes.Buffer
	if err := t.ExecuteTemplate(&b, name, data); err != nil {
		return nil, fmt.Errorf("rendering %s: %w", name, err)
	}
	return b.Bytes(), nil
}

// inks are the colours in which standings are written; "" has none.
var inks = map[string]string{"fit": "text-fit", "keep warm": "text-warm", "not a fit": "text-unfit"}

var functions = template.FuncMap{
	"asset":     assets.Path,
	"markdown":  markdown.HTML,
	"icon":      icon,
	"iso":       func(t time.Time) string { return t.UTC().Format(time.RFC3339) },
	"dict":      dict,
	"either":    either,
	"heads":     heads,
	"helpon":    HelpOn,
	"helps":     func() []Help { return Helps },
	"lines":     func(words ...string) string { return strings.Join(words, " ") }, // a sentence of several lines
	"changing":  Developing,
	"plural":    Plural,
	"percent":   Percent,
	"count":     Count[int],
	"inline":    markdown.Inline,
	"mul":       func(a, b float64) float64 { return a * b },
	"plus":      func(a, b float64) float64 { return a + b },
	"float":     func(n int) float64 { return float64(n) },
	"less":      func(a, b float64) float64 { return a - b },
	"fit":       fit,
	"countries": atlas.Countries,
	"standings": func() []string { return []string{"fit", "keep warm", "not a fit"} },
	"inkof":     func(standing any) string { return inks[fmt.Sprint(standing)] },
	"inc":       func(i int) int { return i + 1 },
}

var icons sync.Map // name → template.HTML

// icon returns the drawing of an icon by its name in icons.svg.
func icon(name string) template.HTML {
	if found, ok := icons.Load(name); ok {
		return found.(template.HTML)
	}
	html := template.HTML(
		`<svg class="icon" aria-hidden="true"><use href="` + assets.Path(
			"icons.svg",
		) + `#` + template.HTMLEscapeString(name) + `"></use></svg>`,
	)
	icons.Store(name, html)
	return html
}

// fit shortens words to a width in pixels at the size of a drawing's labels.
func fit(words string, width float64) string {
	const perLetter = 7.2
	return excerpt.Of(words, max(int(width/perLetter), 1))
}

// dict lets a template give several values to a part.
func dict(pairs ...any) (map[string]any, error) {
	m := map[string]any{}
	for i := 0; i+1 < len(pairs); i += 2 {
		key, ok := pairs[i].(string)
		if !ok {
			return nil, fmt.Errorf("dict: %v is not a name", pairs[i])
		}
		m[key] = pairs[i+1]
	}
	return m, nil
}

// Stamp writes a time to the minute, with its zone.
func Stamp(t time.Time) string { return t.Format("2006-01-02 15:04 MST") }

// brief writes a time as it stands in a list: the year only where it is not this one.
func brief(t time.Time) string {
	if t.Year() != time.Now().Year() {
		return t.Format("2 Jan 2006")
	}
	return t.Format("2 Jan 15:04")
}

// either returns what stands where something is so, or where it is not: in the value of an
// attribute, where a condition of several lines has no place.
func either(so, yes, no any) any {
	if truth, _ := template.IsTrue(so); truth {
		return yes
	}
	return no
}

// A head of a column of a table, as a template says it: its words, and behind a line
// "number" where figures stand below, "hidden" where it is read out alone.
type head struct {
	Words          string
	Number, Hidden bool
}

func heads(said ...string) []head {
	list := make([]head, len(said))
	for i, s := range said {
		words, how, _ := strings.Cut(s, "|")
		list[i] = head{Words: words, Number: how == "number", Hidden: how == "hidden"}
	}
	return list
}

// Count writes a number of things, the thousands apart.
func Count[N int | int64](n N) string { return message.NewPrinter(language.English).Sprintf("%d", n) }

// Plural writes a number of things with the word for one of them or for many.
func Plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return Count(n) + " " + many
}

// Percent writes a share as inference.Percent does.
func Percent(share float64) string { return inference.Percent(share) }

// Ago writes a time as people say it: "just now", "5 min ago", or the date.
func Ago(t time.Time) string {
	switch d := time.Since(t); {
	case d < time.Minute:
		return "just now"
	case d < time.Hour:
		return fmt.Sprintf("%d min ago", int(d.Minutes()))
	case d < 24*time.Hour:
		return fmt.Sprintf("%d h ago", int(d.Hours()))
	}
	return t.Format("2 January 2006")
}

// Told returns a text as it is told where a link is shared: plain words, cut to 200 characters.
func Told(text string) string { return markdown.Words(text, 200) }
