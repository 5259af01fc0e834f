package player

import (
	"bytes"
	"html/template"
	"log/slog"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"
	"golang.org/x/text/language"
	"golang.org/x/text/language/display"

	"omphalos/core/program"
)

// A quiz that is in several languages is asked in the one that the visitor's browser wants,
// or that an address names: /q/hives?in=de. A passage stays in the language in which it was
// begun, which is that of its visitor.

// languageParameter names, in an address, the language of a page.
const languageParameter = "in"

// in returns a release in a language, worked out once for each; itself where the quiz is in no
// such language.
func (r *released) in(spoken string) *released {
	if r.written != nil {
		r = r.written
	}
	if r.program == nil || r.program.Quiz.Translations[spoken] == nil {
		return r
	}
	r.speaking.Lock()
	defer r.speaking.Unlock()
	if one := r.spoken[spoken]; one != nil {
		return one
	}
	compiled, err := program.CompileReleased(r.program.Quiz.In(spoken))
	if err != nil {
		slog.Error("compiling a quiz in another language", "language", spoken, "error", err)
		return r
	}
	one := r.dressedAt(r.looks)
	one.program, one.written = compiled, r
	one.dress.Faces = fetchedFirst(one.dress.Dress, compiled.Quiz)
	if r.spoken == nil {
		r.spoken = map[string]*released{}
	}
	r.spoken[spoken] = one
	return one
}

// dressedAt is the same with its style sheet at another address.
func (r *released) dressedAt(looks string) *released {
	return &released{
		looks:     looks,
		dress:     r.dress,
		program:   r.program,
		odds:      r.odds,
		remaining: r.remaining,
		written:   r.written,
	}
}

// languages are those that the quiz is in, nil where it is in one.
func (r *released) languages() []string {
	if r.written != nil {
		r = r.written
	}
	if r.program == nil || len(r.program.Quiz.Translations) == 0 {
		return nil
	}
	return r.program.Quiz.Languages()
}

// wanted returns the release in the language that a request wants.
func (r *released) wanted(c *gin.Context) *released {
	all := r.languages()
	if all == nil {
		return r
	}
	c.Writer.Header().Add("Vary", "Accept-Language")
	if named := c.Query(languageParameter); slices.Contains(all, named) {
		return r.in(named)
	}
	tags := make([]language.Tag, len(all))
	for i, one := range all {
		tags[i] = language.Make(one)
	}
	_, at := language.MatchStrings(language.NewMatcher(tags), c.GetHeader("Accept-Language"))
	return r.in(all[at])
}

// tell says of a visitor in which language they take a quiz that is in several.
func (r *released) tell(c *gin.Context, v *program.Visitor) {
	switch {
	case r.written != nil:
		v.Language = r.program.Quiz.Language()
	case slices.Contains(r.languages(), c.Query(languageParameter)):
		v.Language = c.Query(languageParameter)
	}
}

// A way to a page in another language.
type languageWay struct {
	Language, Name string // its own name
	Address        string
	Whole          string // with the site, for search engines
	Here           bool
}

type languageWays []languageWay

// of has whole addresses be those of a site.
func (list languageWays) of(site string) languageWays {
	for i := range list {
		list[i].Whole = strings.Replace(list[i].Whole, home, site, 1)
	}
	return list
}

// languageWays are the ways from a page of a quiz's address to the same in the other languages.
func (r *released) languageWays(at string, query url.Values) languageWays {
	var list languageWays
	here := r.program.Quiz.Language()
	for _, one := range r.languages() {
		to := url.Values{}
		for name, values := range query {
			to[name] = values
		}
		to.Set(languageParameter, one)
		list = append(list, languageWay{
			one, display.Self.Name(language.Make(one)), "?" + to.Encode(),
			home + at + "?" + languageParameter + "=" + one, one == here,
		})
	}
	return list
}

// withQuery has the ways to other languages, in a page that was rendered once, keep what else
// the address says.
func withQuery(html []byte, query url.Values) []byte {
	query.Del(languageParameter)
	if len(query) == 0 {
		return html
	}
	kept := template.HTMLEscapeString("?" + query.Encode() + "&" + languageParameter + "=")
	return bytes.ReplaceAll(html, []byte(`href="?`+languageParameter+`=`), []byte(`href="`+kept))
}

// inLanguage is an address of a page of a quiz with the language that it is in, where the quiz
// is in others beside that.
func (r *released) inLanguage(address string) string {
	if r.written == nil {
		return address
	}
	return address + "?" + languageParameter + "=" + r.program.Quiz.Language()
}
