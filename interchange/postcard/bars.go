package postcard

import (
	"image"

	"github.com/go-text/typesetting/di"

	"omphalos/core/look"
)

// A Bar is a scale, or what contended to decide, with how far somebody came: Share of the way, 0 to
// 1, in Words. First is what nothing came further than. Bars grow from where words begin.
type Bar struct {
	Name, Words string
	Share       float64
	First       bool
}

// Sizes of bars, in pixels. MostBars fit on a card.
const (
	MostBars  = 4
	barThick  = 8
	barSize   = 26
	barGap    = 16
	barsWords = 4 // a fourth of the width is for what they say
)

// drawBars draws bars at the foot of a box, and returns where they begin.
func drawBars(p pen, c Card, box image.Rectangle, colours look.Palette) int {
	bars := c.Bars[:min(len(c.Bars), MostBars)]
	each := barSize*118/100 + barGap/2 + barThick + barGap
	top := box.Max.Y - len(bars)*each + barGap
	for i, bar := range bars {
		y := top + i*each
		colour, weight := colours.Soft, float32(400)
		if bar.First {
			colour, weight = colours.Mark, 650
		}
		name := wrap(bar.Name, p.direction, c.Dress.Typeface, weight, barSize, box.Dx()-box.Dx()/barsWords, 1)
		words := wrap(bar.Words, p.direction, c.Dress.Typeface, 650, barSize, box.Dx()/barsWords, 1)
		p.lines(name, y, colours.Ink)
		line := image.Rect(box.Min.X, y+each-barGap-barThick, box.Max.X, y+each-barGap)
		reached := line
		far := pen{img: p.img, direction: p.direction, edge: box.Max.X - words.widest()}
		if length := int(bar.Share * float64(line.Dx())); p.direction == di.DirectionRTL {
			far.edge = box.Min.X + words.widest()
			reached.Min.X = line.Max.X - length
		} else {
			reached.Max.X = line.Min.X + length
		}
		far.lines(words, y, colours.Ink)
		fill(p.img, line, colours.Line)
		fill(p.img, reached, colour)
	}
	return top
}
