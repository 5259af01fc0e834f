package postcard

import (
	"bytes"
	"embed"
	"fmt"
	"image"
	"image/draw"
	"slices"
	"strings"
	"sync"

	"github.com/go-text/typesetting/di"
	"github.com/go-text/typesetting/font"
	ot "github.com/go-text/typesetting/font/opentype"
	"github.com/go-text/typesetting/language"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"

	"omphalos/core/quiz"
)

//go:embed fonts/*.ttf
var files embed.FS

// The files of each typeface, and those of scripts that none of them has.
var (
	typefaces = map[quiz.Typeface]string{
		quiz.Commissioner: "commissioner", quiz.Literata: "literata", quiz.Atkinson: "atkinson-hyperlegible-next",
		quiz.Fraunces: "fraunces", quiz.Bricolage: "bricolage-grotesque", quiz.Shantell: "shantell-sans",
	}
	others = []string{"noto-sans-hebrew-hebrew", "noto-sans-arabic-arabic", "commissioner-latin", "commissioner-latin-ext"}
)

// parsed fonts by file; they are read once.
var parsed sync.Map

func read(file string) *font.Font {
	if known, there := parsed.Load(file); there {
		return known.(*font.Font)
	}
	data, err := files.ReadFile("fonts/" + file + ".ttf")
	if err != nil {
		panic("postcard: " + err.Error()) // it ships with it
	}
	face, err := font.ParseTTF(bytes.NewReader(data))
	if err != nil {
		panic(fmt.Sprintf("postcard: reading %s: %v", file, err))
	}
	parsed.Store(file, face.Font)
	return face.Font
}

// weightAxis is the axis of variable fonts along which they become heavier (OpenType, fvar).
var weightAxis = ot.MustNewTag("wght")

// A wardrobe is the faces that words are set in: that of the look first.
type wardrobe []*font.Face

func wardrobeOf(name quiz.Typeface, weight float32) wardrobe {
	var w wardrobe
	for _, file := range append([]string{typefaces[name] + "-latin", typefaces[name] + "-latin-ext"}, others...) {
		face := font.NewFace(read(file))
		face.SetVariations([]font.Variation{{Tag: weightAxis, Value: weight}})
		w = append(w, face)
	}
	return w
}

// ResolveFace returns the first face that has a character.
func (w wardrobe) ResolveFace(r rune) *font.Face {
	for _, face := range w {
		if _, has := face.NominalGlyph(r); has {
			return face
		}
	}
	return w[0]
}

// A block is words broken into lines.
type block struct {
	rows []shaping.Line
	size int
	cut  bool // there were more words than lines
}

func (b block) leading() int { return b.size * 118 / 100 }

func (b block) height() int { return len(b.rows) * b.leading() }

func (b block) widest() int {
	most := 0
	for _, row := range b.rows {
		most = max(most, advance(row).Ceil())
	}
	return most
}

func advance(row shaping.Line) (sum fixed.Int26_6) {
	for _, run := range row {
		sum += run.Advance
	}
	return sum
}

// wrap breaks words into lines no wider than a width, at most so many; what does not fit ends
// in an ellipsis.
func wrap(words string, dir di.Direction, name quiz.Typeface, weight float32, size, width, most int) block {
	text := []rune(strings.Join(strings.Fields(words), " "))
	b := block{size: size}
	if len(text) == 0 {
		return b
	}
	faces := wardrobeOf(name, weight)
	var shaper shaping.HarfbuzzShaper
	set := func(text []rune) []shaping.Output {
		in := shaping.Input{Text: text, RunEnd: len(text), Direction: dir, Size: fixed.I(size),
			Language: language.NewLanguage("en")}
		var runs []shaping.Output
		for _, part := range new(shaping.Segmenter).Split(in, faces) {
			runs = append(runs, shaper.Shape(part))
		}
		return runs
	}
	config := shaping.WrapConfig{Direction: dir, TruncateAfterLines: most, BreakPolicy: shaping.WhenNecessary}
	if dots := set([]rune("…")); len(dots) > 0 {
		config.Truncator = dots[0]
	}
	rows, left := new(shaping.LineWrapper).WrapParagraph(config, width, text, shaping.NewSliceIterator(set(text)))
	for _, row := range rows {
		b.rows = append(b.rows, slices.Clone(row))
	}
	b.cut = left > 0
	return b
}

// A pen writes lines that begin at an edge: the left one, or the right one of words that are
// read from there.
type pen struct {
	img       draw.Image
	direction di.Direction
	edge      int
}

// lines writes a block below a height.
func (p pen) lines(b block, top int, colour string) {
	for i, row := range b.rows {
		base := top + i*b.leading() + b.size*92/100
		x := fixed.I(p.edge)
		if p.direction == di.DirectionRTL {
			x -= advance(row)
		}
		runs := slices.Clone(row)
		slices.SortFunc(runs, func(a, b shaping.Output) int { return int(a.VisualIndex - b.VisualIndex) })
		for _, run := range runs {
			for _, g := range run.Glyphs {
				p.glyph(run, g, x+g.XOffset, fixed.I(base)-g.YOffset, colour)
				x += g.Advance
			}
		}
	}
}

// glyph paints the outline of a letter with its origin at a point.
func (p pen) glyph(run shaping.Output, g shaping.Glyph, x, y fixed.Int26_6, colour string) {
	outline, has := run.Face.GlyphDataOutline(g.GlyphID)
	if !has || len(outline.Segments) == 0 {
		return
	}
	scale := float32(run.Size) / 64 / float32(run.Face.Upem())
	bounds := p.img.Bounds()
	at := func(s ot.SegmentPoint) (float32, float32) {
		return float32(x)/64 + s.X*scale, float32(y)/64 - s.Y*scale
	}
	// Only the part of the picture that the letter may touch is painted.
	box := image.Rect(x.Floor()-run.Size.Ceil(), y.Floor()-2*run.Size.Ceil(), x.Ceil()+3*run.Size.Ceil(),
		y.Ceil()+run.Size.Ceil()).Intersect(bounds)
	if box.Empty() {
		return
	}
	raster := vector.NewRasterizer(box.Dx(), box.Dy())
	move := func(s ot.SegmentPoint) (float32, float32) {
		px, py := at(s)
		return px - float32(box.Min.X), py - float32(box.Min.Y)
	}
	for _, s := range outline.Segments {
		ax, ay := move(s.Args[0])
		switch s.Op {
		case ot.SegmentOpMoveTo:
			raster.MoveTo(ax, ay)
		case ot.SegmentOpLineTo:
			raster.LineTo(ax, ay)
		case ot.SegmentOpQuadTo:
			bx, by := move(s.Args[1])
			raster.QuadTo(ax, ay, bx, by)
		case ot.SegmentOpCubeTo:
			bx, by := move(s.Args[1])
			cx, cy := move(s.Args[2])
			raster.CubeTo(ax, ay, bx, by, cx, cy)
		}
	}
	raster.Draw(p.img, box, image.NewUniform(paint(colour)), image.Point{})
}
