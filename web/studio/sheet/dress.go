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
	"omphalos/interchange/postcard"
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

// A lookPick is a part of a look as a word of a sentence: the words before it and what is after it, and what it may be.
type lookPick struct {
	Before, Label, After string
	Path                 quiz.Pointer
	Choices              []choice
	Chosen               string
	None                 string
}

// A colourSet is the colours in the light or in the dark.
type colourSet struct {
	Name, Says string
	Path       quiz.Pointer
	Colours    []colourField
	Reads      []reading
	Shown      bool // respondents may see it
}

// A colourField is a colour that can be set.
type colourField struct {
	Label, Role string
	Path        quiz.Pointer
	Set, Worn   string // as it was set, "" for as it ships; as it is worn
}

// A reading is a pair of colours that meet, as it is read.
type reading struct {
	Words       string
	Over, Under string
	Ratio       string
	Better      string // as it would read, "" where it reads well
}

// names of what a look may be, as a sentence has them.
var lookWords = map[string]string{
	"almanac": "Almanac", "poster": "Poster", "night": "Night", "letter": "Letter", "fair": "Fair",
	"porcelain": "Porcelain", "notebook": "Notebook", "salon": "Salon",
	"device": "light or dark, as the device is", "light": "always light", "dark": "always dark",
	"commissioner": "Commissioner", "literata": "Literata", "atkinson": "Atkinson", "fraunces": "Fraunces",
	"bricolage": "Bricolage", "shantell": "Shantell",
	"weight.light": "light", "strong": "strong", "heavy": "heavy",
	"square": "square", "soft": "a little rounded", "round": "round",
	"close": "close together", "even": "evenly apart", "airy": "far apart",
	"narrow": "narrow", "middle": "of a middle width", "wide": "wide",
	"start": "at the margin", "centre": "in the middle",
	"lines": "between lines", "dots": "over dotted lines", "blocks": "as filled blocks", "boxes": "in boxes",
	"solid": "filled", "across": "filled, as wide as the page", "outlined": "outlined",
	"knots": "knots", "bar": "a bar", "words": "words", "none": "nothing",
	"sheet": "a sheet", "rule": "a line beside headings", "ruled": "ruled paper", "tiles": "a band of tiles",
	"frame": "a frame",
	"above": "above the words", "centred": "above, in the middle", "beside": "beside the words",
	"full":   "from edge to edge",
	"behind": "behind the words", "letter.layout": "below the words, as in a letter",
	"rows": "below each other", "two": "two across", "three": "three across", "cards": "as cards",
	"ruler.scores": "on a ruler", "bars.scores": "as bars, all scales", "wheel.scores": "as a wheel, all scales",
	"leaders.scores": "as bars, what contended to decide",
	"slider":         "by a slider", "points": "by its points",
}

// madeSays is a line on each made look.
var madeSays = map[quiz.Made]string{
	quiz.Almanac:   "a reference book: hairlines and knots",
	quiz.Poster:    "warm paper, a picture across, cards",
	quiz.Night:     "dark, with bright lines",
	quiz.Letter:    "somebody wrote to them",
	quiz.Fair:      "one loud colour, blocks",
	quiz.Porcelain: "white and cobalt, tiles",
	quiz.Notebook:  "ruled paper and a hand",
	quiz.Salon:     "quiet, in the middle, framed",
}

func wordOf[T ~string](value T, kind string) string {
	return cmp.Or(lookWords[kind+"."+string(value)], lookWords[string(value)+"."+kind],
		lookWords[string(value)], string(value))
}

// pickOf is a part of a look: what is set, what it may be, and what it is where nothing is set.
func pickOf[T ~string](before, label, after string, path quiz.Pointer, set, ships T, all []T, kind string) lookPick {
	p := lookPick{Before: before, Label: label, After: after, Path: path, Chosen: string(set), None: wordOf(ships, kind)}
	for _, one := range all {
		if one != ships || one == set {
			p.Choices = append(p.Choices, choice{Key: string(one), Name: wordOf(one, kind)})
		}
	}
	return p
}

// layoutPick says where a picture stands, of an opening or a result.
func (sh *Sheet) layoutPick(path quiz.Pointer, set quiz.Layout, of string) lookPick {
	return pickOf("The picture stands", "Where the picture of "+of+" stands", "", path+"/layout", set,
		look.Of(sh.Doc.Look).Layout, quiz.Layouts, "layout")
}

