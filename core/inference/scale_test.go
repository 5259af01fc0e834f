package inference_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/stat"
	"pgregory.net/rapid"

	"omphalos/core/inference"
)

func source() rand.Source { return rand.NewPCG(7, 11) }

// Bland and Altman, Statistics notes: Cronbach's alpha, BMJ 1997;314:572 (values from memory of
// the note): ten questions of 11.16 together, their sum of 77.44, give 0.95.
func TestAlphaPublished(t *testing.T) {
	assert.InDelta(t, 0.95, inference.AlphaOf(10, 11.16, 77.44), 0.005)
}

// Every figure of a scale as gonum works it out from the numbers one by one.
func TestItems(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k, n := rapid.IntRange(2, 6).Draw(t, "questions"), rapid.IntRange(5, 40).Draw(t, "persons")
		off := rapid.Float64Range(-1e6, 1e6).Draw(t, "off")
		var items inference.Items
		columns, total, rest := make([][]float64, k), make([]float64, n), make([][]float64, k)
		for person := range n {
			scores := make([]float64, k)
			for i := range scores {
				scores[i] = off + float64(rapid.IntRange(0, 6).Draw(t, "score"))
				columns[i] = append(columns[i], scores[i])
				total[person] += scores[i]
			}
			items.Add(scores)
		}
		sum := 0.0
		for i := range columns {
			sum += stat.Variance(columns[i], nil)
			for person := range n {
				rest[i] = append(rest[i], total[person]-columns[i][person])
			}
			assert.InDelta(t, stat.Mean(columns[i], nil), items.Mean(i), 1e-6)
			assert.InDelta(t, stat.StdDev(columns[i], nil), items.Spread(i), 1e-6)
			if r, low, high, known := items.Rest(i); known {
				assert.InDelta(t, stat.Correlation(columns[i], rest[i], nil), r, 1e-6)
				assert.LessOrEqual(t, low, r)
				assert.GreaterOrEqual(t, high, r)
			}
			if r, _, _, known := items.Pair(i, 0); known {
				assert.InDelta(t, stat.Correlation(columns[i], columns[0], nil), r, 1e-6)
			}
		}
		if alpha, low, high, known := items.Alpha(); known && stat.Variance(total, nil) > 1e-6 {
			due := float64(k) / float64(k-1) * (1 - sum/stat.Variance(total, nil))
			assert.InDelta(t, due, alpha, 1e-6)
			assert.True(t, low <= alpha && alpha <= high)
		}
	})
}

// Feldt's interval holds what it promises: of scales that are drawn with a known coefficient,
// 19 of 20 intervals hold it.
func TestIntervalOfAlpha(t *testing.T) {
	chance := rand.New(source())
	const k, n, times = 5, 60, 2000
	// Each question is what all share and as much of its own: alpha is k/(k+1).
	within := 0
	for range times {
		var items inference.Items
		for range n {
			shared, scores := chance.NormFloat64(), make([]float64, k)
			for i := range scores {
				scores[i] = shared + chance.NormFloat64()
			}
			items.Add(scores)
		}
		_, low, high, known := items.Alpha()
		require.True(t, known)
		if low <= k/(k+1.0) && k/(k+1.0) <= high {
			within++
		}
	}
	assert.InDelta(t, 0.95, float64(within)/times, 0.02)
}

func TestItemsThatSayNothing(t *testing.T) {
	var none inference.Items
	_, _, _, known := none.Alpha()
	assert.False(t, known)
	var alike inference.Items
	for i := range 10 {
		alike.Add([]float64{2, float64(i % 3)})
	}
	_, _, _, known = alike.Rest(0)
	assert.False(t, known, "a question that everybody answers alike")
	assert.Zero(t, alike.Spread(0))
	assert.Equal(t, 10, alike.Count())
}
