package postcard

import (
	"image"
	"image/draw"
	"slices"

	"github.com/go-text/typesetting/di"
	ot "github.com/go-text/typesetting/font/opentype"
	"github.com/go-text/typesetting/language"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"

	"omphalos/core/quiz"
)

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
	faces := wardrobeOf(name, weight)
	text := []rune(faces.written(words))
	b := block{size: size}
	if len(text) == 0 {
		return b
	}
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
