package sheet

import (
	"cmp"
	"errors"
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/look"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/player"
	"omphalos/web/studio/desk"
)

// A dressPart is the look of respondents' pages: the made look it begins from, each of its
// parts as a word of a sentence, and its colours with how they read.
type dressPart struct {
	Made   []madeCard
	Name   string // of the made look
	Parts  []lookPick
	Scheme lookPick
	Sets   []colourSet
	Kept   string // name of the kept look that the quiz wears, "" for one of its own
	Own    string // patch that makes it its own
	Wears  []keptChoice
	Logo   string // address of what its logo's colours make, "" where it has none
	Ships  string // patch that takes back what is set beside the made look, "" where nothing is
}

// A keptChoice is a look of the workspace that the quiz may wear.
type keptChoice struct{ Name, Patch string }

// A madeCard is a made look to choose, drawn small in its own colours and forms.
type madeCard struct {
	Key, Name, Says string
	Chosen          bool
	Dress           look.Dress
	Rows            []float64    // where its answers begin
	Ground          look.Palette // as it is seen first
}

// passes tells whether outcomes are passed on.
func (sh *Sheet) passes() bool {
	s := sh.Doc.Settings
	return s != nil && s.Results != nil && s.Results.PassOn
}

func (sh *Sheet) passedOn(o *quiz.Outcome) quiz.Shared {
	if o.Shared == nil {
		return quiz.Shared{}
	}
	return *o.Shared
}

func (sh *Sheet) dress() dressPart {
	l := sh.Doc.Look
	if l == nil {
		l = &quiz.Look{}
	}
	ships := look.Of(&quiz.Look{Made: l.Made})
	p := dressPart{Name: wordOf(ships.Made, "")}
	for _, made := range quiz.Mades {
		d := look.Of(&quiz.Look{Made: made})
		card := madeCard{Key: string(made), Name: wordOf(made, ""), Says: madeSays[made],
			Chosen: made == ships.Made, Dress: d, Ground: d.Light, Rows: []float64{42, 57, 72}}
		if d.Scheme == quiz.DarkOnly {
			card.Ground = d.Dark
		}
		p.Made = append(p.Made, card)
	}
	p.Parts = []lookPick{
		pickOf("Headings are set in", "Typeface of headings", "", "/look/headings", l.Headings,
			cmp.Or(l.Typeface, ships.Headings), quiz.Typefaces, ""),
		pickOf("and are", "Weight of headings", ";", "/look/weight", l.Weight, ships.Weight, quiz.Weights, "weight"),
		pickOf("texts are set in", "Typeface", ".", "/look/typeface", l.Typeface, ships.Typeface, quiz.Typefaces, ""),
		pickOf("Lines begin", "Where lines begin", ";", "/look/align", l.Align, ships.Align, quiz.Aligns, ""),
		pickOf("the page is", "Width of the page", "", "/look/width", l.Width, ships.Width, quiz.Widths, ""),
		pickOf("and has around its words", "What is around the words", ".", "/look/ornament", l.Ornament,
			ships.Ornament, quiz.Ornaments, ""),
		pickOf("Answers stand", "How answers look", ",", "/look/answers", l.Answers, ships.Answers, quiz.AnswerForms, ""),
		pickOf("", "How far apart things are", ";", "/look/density", l.Density, ships.Density, quiz.Densities, ""),
		pickOf("corners are", "Corners", ",", "/look/corners", l.Corners, ships.Corners, quiz.CornerForms, ""),
		pickOf("buttons", "How buttons look", ".", "/look/buttons", l.Buttons, ships.Buttons, quiz.ButtonForms, ""),
		pickOf("How far one has come is told by", "How progress is shown", ";", "/look/progress", l.Progress,
			ships.Progress, quiz.Progresses, ""),
		pickOf("pictures of the opening and of results stand", "Where pictures stand", ".", "/look/layout",
			l.Layout, ships.Layout, quiz.Layouts, "layout"),
	}
	p.Scheme = pickOf("Pages are", "Light or dark", ".", "/look/scheme", l.Scheme,
		look.Of(&quiz.Look{Made: l.Made, Colours: l.Colours, Dark: l.Dark}).Scheme, quiz.Schemes, "")
	p.Sets = colourSets(l)
	if plain := (quiz.Look{Made: l.Made, Kept: l.Kept, Owner: l.Owner, Logo: l.Logo, Background: l.Background,
		Shared: l.Shared}); plain != *l {
		p.Ships = desk.PatchText([]edit.Op{{Op: "add", Path: "/look", Value: plain}})
	}
	p.keep(l, sh.looks)
	if l.Logo != nil && !l.Logo.Elsewhere() {
		p.Logo = fmt.Sprintf("/studio/quizzes/%d/look/logo", sh.Quiz.ID)
	}
	return p
}

// keep fills in the looks that the workspace keeps.
func (p *dressPart) keep(l *quiz.Look, looks []store.KeptLook) {
	for _, k := range looks {
		if k.Key == l.Kept {
			p.Kept, p.Own = k.Name, desk.Removal("/look/kept")
			continue
		}
		worn := k.Look
		worn.Shared = l.Shared
		p.Wears = append(p.Wears, keptChoice{k.Name, desk.PatchText([]edit.Op{{Op: "add", Path: "/look", Value: worn}})})
	}
}

// showings lists the pages of a draft that can be looked at, as options.
func (s *Room) showings(c *gin.Context) {
	_, q, ok := s.DraftOf(c)
	if !ok {
		return
	}
	html, err := s.Views.Part("sheet", "showings", player.Showings(q))
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Data(http.StatusOK, "text/html; charset=utf-8", html)
}

// keepLook keeps the look of a draft under a name, and answers with its key.
func (s *Room) keepLook(c *gin.Context) {
	z, ok := s.known(c)
	if !ok {
		return
	}
	q, err := z.Document()
	if err != nil {
		s.refuse(c, z.ID, err)
		return
	}
	worn := quiz.Look{}
	if q.Look != nil {
		worn = *q.Look
	}
	var asked struct{ Name string }
	if err := c.ShouldBindJSON(&asked); err != nil {
		c.JSON(http.StatusBadRequest, update{Message: "The request can't be read. Load the page again."})
		return
	}
	key, err := s.Store.Definitions.KeepLook(c.Request.Context(), asked.Name, worn)
	switch {
	case errors.Is(err, store.ErrLookName), errors.Is(err, store.ErrLooks):
		c.JSON(http.StatusUnprocessableEntity, update{Message: desk.SentenceOf(err.Error())})
	case err != nil:
		s.refuse(c, z.ID, err)
	default:
		c.JSON(http.StatusOK, gin.H{"key": key})
	}
}
