package place

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// A degree of latitude is 2πR/360 everywhere; a quarter of the equator, and half of any
// great circle, are parts of 2πR (geometry of the sphere).
func TestKilometres(t *testing.T) {
	round := 2 * math.Pi * earth
	for _, c := range []struct {
		a, b Point
		want float64
	}{
		{Point{50, 7}, Point{51, 7}, round / 360},
		{Point{0, 0}, Point{0, 90}, round / 4},
		{Point{90, 0}, Point{-90, 123}, round / 2},
		{Point{0, 179.5}, Point{0, -179.5}, round / 360},
		{Point{52.5, 13.4}, Point{52.5, 13.4}, 0},
	} {
		assert.InDelta(t, c.want, Kilometres(c.a, c.b), 1e-6, c)
	}
}

func TestNearest(t *testing.T) {
	order, away := Nearest(Point{53.3, -6.3}, []Point{{51.9, -8.5}, {53.3, -6.2}, {51.9, -8.5}})
	assert.Equal(t, []int{1, 0, 2}, order)
	assert.InDelta(t, 6.6, away[0], 0.1)
	assert.Equal(t, away[1], away[2])
	rapid.Check(t, func(t *rapid.T) {
		draw := func(label string) Point {
			return Point{
				rapid.Float64Range(-90, 90).Draw(t, label+" north"),
				rapid.Float64Range(-180, 180).Draw(t, label+" east"),
			}
		}
		a, b, c := draw("a"), draw("b"), draw("c")
		assert.InDelta(t, Kilometres(a, b), Kilometres(b, a), 1e-6)
		assert.LessOrEqual(t, Kilometres(a, c), Kilometres(a, b)+Kilometres(b, c)+1e-6)
	})
}
