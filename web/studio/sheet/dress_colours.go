package sheet

import (
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/look"
	"omphalos/core/quiz"
	"omphalos/interchange/postcard"
	"omphalos/web/player"
	"omphalos/web/studio/desk"
)

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
	_, q, ok := s.DraftOf(c)
	if !ok {
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

// A brand is what the colours of a logo make.
type brand struct {
	Found []string // the logo's colours
	Light look.Palette
	Dark  look.Palette
	Take  string // patch that takes them
}

// logoColours answers with what the colours of a quiz's logo make: a piece of the sheet.
func (s *Room) logoColours(c *gin.Context) {
	_, q, ok := s.DraftOf(c)
	if !ok {
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
