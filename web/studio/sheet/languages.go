package sheet

import (
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"
	"golang.org/x/text/language"
	"golang.org/x/text/language/display"

	"omphalos/core/quiz"
	"omphalos/web/player"
	"omphalos/web/studio/desk"
)

// A languagesPage is the room in which a quiz is put into other languages: what it says, and
// beside that what it says so in one of them.
type languagesPage struct {
	desk.Frame
	Own      string // name of the language in which the quiz was written
	OwnTag   string
	Spoken   []spokenIn
	Open     *spokenIn // the one that is written in
	Places   []textPlace
	Offered  []languageGroup
	Wrong    string
	Revision int
}

// A spokenIn is a language that a quiz is in, and how much of it.
type spokenIn struct {
	Language, Name string
	Direction      string
	Missing, Old   int
	Address        string
}

// Words say how far it is.
func (s spokenIn) Words() string {
	switch {
	case s.Missing > 0:
		return fmt.Sprintf("%s missing", quiz.Count(s.Missing, "text"))
	case s.Old > 0:
		return fmt.Sprintf("%s to look at", quiz.Count(s.Old, "text"))
	}
	return "whole"
}

type languageGroup struct {
	Name string
	List []desk.Option
}

// spoken are the languages that the quiz is in beside its own.
func (sh *Sheet) spoken() []spokenIn {
	var list []spokenIn
	for _, in := range sh.Doc.Languages()[1:] {
		one := spokenIn{Language: in, Name: quiz.LanguageName(in), Direction: quiz.Direction(in),
			Address: desk.Address(sh.Quiz) + "/languages?in=" + in}
		one.Missing, one.Old = sh.Doc.Gaps(in)
		list = append(list, one)
	}
	return list
}

// languages shows what a quiz says, in two languages.
func (s *Room) languages(c *gin.Context) { s.showLanguages(c, http.StatusOK, "", nil) }

// showLanguages shows the room, with what was typed and could not be kept.
func (s *Room) showLanguages(c *gin.Context, status int, wrong string, typed map[string]string) {
	sh, ok := s.asked(c)
	if !ok {
		return
	}
	page := languagesPage{
		Frame: s.Frame(c, "Languages of "+sh.Quiz.Title, "sheet", sh.Quiz), OwnTag: sh.Doc.Language(),
		Own:    quiz.LanguageName(sh.Doc.Language()),
		Spoken: sh.spoken(), Offered: offeredLanguages(sh.Doc), Wrong: wrong,
	}
	for i := range page.Spoken {
		if page.Spoken[i].Language == c.Query("in") {
			page.Open = &page.Spoken[i]
		}
	}
	if page.Open == nil && len(page.Spoken) > 0 {
		page.Open = &page.Spoken[0]
	}
	if page.Open != nil {
		page.Places = sh.texts(page.Open.Language, typed)
	}
	s.Show(c, status, "languages", page)
}

// knownLanguages are those with a name, by that.
var knownLanguages = sync.OnceValue(func() []string {
	var list []string
	for _, tag := range display.Supported.Tags() {
		base, confidence := tag.Base()
		if confidence == language.Exact && tag.String() == base.String() && len(base.String()) == 2 {
			list = append(list, base.String())
		}
	}
	slices.SortFunc(list, func(a, b string) int { return strings.Compare(quiz.LanguageName(a), quiz.LanguageName(b)) })
	return slices.Compact(list)
})

// offeredLanguages are those that a quiz is not in yet: first those that respondents' pages
// speak by themselves.
func offeredLanguages(q *quiz.Quiz) []languageGroup {
	spoken := languageGroup{Name: "The pages’ own words are there"}
	others := languageGroup{Name: "The pages’ own words stay in English"}
	is, own := q.Languages(), player.Languages()
	for _, one := range knownLanguages() {
		option := desk.Option{Value: one, Name: quiz.LanguageName(one)}
		switch {
		case slices.Contains(is, one):
		case slices.Contains(own, one):
			spoken.List = append(spoken.List, option)
		default:
			others.List = append(others.List, option)
		}
	}
	return []languageGroup{spoken, others}
}
