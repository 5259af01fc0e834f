// Package postcard draws the picture that is shown where an address is shared: a title, a
// few words and a picture, 1200 by 630 pixels as the Open Graph protocol's readers expect
// it, in the colours and the typefaces of a quiz. Words are shaped by their script, written
// from right to left where they are, and made smaller until they fit.
package postcard

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"

	"github.com/go-text/typesetting/di"
	xdraw "golang.org/x/image/draw"

	"omphalos/core/look"
	"omphalos/core/quiz"
)

// The size of a card, in pixels.
const (
	Width  = 1200
	Height = 630
)

// A Card is what is drawn. Text may be empty, Picture and Score nil; Bars are drawn where there is no
// Score.
type Card struct {
	Title, Text, Owner string
	RightToLeft        bool
	Dress              look.Dress
	Picture            image.Image
	Focus              quiz.Focus // of the picture, what no crop cuts off
	Score              *Score
	Bars               []Bar
}

// Room at the edges, and between things.
const (
	edge = 72
	gap  = 28
)

// Sizes of letters, in pixels: a title begins large and is made smaller, a step at a time.
const (
	largest, smallest, step = 92, 40, 4
	textSize, ownerSize     = 32, 26
	scoreSize               = 36
	mostTitleLines          = 5
	mostTextLines           = 4
)

// Draw returns the card as PNG.
func Draw(c Card) ([]byte, error) {
	colours := c.Dress.Light
	if c.Dress.Scheme == quiz.DarkOnly {
		colours = c.Dress.Dark
	}
	img := image.NewRGBA(image.Rect(0, 0, Width, Height))
	fill(img, img.Bounds(), colours.Paper)
	words := image.Rect(edge, edge, Width-edge, Height-edge)
	if c.Picture != nil {
		at := image.Rect(Width*9/16, 0, Width, Height)
		words.Max.X = at.Min.X - edge*2/3
		if c.RightToLeft {
			at = image.Rect(0, 0, Width*7/16, Height)
			words = image.Rect(at.Max.X+edge*2/3, edge, Width-edge, Height-edge)
		}
		place(img, at, c.Picture, c.Focus)
	}
	c.write(img, words, colours)
	var out bytes.Buffer
	if err := png.Encode(&out, img); err != nil {
		return nil, fmt.Errorf("drawing a card: %w", err)
	}
	return out.Bytes(), nil
}

// write writes the words into a box: whose quiz it is on top, a knotted line at the foot, the
// title and the text between them.
func (c Card) write(img draw.Image, box image.Rectangle, colours look.Palette) {
	dir, start := di.DirectionLTR, box.Min.X
	if c.RightToLeft {
		dir, start = di.DirectionRTL, box.Max.X
	}
	p := pen{img: img, direction: dir, edge: start}
	top := box.Min.Y
	if c.Owner != "" {
		owner := wrap(c.Owner, dir, c.Dress.Typeface, 500, ownerSize, box.Dx(), 1)
		p.lines(owner, top, colours.Soft)
		top += owner.height() + gap
	}
	bottom := box.Max.Y - gap - 12
	switch {
	case c.Score != nil:
		bottom = c.Score.draw(p, c, box, colours) - gap
	case len(c.Bars) > 0:
		bottom = drawBars(p, c, box, colours) - gap
	default:
		c.foot(img, box, colours)
	}
	text := wrap(c.Text, dir, c.Dress.Typeface, 400, textSize, box.Dx(), mostTextLines)
	title := c.title(dir, box.Dx(), bottom-top-text.height()-gap)
	room := bottom - top - title.height()
	for lines := mostTextLines - 1; lines > 0 && text.height()+gap/2 > room; lines-- {
		text = wrap(c.Text, dir, c.Dress.Typeface, 400, textSize, box.Dx(), lines)
	}
	if text.height()+gap/2 > room {
		text = block{}
	}
	y := top + max(0, (room-text.height())/3)
	p.lines(title, y, colours.Ink)
	p.lines(text, y+title.height()+gap/2, colours.Soft)
}

// weights are how heavy titles are, by the look's.
var weights = map[quiz.Weight]float32{quiz.LightWeight: 400, quiz.StrongWeight: 650, quiz.HeavyWeight: 800}

// title is as large as fits.
func (c Card) title(dir di.Direction, width, height int) block {
	for size := largest; ; size -= step {
		b := wrap(c.Title, dir, c.Dress.Headings, weights[c.Dress.Weight], size, width, mostTitleLines)
		if size <= smallest || b.height() <= height && !b.cut && b.widest() <= width {
			return b
		}
	}
}

// foot is a line with knots, the mark of where it comes from.
func (c Card) foot(img draw.Image, box image.Rectangle, colours look.Palette) {
	y := box.Max.Y - 6
	line := image.Rect(box.Min.X, y-1, box.Max.X, y+2)
	fill(img, line, colours.Line)
	for i := range 5 {
		x := box.Min.X + knotSize + i*34
		if c.RightToLeft {
			x = box.Max.X - knotSize - i*34
		}
		colour := colours.Accent
		if i == 4 {
			colour = colours.Mark
		}
		knot(img, x, y, knotSize, colour)
	}
}

// knotSize is from the middle of a knot to its corners, in pixels.
const knotSize = 10

// knot is a square on its corner.
func knot(img draw.Image, x, y, r int, colour string) {
	for dy := -r; dy <= r; dy++ {
		w := r - max(dy, -dy)
		fill(img, image.Rect(x-w, y+dy, x+w+1, y+dy+1), colour)
	}
}

func fill(img draw.Image, at image.Rectangle, colour string) {
	draw.Draw(img, at, image.NewUniform(paint(colour)), image.Point{}, draw.Over)
}

// paint reads a colour "#rrggbb".
func paint(colour string) color.RGBA {
	var c color.RGBA
	if _, err := fmt.Sscanf(colour, "#%02x%02x%02x", &c.R, &c.G, &c.B); err != nil {
		return color.RGBA{A: 255}
	}
	c.A = 255
	return c
}

// place scales a picture so that it fills a box, and cuts off what is farthest from its focus.
func place(img draw.Image, at image.Rectangle, picture image.Image, focus quiz.Focus) {
	from := picture.Bounds()
	if from.Empty() {
		return
	}
	w, h := from.Dx(), from.Dy()
	if w*at.Dy() > h*at.Dx() { // too wide
		kept := h * at.Dx() / at.Dy()
		from.Min.X += (w - kept) * focus.X / 100
		from.Max.X = from.Min.X + kept
	} else {
		kept := w * at.Dy() / at.Dx()
		from.Min.Y += (h - kept) * focus.Y / 100
		from.Max.Y = from.Min.Y + kept
	}
	xdraw.CatmullRom.Scale(img, at, picture, from, xdraw.Over, nil)
}
