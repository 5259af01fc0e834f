package odds_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/odds"
)

// The sum of two dice: 1/36 to 6/36 and back. The hottest sixth begins at 10, where
// 3 + 2 + 1 of 36 lie; common practice, no source.
func TestAimingForAShare(t *testing.T) {
	var dice odds.Scale
	for sum := 2; sum <= 12; sum++ {
		dice.Points = append(
			dice.Points,
			odds.Point{Score: decimal.FromInt(int64(sum)), Share: float64(6-max(sum-7, 7-sum)) / 36},
		)
	}
	cuts, shares, err := dice.Aim([]float64{5.0 / 6, 1.0 / 6})
	require.NoError(t, err)
	assert.Equal(t, []decimal.Decimal{decimal.FromInt(10)}, cuts)
	assert.InDeltaSlice(t, []float64{5.0 / 6, 1.0 / 6}, shares, 1e-9)
	_, _, err = dice.Aim(make([]float64, 12))
	assert.ErrorIs(t, err, odds.ErrAim)
}

// No other cuts come nearer: all pairs of cuts are tried.
func TestNoOtherCutsComeNearer(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var s odds.Scale
		weights := rapid.SliceOfN(rapid.IntRange(1, 20), 3, 12).Draw(t, "weights")
		all := 0
		for _, w := range weights {
			all += w
		}
		for i, w := range weights {
			s.Points = append(s.Points, odds.Point{Score: decimal.FromInt(int64(i)), Share: float64(w) / float64(all)})
		}
		a := float64(rapid.IntRange(0, 100).Draw(t, "a")) / 100
		b := float64(rapid.IntRange(0, 100).Draw(t, "b")) / 100 * (1 - a)
		wanted := []float64{a, b, 1 - a - b}
		off := func(x, y int) float64 {
			var shares [3]float64
			for i, p := range s.Points {
				band := 0
				if i >= x {
					band++
				}
				if i >= y {
					band++
				}
				shares[band] += p.Share
			}
			return math.Abs(shares[0]-wanted[0]) + math.Abs(shares[1]-wanted[1]) + math.Abs(shares[2]-wanted[2])
		}
		cuts, _, err := s.Aim(wanted)
		require.NoError(t, err)
		found := off(int(cuts[0].Float64()), int(cuts[1].Float64()))
		for x := 1; x < len(s.Points); x++ {
			for y := x + 1; y < len(s.Points); y++ {
				assert.LessOrEqual(t, found, off(x, y)+1e-9)
			}
		}
	})
}

// Shares of bands are those that counting gives; what is wanted of the highest leaves the others
// their proportions; of many scores neighbours are one, and nobody is lost.
func TestSharesOfBands(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		counts, all := map[decimal.Decimal]int{}, 0
		for range rapid.IntRange(1, 40).Draw(t, "scores") {
			n := rapid.IntRange(1, 9).Draw(t, "count")
			counts[decimal.FromInt(rapid.Int64Range(-5, 20).Draw(t, "score"))] += n
			all += n
		}
		from := []decimal.Decimal{decimal.Min, decimal.FromInt(rapid.Int64Range(-5, 8).Draw(t, "warm")),
			decimal.FromInt(rapid.Int64Range(8, 20).Draw(t, "hot"))}
		shares := odds.SharesAt(odds.PointsOf(counts, 1000), from)
		above := 0
		for score, n := range counts {
			if score >= from[2] {
				above += n
			}
		}
		assert.InDelta(t, float64(above)/float64(all), shares[2], 1e-9)
		assert.InDelta(t, 1, shares[0]+shares[1]+shares[2], 1e-9)
		part := rapid.Float64Range(0, 1).Draw(t, "part")
		wanted := odds.WithHighest(shares, part)
		assert.InDelta(t, 1, wanted[0]+wanted[1]+wanted[2], 1e-9)
		assert.InDelta(t, part, wanted[2], 1e-12)
		assert.InDelta(t, shares[0]*wanted[1], shares[1]*wanted[0], 1e-9)
		fewer, sum := odds.PointsOf(counts, 3), 0.0
		assert.LessOrEqual(t, len(fewer), 3)
		for _, p := range fewer {
			sum += p.Share
		}
		assert.InDelta(t, 1, sum, 1e-9)
	})
}

func TestReadingShares(t *testing.T) {
	for _, c := range []struct {
		typed  []string
		wanted []float64
		err    error
	}{
		{[]string{"", "12.5"}, []float64{0.875, 0.125}, nil},
		{[]string{"", " 12,5 % ", ""}, []float64{0.4375, 0.125, 0.4375}, nil},
		{[]string{"33.3", "33.3", "33.3"}, []float64{0.333, 0.333, 0.333}, nil},
		{[]string{"100", ""}, []float64{1, 0}, nil},
		{[]string{"", ""}, nil, odds.ErrNoShares},
		{[]string{"", "120"}, nil, odds.ErrNoShares},
		{[]string{"-1", ""}, nil, odds.ErrNoShares},
		{[]string{"a fifth", ""}, nil, odds.ErrNoShares},
		{[]string{"NaN", ""}, nil, odds.ErrNoShares},
		{[]string{"60", "50", ""}, nil, odds.ErrSum},
		{[]string{"60", "30"}, nil, odds.ErrSum},
	} {
		wanted, err := odds.ReadShares(c.typed)
		assert.ErrorIs(t, err, c.err, "%q", c.typed)
		assert.InDeltaSlice(t, c.wanted, wanted, 1e-12, "%q", c.typed)
	}
	_, err := odds.ReadShares([]string{"60", "50.25", ""})
	assert.EqualError(t, err, "the shares come to 110.2 %: all bands together take 100 %")
}
