package look

import (
	"cmp"

	"github.com/lucasb-eyer/go-colorful"

	"omphalos/core/quiz"
)

// A Palette is a colour "#rrggbb" for each thing that a page shows. What is given stays as
// it is; what is made from it can be read on everything that it may stand on.
type Palette struct {
	Paper, Sheet       string // behind everything; what is written on
	Ink, Soft          string // words; words that say less
	Line, Edge         string // hairlines; what encloses a field
	Accent, OnAccent   string // what can be pressed, words on it
	Link               string // words that can be pressed
	Wash               string // what is pointed at or chosen
	Mark               string // scores, stars
	Wrong, Right       string // words on what is wrong and right
	Block, OnBlock     string // answers that are filled, words on them
	BlockOn, OnBlockOn string // the chosen one
}

// A Pair is two colours of a palette that meet, and the contrast they need.
type Pair struct {
	Over, Under string // names of the roles
	Needs       float64
}

// Pairs are all that meet on a page.
var Pairs = []Pair{
	{"ink", "paper", TextContrast},
	{"ink", "sheet", TextContrast},
	{"ink", "wash", TextContrast},
	{"soft", "paper", TextContrast},
	{"soft", "sheet", TextContrast},
	{"soft", "wash", TextContrast},
	{"on-accent", "accent", TextContrast},
	{"link", "paper", TextContrast},
	{"link", "sheet", TextContrast},
	{"link", "wash", TextContrast},
	{"on-block", "block", TextContrast},
	{"on-chosen", "chosen", TextContrast},
	{"wrong", "paper", TextContrast},
	{"wrong", "sheet", TextContrast},
	{"right", "paper", TextContrast},
	{"right", "sheet", TextContrast},
	{"accent", "paper", ShapeContrast},
	{"accent", "sheet", ShapeContrast},
	{"edge", "paper", ShapeContrast},
	{"edge", "sheet", ShapeContrast},
	{"mark", "paper", ShapeContrast},
	{"mark", "sheet", ShapeContrast},
}

// Role returns the colour of a role by its name, as styles have it; "" for none.
func (p Palette) Role(name string) string {
	for _, r := range p.Roles() {
		if r.Name == name {
			return r.Colour
		}
	}
	return ""
}

// A Role is what a colour is for.
type Role struct{ Name, Colour string }

// Roles lists all roles in the order of Palette.
func (p Palette) Roles() []Role {
	return []Role{
		{"paper", p.Paper},
		{"sheet", p.Sheet},
		{"ink", p.Ink},
		{"soft", p.Soft},
		{"line", p.Line},
		{"edge", p.Edge},
		{"accent", p.Accent},
		{"on-accent", p.OnAccent},
		{"link", p.Link},
		{"wash", p.Wash},
		{"mark", p.Mark},
		{"wrong", p.Wrong},
		{"right", p.Right},
		{"block", p.Block},
		{"on-block", p.OnBlock},
		{"chosen", p.BlockOn},
		{"on-chosen", p.OnBlockOn},
	}
}

// derive makes a palette from colours, none of which is empty.
func derive(c quiz.Colours) Palette {
	p := Palette{Paper: c.Paper, Sheet: c.Sheet, Ink: c.Ink, Accent: c.Accent}
	grounds := []string{p.Paper, p.Sheet}
	p.Wash = p.Sheet
	for _, part := range []float64{0.12, 0.08, 0.05} {
		if wash := Mix(p.Accent, p.Sheet, part); Contrast(p.Ink, wash) >= TextContrast+0.6 {
			p.Wash = wash
			break
		}
	}
	under := append(grounds, p.Wash)
	p.Soft = p.Ink
	for _, part := range []float64{0.74, 0.8, 0.86, 0.92} {
		if soft := Mix(p.Ink, p.Sheet, part); Least(soft, under...) >= TextContrast+0.4 {
			p.Soft = soft
			break
		}
	}
	p.Line = Mix(p.Ink, p.Sheet, 0.2)
	p.Edge = Readable(Mix(p.Ink, p.Sheet, 0.5), ShapeContrast, grounds...)
	p.OnAccent = on(p.Accent, p.Paper, p.Sheet, p.Ink)
	p.Link = Readable(p.Accent, TextContrast, under...)
	p.Mark = Readable(c.Mark, ShapeContrast, grounds...)
	p.Wrong = Readable("#a8422c", TextContrast, grounds...)
	p.Right = Readable("#2f6b44", TextContrast, grounds...)
	p.Block, p.OnBlock = p.Ink, on(p.Ink, p.Paper, p.Sheet)
	p.BlockOn, p.OnBlockOn = p.Sheet, p.Ink
	if p.Sheet == p.Paper {
		p.BlockOn, p.OnBlockOn = p.Wash, p.Ink
	}
	return p
}

// on returns the colour in which words on a ground are read: the first of those offered
// that is good enough, else black or white. One of those always is.
func on(ground string, offered ...string) string {
	for _, c := range append(offered, "#ffffff") {
		if Contrast(c, ground) >= TextContrast {
			return c
		}
	}
	return "#000000"
}

// Darkened returns colours for the dark that go with those in the light: the same hues,
// with the paper low and what stands on it high.
func Darkened(c quiz.Colours) quiz.Colours {
	dark := quiz.Colours{
		Paper: at(c.Ink, 0.2, 0.03),
		Sheet: at(c.Ink, 0.245, 0.032),
		Ink:   at(c.Paper, 0.945, 0.02),
	}
	if c.Sheet == c.Paper {
		dark.Sheet = dark.Paper
	}
	dark.Accent = Readable(at(c.Accent, 0.78, 0.13), TextContrast, dark.Paper, dark.Sheet)
	dark.Mark = Readable(at(c.Mark, 0.8, 0.14), ShapeContrast, dark.Paper, dark.Sheet)
	return dark
}

// at returns a colour with the hue of another, a lightness (0 to 1) and at most so much
// chroma: Oklch, CSS Color Module Level 4.
func at(colour string, lightness, most float64) string {
	c, _ := parse(colour)
	_, chroma, hue := c.OkLch()
	return colorful.OkLch(lightness, min(chroma, most), hue).Clamped().Hex()
}

// filled returns colours with what is empty taken from others.
func filled(c, from quiz.Colours) quiz.Colours {
	if c.Sheet == "" {
		c.Sheet = c.Paper // a paper of one's own is written on
	}
	return quiz.Colours{
		Paper:  cmp.Or(c.Paper, from.Paper),
		Sheet:  cmp.Or(c.Sheet, from.Sheet),
		Ink:    cmp.Or(c.Ink, from.Ink),
		Accent: cmp.Or(c.Accent, from.Accent),
		Mark:   cmp.Or(c.Mark, from.Mark),
	}
}
