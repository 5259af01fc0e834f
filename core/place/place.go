// Package place tells which of several places is nearest.
package place

import (
	"cmp"
	"math"
	"slices"
)

// A Point is a place on the earth in degrees: latitude −90 to 90, north positive;
// longitude −180 to 180, east positive.
type Point struct{ Latitude, Longitude float64 }

// Valid tells whether both degrees are within their ranges.
func (p Point) Valid() bool {
	return math.Abs(p.Latitude) <= 90 && math.Abs(p.Longitude) <= 180
}

const earth = 6371.0088 // mean radius in kilometres (IUGG)

// Kilometres returns the distance of two points along a great circle, by the haversine
// formula on a sphere: within 0.6 % of the distance on the ellipsoid.
func Kilometres(a, b Point) float64 {
	rad := func(degrees float64) float64 { return degrees * math.Pi / 180 }
	north, east := rad(b.Latitude-a.Latitude), rad(b.Longitude-a.Longitude)
	h := math.Pow(math.Sin(north/2), 2) + math.Cos(rad(a.Latitude))*math.Cos(rad(b.Latitude))*math.Pow(
		math.Sin(east/2),
		2,
	)
	return 2 * earth * math.Asin(math.Sqrt(min(h, 1)))
}

// Nearest returns the positions of points by their distance from one, and the distances
// in kilometres in that order; where two are as near, in the order given.
func Nearest(from Point, points []Point) (order []int, kilometres []float64) {
	away := make([]float64, len(points))
	for i, p := range points {
		order = append(order, i)
		away[i] = Kilometres(from, p)
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(away[a], away[b]) })
	for _, i := range order {
		kilometres = append(kilometres, away[i])
	}
	return order, kilometres
}
