package inference_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"omphalos/core/inference"
)

// Shares that are told on a page add up to 100, each within a percent of what it is, and the
// larger is never told as less.
func TestPercentsAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		counts, all := rapid.SliceOfN(rapid.IntRange(0, 400), 1, 12).Draw(t, "counts"), 0
		for _, n := range counts {
			all += n
		}
		list, sum := inference.PercentsOf(counts...), 0
		if all == 0 {
			assert.Equal(t, "–", list[0])
			return
		}
		for i, text := range list {
			n := 0
			switch text {
			case "< 1 %":
				assert.Positive(t, counts[i])
			case "> 99 %":
				n = 100
			default:
				_, err := fmt.Sscanf(text, "%d %%", &n)
				assert.NoError(t, err)
			}
			sum += n
			assert.Less(t, math.Abs(100*float64(counts[i])/float64(all)-float64(n)), 1.0)
			for k := range list {
				if counts[k] > counts[i] && list[k] != "< 1 %" && list[i] != "< 1 %" {
					assert.False(t, list[k] != list[i] && len(list[k]) < len(list[i]), "%v of %v", list, counts)
				}
			}
		}
		assert.Equal(t, 100, sum, "%v", list)
	})
	assert.Equal(t, []string{"34 %", "33 %", "33 %"}, inference.PercentsOf(1, 1, 1))
	assert.Equal(t, []string{"3 %", "98 %"}, []string{inference.Percent(0.025), inference.Percent(0.975)},
		"half away from zero")
	assert.Equal(t, []string{"67 %", "50 %"}, inference.Percents([]float64{2. / 3, 0.5}), "no parts of a whole")
	assert.Equal(t, "–", inference.Percent(math.NaN()))
}

// Parts of a share that is told come to it, as it is told.
func TestPercentsWithinAWhole(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		shares, sum := map[string]float64{}, 0.0
		for i, n := range rapid.SliceOfN(rapid.IntRange(5, 90), 1, 8).Draw(t, "of a thousand") {
			shares[fmt.Sprint(i)] = float64(n) / 1000
			sum += float64(n) / 1000
		}
		whole, told := inference.Percent(min(sum, 1)), 0
		write := inference.PercentsWithin(whole, shares)
		for name := range shares {
			n := 0
			if text := write(name); text != "< 1 %" {
				_, err := fmt.Sscanf(text, "%d %%", &n)
				assert.NoError(t, err)
			}
			told += n
		}
		assert.Equal(t, whole, fmt.Sprintf("%d %%", told), "%v", shares)
	})
	assert.Equal(t, "< 1 %", inference.PercentsWithin("< 1 %", map[string]float64{"a": 0.002})("a"))
}
