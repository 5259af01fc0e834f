package inference_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/stat/distuv"
	"pgregory.net/rapid"

	"omphalos/core/inference"
)

func ExampleWilson() {
	low, high := inference.Wilson(81, 263)
	fmt.Printf("%.4f to %.4f\n", low, high)
	// Output: 0.2553 to 0.3662
}

// R. G. Newcombe, Two-sided confidence intervals for the single proportion, Statistics in
// Medicine 1998;17:857–872, table I, method 3: values from memory of it.
func TestWilson(t *testing.T) {
	for _, c := range []struct {
		count, all int
		low, high  float64
	}{{81, 263, 0.2553, 0.3662}, {15, 148, 0.0624, 0.1605}, {0, 20, 0, 0.1611}, {1, 29, 0.0061, 0.1718}} {
		low, high := inference.Wilson(c.count, c.all)
		assert.InDelta(t, c.low, low, 5e-5, "%d of %d", c.count, c.all)
		assert.InDelta(t, c.high, high, 5e-5, "%d of %d", c.count, c.all)
	}
	low, high := inference.Wilson(0, 0)
	assert.Equal(t, []float64{0, 1}, []float64{low, high}, "nothing is known")
}

// The ends are the shares of which what was counted is just so many standard errors away:
// that is what the interval is, with the quantile as gonum has it.
func TestTheEndsOfWilsonAreJustAsUnlikely(t *testing.T) {
	z := distuv.UnitNormal.Quantile(0.975)
	rapid.Check(t, func(t *rapid.T) {
		all := rapid.IntRange(1, 1_000_000).Draw(t, "all")
		count := rapid.IntRange(0, all).Draw(t, "count")
		low, high := inference.Wilson(count, all)
		p := float64(count) / float64(all)
		assert.True(t, 0 <= low && low <= p && p <= high && high <= 1)
		for _, end := range []float64{low, high} {
			if end > 0 && end < 1 {
				assert.InEpsilon(t, z*z, math.Pow(p-end, 2)/(end*(1-end)/float64(all)), 1e-6)
			}
		}
	})
}
