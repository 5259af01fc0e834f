package look

import (
	"cmp"
	"image"
	"math"
	"slices"

	"github.com/lucasb-eyer/go-colorful"

	"omphalos/core/quiz"
)

// A picture is looked at in so many points each way, and its colours are told apart by so
// many hues; more than these of them are not returned.
const (
	points      = 96
	hues        = 24
	mostColours = 6
)

// ColoursOf returns the colours "#rrggbb" that a picture is made of, those that stand out
// most first; none of a picture that is grey all over. What is transparent, white or black
// is ground and does not count.
func ColoursOf(img image.Image) []string {
	type heap struct {
		weight, l, a, b float64
	}
	var heaps [hues]heap
	bounds := img.Bounds()
	for y := range points {
		for x := range points {
			c, seen := colorful.MakeColor(img.At(
				bounds.Min.X+(2*x+1)*bounds.Dx()/(2*points), bounds.Min.Y+(2*y+1)*bounds.Dy()/(2*points)))
			l, chroma, hue := c.OkLch()
			if !seen || chroma < 0.035 || l < 0.12 || l > 0.97 {
				continue
			}
			_, a, b := c.OkLab()
			h := &heaps[int(hue/360*hues)%hues]
			h.weight += chroma
			h.l, h.a, h.b = h.l+chroma*l, h.a+chroma*a, h.b+chroma*b
		}
	}
	all := 0.0
	for i := range heaps {
		all += heaps[i].weight
	}
	found := slices.DeleteFunc(heaps[:], func(h heap) bool { return h.weight < all*0.03 || h.weight == 0 })
	slices.SortFunc(found, func(p, q heap) int { return cmp.Compare(q.weight, p.weight) })
	var list []string
	for _, h := range found[:min(len(found), mostColours)] {
		list = append(list, colorful.OkLab(h.l/h.weight, h.a/h.weight, h.b/h.weight).Clamped().Hex())
	}
	return list
}

// From returns colours in light and dark that go with those of a brand, the most important
// first, and that can be read. It is nothing of no colour.
func From(brand []string) (light, dark quiz.Colours) {
	if len(brand) == 0 {
		return light, dark
	}
	main := brand[0]
	light = quiz.Colours{Paper: at(main, 0.97, 0.012), Sheet: "#ffffff", Ink: at(main, 0.24, 0.045)}
	light.Accent = Readable(main, TextContrast, light.Paper, light.Sheet)
	second := main
	for _, c := range brand[1:] {
		if apart(c, main) > 35 {
			second = c
			break
		}
	}
	light.Mark = Readable(second, ShapeContrast, light.Paper, light.Sheet)
	return light, Darkened(light)
}

// apart returns how far the hues of two colours are from each other, 0 to 180 degrees.
func apart(one, other string) float64 {
	a, _ := parse(one)
	b, _ := parse(other)
	_, _, x := a.OkLch()
	_, _, y := b.OkLch()
	d := math.Abs(x - y)
	return min(d, 360-d)
}
