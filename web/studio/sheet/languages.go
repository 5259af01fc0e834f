package sheet

import (
	"cmp"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"
	"golang.org/x/text/language"
	"golang.org/x/text/language/display"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/store"
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

// A textPlace is texts that stand together: those of a question, of an outcome.
type textPlace struct {
	Name string
	At   string // where it stands on the sheet
	List []textLine
}

type textLine struct {
	quiz.Text
	What string // what it is: "help", "answer"
	Said string // in the other language
	Was  string // what Said was when the page was shown
	Old  string // what it was said of, where that is another by now
	Rows int
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
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	sh, err := s.Read(c, z)
	if err != nil {
		s.Fail(c, err)
		return
	}
	page := languagesPage{
		Frame: s.Frame(c, "Languages of "+z.Title, "sheet", z), OwnTag: sh.Doc.Language(),
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

// texts are the texts of the quiz by place, with what they are in a language.
func (sh *Sheet) texts(in string, typed map[string]string) []textPlace {
	var list []textPlace
	words := sh.Doc.Translations[in]
	for _, t := range sh.Doc.Texts() {
		name, at := sh.placeOf(t.At)
		if len(list) == 0 || list[len(list)-1].Name != name {
			list = append(list, textPlace{Name: name, At: at})
		}
		line := textLine{Text: t, What: whatIs(t.At), Said: words[t.At].Text, Was: words[t.At].Text}
		if of := words[t.At].Of; of != "" && of != t.Words {
			line.Old = of
		}
		if said, is := typed[string(t.At)]; is {
			line.Said = said
		}
		line.Rows = 1 + min(len(t.Words)/60+strings.Count(t.Words, "\n"), 8)
		place := &list[len(list)-1]
		place.List = append(place.List, line)
	}
	return list
}

// placeOf names what a text belongs to, and says where that stands on the sheet.
func (sh *Sheet) placeOf(at quiz.Pointer) (name, jump string) {
	keys := at.Keys()
	jump = "#" + sh.Jump(at)
	switch {
	case at.Fits("/questions/*/**"):
		return sh.Where(quiz.At("questions", keys[1])), jump
	case at.Fits("/outcomes/*/**"):
		return fmt.Sprintf("%s: %s", sh.Where(at), sh.Doc.Outcomes[keys[1]].Name), jump
	case keys[0] == "look":
		return "Where it is shared", jump
	case keys[0] == "settings":
		return "Buttons", jump
	case keys[0] == "scales":
		return "Scores", jump
	case keys[0] == "title":
		return "Quiz", jump
	}
	return sh.Where(at), jump
}

// whats are what texts are, by the form of their places.
var whats = []struct{ form, what string }{
	{"/title", "title"},
	{"/questions/*/answers/*/label", "answer"},
	{"/questions/*/answers/*/note", "line below the answer"},
	{"/questions/*/rows/*/label", "row"},
	{"/questions/*/label", "question"},
	{"/contact/fields/*/label", "field"},
	{"/scales/*/name", "name of the score"},
	{"/scales/*/fees/*/name", "line of the bill"},
}

// fieldWords are what texts are by the last part of their place.
var fieldWords = map[string]string{
	"heading": "heading", "text": "text", "button": "button", "help": "help", "note": "note", "reason": "why it is right",
	"unit": "unit", "lowWords": "at the low end", "highWords": "at the high end", "headline": "headline",
	"label": "words on it",
	"title": "title", "subject": "subject", "next": "going on", "back": "going back", "finish": "going on at the end",
}

func whatIs(at quiz.Pointer) string {
	if strings.HasSuffix(string(at), "/picture/description") {
		return "what the picture shows"
	}
	for _, w := range whats {
		if at.Fits(w.form) {
			return w.what
		}
	}
	return fieldWords[at.Key()]
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

// changeLanguages keeps what was written in a language, adds one or takes one away.
func (s *Room) changeLanguages(c *gin.Context) {
	in := c.PostForm("in")
	at := quiz.At("translations", in)
	switch c.PostForm("do") {
	case "add":
		s.editLanguages(c, in, func(q *quiz.Quiz) []edit.Op {
			if q.Translations == nil {
				return []edit.Op{{Op: "add", Path: "/translations", Value: map[string]any{in: map[string]any{}}}}
			}
			return []edit.Op{{Op: "add", Path: at, Value: map[string]any{}}}
		})
	case "remove":
		s.editLanguages(c, "", func(q *quiz.Quiz) []edit.Op {
			if q.Translations[in] == nil {
				return nil
			}
			return []edit.Op{{Op: "remove", Path: at}}
		})
	default:
		s.editLanguages(c, in, func(q *quiz.Quiz) []edit.Op { return written(c, q, in) })
	}
}

// The fields of a text begin with these; its pointer follows.
const (
	saidField = "said:"
	wasField  = "was:"
	ofField   = "of:"
	fitsField = "fits:" // what it says fits the words that stand there now
)

// written is what a form changes of a language: only what was typed into, so that two who
// write at once don't undo each other.
func written(c *gin.Context, q *quiz.Quiz, in string) []edit.Op {
	var ops []edit.Op
	words := q.Translations[in]
	for _, t := range q.Texts() {
		name := string(t.At)
		said, sent := c.GetPostForm(saidField + name)
		said = strings.TrimSpace(strings.ReplaceAll(said, "\r\n", "\n"))
		if !sent || said == strings.TrimSpace(strings.ReplaceAll(c.PostForm(wasField+name), "\r\n", "\n")) &&
			c.PostForm(fitsField+name) == "" {
			continue
		}
		at := quiz.At("translations", in, name)
		_, there := words[t.At]
		switch {
		case said == "" && there:
			ops = append(ops, edit.Op{Op: "remove", Path: at})
		case said != "":
			of := strings.ReplaceAll(c.PostForm(ofField+name), "\r\n", "\n")
			ops = append(ops, edit.Op{Op: "add", Path: at, Value: quiz.Translated{Text: said, Of: of}})
		}
	}
	return ops
}

// editLanguages keeps an edit of the languages and shows one of them. What could not be kept
// is shown again as it was typed.
func (s *Room) editLanguages(c *gin.Context, then string, ops func(q *quiz.Quiz) []edit.Op) {
	z, q, ok := s.DraftOf(c)
	if !ok {
		return
	}
	room := desk.Address(z) + "/languages"
	if then != "" {
		room += "?in=" + then
	}
	var change *edit.Change
	err := store.ErrStale
	for tries := 0; tries < 3 && errors.Is(err, store.ErrStale); tries++ {
		if tries > 0 { // somebody edits meanwhile: what is meant stays the same
			if z, q, ok = s.DraftOf(c); !ok {
				return
			}
		}
		list := ops(q)
		if len(list) == 0 {
			c.Redirect(http.StatusSeeOther, room)
			return
		}
		_, change, err = s.Store.Definitions.Edit(c.Request.Context(), z.ID, z.Revision,
			[]byte(desk.PatchText(list)), s.User(c))
	}
	if err != nil {
		typed := map[string]string{}
		for name, values := range c.Request.PostForm {
			if at, is := strings.CutPrefix(name, saidField); is && len(values) > 0 {
				typed[at] = values[0]
			}
		}
		wrong := cmp.Or(desk.Unkept(err), "This could not be kept just now: send it again.")
		s.showLanguages(c, http.StatusUnprocessableEntity, wrong+" What was written is still here.", typed)
		return
	}
	s.Say(c, change.Sentence+". Undo on the sheet takes that back.", "")
	c.Redirect(http.StatusSeeOther, room)
}
