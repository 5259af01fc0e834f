package odds

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"omphalos/core/decimal"
)

// ErrAim says that shares can't be aimed for.
var ErrAim = errors.New("there are fewer scores than bands")

// Errors of shares that are wanted.
var (
	ErrNoShares = errors.New("a share is a number of percent, from 0 to 100, and one at the least is wanted")
	ErrSum      = errors.New("all bands together take 100 %")
)

// sumWithin is how far shares that are rounded may be from 100 % together.
const sumWithin = 0.5

// ReadShares reads what is wanted of each band, from the lowest, as it is typed: in percent, with a
// point or a comma; bands that are left open share the rest evenly. Returned are shares of 1.
func ReadShares(typed []string) ([]float64, error) {
	wanted, open, sum := make([]float64, len(typed)), 0, 0.0
	for i, text := range typed {
		text = strings.ReplaceAll(strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(text), "%")), ",", ".")
		if text == "" {
			wanted[i] = math.NaN()
			open++
			continue
		}
		percent, err := strconv.ParseFloat(text, 64)
		if err != nil || !(percent >= 0 && percent <= 100) {
			return nil, ErrNoShares
		}
		wanted[i] = percent / 100
		sum += percent
	}
	switch {
	case open == len(typed):
		return nil, ErrNoShares
	case sum > 100+sumWithin/50, open == 0 && math.Abs(sum-100) > sumWithin:
		return nil, fmt.Errorf("the shares come to %.4g %%: %w", sum, ErrSum)
	}
	for i, share := range wanted {
		if math.IsNaN(share) {
			wanted[i] = max(100-sum, 0) / 100 / float64(open)
		}
	}
	return wanted, nil
}

// Aim returns the cuts between bands, from the lowest, whose shares come nearest to
// those that are wanted: the sum of the differences is as small as it can be. Wanted
// holds a share a band, 0 to 1 of those who come to the decision, from the lowest band;
// every band keeps at least one score. The shares that the bands then have are returned with them.
func (s *Scale) Aim(wanted []float64) (cuts []decimal.Decimal, shares []float64, err error) {
	points := s.Decided()
	n, bands := len(points), len(wanted)
	if n < bands || bands == 0 {
		return nil, nil, ErrAim
	}
	below := make([]float64, n+1)
	all := 0.0
	for _, p := range points {
		all += p.Share
	}
	for i, p := range points {
		p.Share /= max(all, math.SmallestNonzeroFloat64)
		below[i+1] = below[i] + p.Share
	}
	// best[b][i] is the least difference of b bands over the first i points.
	best, from := make([][]float64, bands+1), make([][]int, bands+1)
	for b := range best {
		best[b], from[b] = make([]float64, n+1), make([]int, n+1)
		for i := range best[b] {
			best[b][i] = math.Inf(1)
		}
	}
	best[0][0] = 0
	for b := 1; b <= bands; b++ {
		for i := b; i <= n; i++ {
			for j := b - 1; j < i; j++ {
				if off := best[b-1][j] + math.Abs(below[i]-below[j]-wanted[b-1]); off < best[b][i]-1e-12 {
					best[b][i], from[b][i] = off, j
				}
			}
		}
	}
	cuts, shares = make([]decimal.Decimal, bands-1), make([]float64, bands)
	for b, i := bands, n; b > 0; b-- {
		j := from[b][i]
		shares[b-1] = below[i] - below[j]
		if b > 1 {
			cuts[b-2] = points[j].Score
		}
		i = j
	}
	return cuts, shares, nil
}

// PointsOf returns the scores that were counted with their shares of all, the least first. Of more
// than so many different ones, neighbours are one, at the least of them.
func PointsOf(counts map[decimal.Decimal]int, most int) []Point {
	all := 0
	var points []Point
	for score, n := range counts {
		points = append(points, Point{Score: score, Share: float64(n)})
		all += n
	}
	for i := range points {
		points[i].Share /= float64(all)
	}
	slices.SortFunc(points, func(a, b Point) int { return cmp.Compare(a.Score, b.Score) })
	together := (len(points) + most - 1) / most
	if together <= 1 {
		return points
	}
	var fewer []Point
	for some := range slices.Chunk(points, together) {
		one := Point{Score: some[0].Score}
		for _, p := range some {
			one.Share += p.Share
		}
		fewer = append(fewer, one)
	}
	return fewer
}

// BandAt returns which band a score is in, of those that begin at some scores: the first begins at
// decimal.Min.
func BandAt(from []decimal.Decimal, score decimal.Decimal) int {
	i := len(from) - 1
	for i > 0 && score < from[i] {
		i--
	}
	return i
}

// SharesAt returns the shares of the bands that begin at some scores, of those who have one.
func SharesAt(points []Point, from []decimal.Decimal) []float64 {
	list, all := make([]float64, len(from)), 0.0
	for _, p := range points {
		list[BandAt(from, p.Score)] += p.Share
		all += p.Share
	}
	for i := range list {
		list[i] /= max(all, math.SmallestNonzeroFloat64)
	}
	return list
}

// Rescaled returns shares of 1 of which those that are asked for stay as they are, and the others
// fill what is left in the proportions that they have, evenly where they have nothing. The error
// is ErrSum where what is asked for is more than all, or, where nothing else is left, not all.
func Rescaled(shares []float64, asked []bool) ([]float64, error) {
	list, fixed, others, open := slices.Clone(shares), 0.0, 0.0, 0
	for i, share := range shares {
		if asked[i] {
			fixed += share
		} else {
			others += share
			open++
		}
	}
	if fixed > 1+sumWithin/5000 || open == 0 && math.Abs(fixed-1) > sumWithin/100 {
		return nil, fmt.Errorf("the shares come to %.4g %%: %w", 100*fixed, ErrSum)
	}
	for i := range list {
		switch {
		case asked[i]:
		case others > 0:
			list[i] = shares[i] / others * max(1-fixed, 0)
		default:
			list[i] = max(1-fixed, 0) / float64(open)
		}
	}
	return list, nil
}

// WithHighest returns shares of which the last is a part of all, and the others are in the proportions
// that they had.
func WithHighest(shares []float64, part float64) []float64 {
	list, asked := slices.Clone(shares), make([]bool, len(shares))
	list[len(list)-1], asked[len(list)-1] = part, len(list) > 1
	list, _ = Rescaled(list, asked) // a part is not more than all
	return list
}