// answersPick says how the answers of a question stand to each other; nil where there is one
// way only. Path is to be put in front.
func answersPick(q *quiz.Question) *lookPick {
	switch q.Kind {
	case quiz.Single, quiz.YesNo, quiz.Several:
		p := pickOf("Answers stand", "How its answers stand", "", "/layout", q.Layout, quiz.InRows,
			quiz.AnswerLayouts[:4], "")
		return &p
	case quiz.Pictures:
		p := pickOf("Pictures stand", "How its pictures stand", "", "/layout", q.Layout, quiz.TwoAcross,
			quiz.AnswerLayouts[1:4], "")
		return &p
	case quiz.Rating:
		p := pickOf("It is answered", "How it is answered", "", "/layout", q.Layout, "points",
			[]quiz.AnswerLayout{quiz.AsSlider}, "")
		return &p
	}
	return nil
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

// colourSets are the colours of a look in the light and in the dark.
func colourSets(l *quiz.Look) []colourSet {
	d := look.Of(l)
	dark := l.Dark
	if dark == nil {
		dark = &quiz.Colours{}
	}
	shown := d.Shown()
	_, light := shown["/look"]
	_, night := shown["/look/dark"]
	return []colourSet{
		colourSetOf("In the light", "/look", l.Colours, d.Given, d.Light, light),
		colourSetOf("In the dark", "/look/dark", *dark, d.GivenDark, d.Dark, night),
	}
}

func colourSetOf(name string, path quiz.Pointer, set, worn quiz.Colours, p look.Palette, shown bool) colourSet {
	return colourSet{
		Name: name, Path: path, Shown: shown,
		Colours: []colourField{
			{"paper", "Paper", path + "/paper", set.Paper, worn.Paper},
			{"sheet", "Sheet", path + "/sheet", set.Sheet, worn.Sheet},
			{"words", "Ink", path + "/ink", set.Ink, worn.Ink},
			{"what can be pressed", "Accent", path + "/accent", set.Accent, worn.Accent},
			{"scores and stars", "Mark", path + "/mark", set.Mark, worn.Mark},
		},
		Reads: []reading{
			readingOf("Words on the paper", p.Ink, p.Paper, look.TextContrast),
			readingOf("Words on the sheet", p.Ink, p.Sheet, look.TextContrast),
			readingOf("Words that say less", p.Soft, p.Sheet, look.TextContrast),
			readingOf("Words on a button", p.OnAccent, p.Accent, look.TextContrast),
			readingOf("A button on the paper", p.Accent, p.Paper, look.ShapeContrast),
		},
	}
}

func readingOf(words, over, under string, enough float64) reading {
	ratio := look.Contrast(over, under)
	r := reading{Words: words, Over: over, Under: under, Ratio: fmt.Sprintf("%.1f", float64(int(ratio*10))/10)}
	if ratio < enough {
		r.Better = look.Readable(over, enough, under)
	}
	return r
}

// reads tells how colours would read that are not kept yet: a piece of the sheet.
func (s *Room) reads(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	q, err := z.Document()
	if err != nil {
		s.Fail(c, err)
		return
	}
	l := quiz.Look{}
	if q.Look != nil {
		l = *q.Look
	}
	into, at := &l.Colours, 0
	if c.Query("at") == "/look/dark" {
		dark := quiz.Colours{}
		if l.Dark != nil {
			dark = *l.Dark
		}
		l.Dark = &dark
		into, at = l.Dark, 1
	}
	for name, place := range map[string]*string{"paper": &into.Paper, "sheet": &into.Sheet, "ink": &into.Ink,
		"accent": &into.Accent, "mark": &into.Mark} {
		if colour, given := c.GetQuery(name); given && look.Contrast(colour, colour) > 0 {
			*place = colour
		}
	}
	html, err := s.Views.Part("sheet", "reads", colourSets(&l)[at].Reads)
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Data(http.StatusOK, "text/html; charset=utf-8", html)
}

// showings lists the pages of a draft that can be looked at, as options.
func (s *Room) showings(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	q, err := z.Document()
	if err != nil {
		s.Fail(c, err)
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

// A brand is what the colours of a logo make.
type brand struct {
	Found []string // the logo's colours
	Light look.Palette
	Dark  look.Palette
	Take  string // patch that takes them
}

// logoColours answers with what the colours of a quiz's logo make: a piece of the sheet.
func (s *Room) logoColours(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	q, err := z.Document()
	if err != nil {
		s.Fail(c, err)
		return
	}
	var b brand
	if q.Look != nil && q.Look.Logo != nil {
		data, err := player.PictureData(c.Request.Context(), s.Store, q.Look.Logo)
		if err != nil {
			s.Fail(c, err)
			return
		}
		if img, err := postcard.Picture(data); err == nil {
			b.Found = look.ColoursOf(img)
		}
	}
	if len(b.Found) > 0 {
		light, dark := look.From(b.Found)
		worn := *q.Look
		worn.Colours, worn.Dark = light, &dark
		if worn.Scheme == "" {
			worn.Scheme = quiz.AsDevice
		}
		d := look.Of(&worn)
		b.Light, b.Dark = d.Light, d.Dark
		b.Take = desk.PatchText([]edit.Op{{Op: "add", Path: "/look", Value: worn}})
	}
	html, err := s.Views.Part("sheet", "brand", b)
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Data(http.StatusOK, "text/html; charset=utf-8", html)
}
