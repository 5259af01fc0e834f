package look

import (
	"math"
	"sort"

	"github.com/lucasb-eyer/go-colorful"
)

// Contrast ratios that WCAG 2.2 asks for: of text (1.4.3) and of what is not text (1.4.11).
const (
	TextContrast  = 4.5
	ShapeContrast = 3
)

// Contrast returns the contrast ratio of two colours "#rrggbb", 1 to 21: W3C, WCAG
// 2.2, definitions of relative luminance and contrast ratio. It is 0 for what is no colour.
func Contrast(a, b string) float64 {
	x, okA := luminance(a)
	y, okB := luminance(b)
	if !okA || !okB {
		return 0
	}
	return (max(x, y) + 0.05) / (min(x, y) + 0.05)
}

func luminance(colour string) (float64, bool) {
	c, ok := parse(colour)
	return 0.2126*linear(c.R) + 0.7152*linear(c.G) + 0.0722*linear(c.B), ok
}

func linear(c float64) float64 {
	if c <= 0.04045 {
		return c / 12.92
	}
	return math.Pow((c+0.055)/1.055, 2.4)
}

func parse(colour string) (colorful.Color, bool) {
	c, err := colorful.Hex(colour)
	return c, err == nil && len(colour) == 7
}

// Least returns the lowest contrast of a colour with several others.
func Least(colour string, on ...string) float64 {
	least := math.Inf(1)
	for _, other := range on {
		least = min(least, Contrast(colour, other))
	}
	return least
}

// Readable moves a colour toward black or white, no farther than it must, until its contrast
// with all the others is enough. Where no colour has that, it is black or white, whichever is
// seen better.
func Readable(colour string, enough float64, on ...string) string {
	if Least(colour, on...) >= enough {
		return colour
	}
	best, away := "", steps+1
	for _, end := range []string{"#000000", "#ffffff"} {
		if Least(end, on...) < enough {
			continue
		}
		// The nearer the end, the more of the contrast.
		step := 1 + sort.Search(steps-1, func(i int) bool {
			return Least(Mix(end, colour, float64(i+1)/steps), on...) >= enough
		})
		if step < away {
			best, away = Mix(end, colour, float64(step)/steps), step
		}
	}
	if best != "" {
		return best
	}
	if Least("#000000", on...) > Least("#ffffff", on...) {
		return "#000000"
	}
	return "#ffffff"
}

// steps are how finely a colour is moved.
const steps = 100

// Mix returns a colour that has a part of one, 0 to 1, and of another the rest.
func Mix(one, other string, part float64) string {
	a, _ := parse(one)
	b, _ := parse(other)
	return b.BlendRgb(a, part).Hex()
}
