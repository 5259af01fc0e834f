package inference_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/stat"
	"pgregory.net/rapid"

	"omphalos/core/inference"
)

func bins(pairs ...int64) (list []inference.Bin) {
	for i := 0; i < len(pairs); i += 2 {
		list = append(list, inference.Bin{Value: pairs[i], Count: int(pairs[i+1])})
	}
	return list
}

// 9 and 10 less 0 to 6, in percent of all (Reichheld, HBR, December 2003); 7 and 8 count for
// neither.
func TestPromoters(t *testing.T) {
	for _, c := range []struct {
		want float64
		of   []inference.Bin
	}{
		{100, bins(9, 1, 10, 3)},
		{-100, bins(0, 2, 6, 1)},
		{0, bins(7, 4, 8, 4)},
		{20, bins(6, 3, 8, 2, 10, 5)},
		{-100.0 / 3, bins(5, 2, 7, 0, 9, 1)},
		{0, nil},
	} {
		assert.InDelta(t, c.want, inference.Promoters(c.of, 1), 1e-12, c.of)
	}
	assert.InDelta(t, 20, inference.Promoters(bins(6000, 3, 8000, 2, 10000, 5), 1000), 1e-12, "in thousandths")
}

// As gonum has them, from the numbers one by one.
func TestMiddleAndMean(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var of []inference.Bin
		var all []float64
		value := rapid.Int64Range(-1000, 0).Draw(t, "least")
		for range rapid.IntRange(1, 20).Draw(t, "bins") {
			value += rapid.Int64Range(1, 50).Draw(t, "step")
			n := rapid.IntRange(1, 9).Draw(t, "count")
			of = append(of, inference.Bin{Value: value, Count: n})
			for range n {
				all = append(all, float64(value))
			}
		}
		middle, known := inference.Median(of)
		assert.True(t, known)
		assert.Equal(t, stat.Quantile(0.5, stat.Empirical, all, nil), float64(middle))
		assert.InDelta(t, stat.Mean(all, nil), inference.Mean(of), 1e-9)
	})
	_, known := inference.Median(nil)
	assert.False(t, known)
	assert.Zero(t, inference.Mean(nil))
}
