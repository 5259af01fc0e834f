package postcard

import (
	"image"

	"omphalos/core/look"
)

// A Score is where somebody came on a line from the lowest score to the highest, whose ends are
// 0 and 1: at At, in the band From To. It stands at the foot of a card, in words and as a mark
// on that line. Like a ruler, the line goes from left to right whatever way words are read.
type Score struct {
	Words    string // "17 of 29"
	At       float64
	From, To float64
	Cuts     []float64 // between bands
}

// Room of the line, in pixels.
const (
	lineThick = 14
	markSize  = 24 // of the mark on it, from its middle to its corners
	cutReach  = 8  // how far a cut stands out
)

// draw draws a score at the foot of a box, and returns where it begins.
func (s *Score) draw(p pen, c Card, box image.Rectangle, colours look.Palette) int {
	words := wrap(s.Words, p.direction, c.Dress.Typeface, 650, scoreSize, box.Dx(), 1)
	middle := box.Max.Y - markSize
	left, length := box.Min.X, box.Dx() // a mark at an end stands out into the edge
	place := func(share float64) int { return left + int(share*float64(length)) }
	band := func(from, to int, colour string) {
		fill(p.img, image.Rect(from, middle-lineThick/2, to, middle+lineThick/2), colour)
	}
	band(left, left+length, colours.Line)
	band(place(s.From), place(s.To), colours.Mark)
	for _, cut := range s.Cuts {
		x, reach := place(cut), lineThick/2+cutReach
		fill(p.img, image.Rect(x-1, middle-reach, x+2, middle+reach), colours.Ink)
	}
	knot(p.img, place(s.At), middle, markSize, colours.Ink)
	knot(p.img, place(s.At), middle, markSize-5, colours.Sheet)
	top := middle - markSize - words.height() - gap/2
	p.lines(words, top, colours.Ink)
	return top
}
