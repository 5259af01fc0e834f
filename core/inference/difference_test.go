package inference_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"
	"pgregory.net/rapid"

	"omphalos/core/inference"
)

// Newcombe, Statistics in Medicine 1998;17:873–890, table II, method 10 (values from memory of
// the table).
func TestDifferenceOfShares(t *testing.T) {
	for _, c := range []struct {
		a, m, b, n int
		low, high  float64
	}{
		{56, 70, 48, 80, 0.0524, 0.3339},
		{9, 10, 3, 10, 0.1705, 0.8090},
		{6, 7, 2, 7, 0.0582, 0.8062},
		{5, 56, 0, 29, -0.0381, 0.1926},
		{0, 10, 0, 20, -0.1611, 0.2775},
		{0, 10, 0, 10, -0.2775, 0.2775},
		{10, 10, 0, 20, 0.6791, 1.0000},
		{10, 10, 0, 10, 0.6075, 1.0000},
	} {
		difference, low, high := inference.Newcombe(c.a, c.m, c.b, c.n)
		assert.InDelta(t, float64(c.a)/float64(c.m)-float64(c.b)/float64(c.n), difference, 1e-12)
		assert.InDelta(t, c.low, low, 5e-5, c)
		assert.InDelta(t, c.high, high, 5e-5, c)
	}
	difference, low, high := inference.Newcombe(0, 0, 3, 4)
	assert.Equal(t, []float64{0, -1, 1}, []float64{difference, low, high})
}

// The test of two shares is Pearson's of a table of two by two, as gonum has it.
func TestSharesByChance(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m, n := rapid.IntRange(1, 400).Draw(t, "m"), rapid.IntRange(1, 400).Draw(t, "n")
		a, b := rapid.IntRange(0, m).Draw(t, "a"), rapid.IntRange(0, n).Draw(t, "b")
		chance := inference.TwoProportions(a, m, b, n)
		if a+b == 0 || a+b == m+n {
			assert.Equal(t, 1.0, chance)
			return
		}
		p := float64(a+b) / float64(m+n)
		found := []float64{float64(a), float64(m - a), float64(b), float64(n - b)}
		due := []float64{p * float64(m), (1 - p) * float64(m), p * float64(n), (1 - p) * float64(n)}
		assert.InDelta(t, distuv.ChiSquared{K: 1}.Survival(stat.ChiSquare(found, due)), chance, 1e-9)
		assert.Equal(t, chance, inference.TwoProportions(b, n, a, m))
	})
	assert.Equal(t, 1.0, inference.TwoProportions(0, 0, 1, 2))
}

// As many as are enough find a difference in 4 of 5 cases: drawn many times.
func TestEnough(t *testing.T) {
	// Common practice: 10 % against 15 % take 686 on each side, 50 % against 60 % take 388.
	assert.Equal(t, 686, inference.Enough(0.10, 0.15))
	assert.Equal(t, 388, inference.Enough(0.50, 0.60))
	assert.Equal(t, inference.Enough(0.3, 0.2), inference.Enough(0.2, 0.3))
	assert.Zero(t, inference.Enough(0.4, 0.4))
	n := inference.Enough(0.3, 0.45)
	one, other := distuv.Binomial{N: float64(n), P: 0.3, Src: source()}, distuv.Binomial{N: float64(n), P: 0.45,
		Src: source()}
	found := 0
	for range 4000 {
		if inference.TwoProportions(int(one.Rand()), n, int(other.Rand()), n) < 0.05 {
			found++
		}
	}
	assert.InDelta(t, 0.8, float64(found)/4000, 0.03)
}

// Two means as gonum's distributions have them from the numbers one by one, and by chance as
// often as the test says.
func TestDifferenceOfMeans(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var lists [2][]inference.Bin
		var numbers [2][]float64
		for k := range lists {
			values := rapid.SliceOfN(rapid.Int64Range(-50, 50), 2, 30).Draw(t, "numbers")
			for _, v := range values {
				lists[k] = append(lists[k], inference.Bin{Value: v, Count: 1})
				numbers[k] = append(numbers[k], float64(v))
			}
		}
		difference, low, high, chance := inference.Welch(lists[0], lists[1])
		assert.InDelta(t, stat.Mean(numbers[0], nil)-stat.Mean(numbers[1], nil), difference, 1e-9)
		assert.InDelta(t, stat.Variance(numbers[0], nil), inference.Variance(lists[0]), 1e-9)
		assert.InDelta(t, high-difference, difference-low, 1e-9)
		if outside := low > 0 || high < 0; chance > 1e-12 && math.Abs(chance-0.05) > 1e-9 {
			assert.Equal(t, chance < 0.05, outside, "the interval leaves 0 out where chance is below 1 in 20")
		}
	})
	_, low, high, chance := inference.Welch(bins(1, 1), bins(1, 5))
	assert.Equal(t, []float64{math.Inf(-1), math.Inf(1), 1}, []float64{low, high, chance})
	difference, low, high, chance := inference.Welch(bins(3, 4), bins(1, 5))
	assert.Equal(t, []float64{2, 2, 2, 0}, []float64{difference, low, high, chance})
}

// Holm, Scandinavian Journal of Statistics 1979;6:65–70: the least of m is taken m times, the
// next m − 1 times, and none is below one before it (figures worked out by hand).
func TestManyLooks(t *testing.T) {
	assert.InDeltaSlice(t, []float64{0.03, 0.06, 0.06, 0.02}, inference.Holm([]float64{0.01, 0.04, 0.03, 0.005}), 1e-12)
	assert.Equal(t, []float64{1, 1}, inference.Holm([]float64{0.7, 0.6}))
	assert.Empty(t, inference.Holm(nil))
}
