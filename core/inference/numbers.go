package inference

import "math"

// A Bin is how many have a number.
type Bin struct {
	Value int64
	Count int
}

// Median returns the number that half do not exceed, the lower of two; false for none. The
// bins rise.
func Median(bins []Bin) (int64, bool) {
	so, half := 0, all(bins)
	for _, b := range bins {
		if so += b.Count; 2*so >= half && so > 0 {
			return b.Value, true
		}
	}
	return 0, false
}

// Mean returns the mean, 0 for none.
func Mean(bins []Bin) float64 {
	sum := 0.0
	for _, b := range bins {
		sum += float64(b.Value) * float64(b.Count)
	}
	return sum / float64(max(all(bins), 1))
}

// Variance returns the variance of numbers that were drawn from many, which divides by one
// less than there are; 0 for fewer than two.
func Variance(bins []Bin) float64 {
	n := all(bins)
	if n < 2 {
		return 0
	}
	mean, sum := Mean(bins), 0.0
	for _, b := range bins {
		away := float64(b.Value) - mean
		sum += float64(b.Count) * away * away
	}
	return sum / float64(n-1)
}

// Promoters returns the net promoter score of ratings from 0 to 10, −100 to 100: the percent
// who give 9 or 10 less the percent who give 6 or less. A rating of 1 is unit in the bins.
//
// Source: F. Reichheld, The One Number You Need to Grow, Harvard Business Review, December 2003.
func Promoters(bins []Bin, unit int64) float64 {
	ahead := count(bins, 9*unit, math.MaxInt64) - count(bins, math.MinInt64, 6*unit)
	return 100 * float64(ahead) / float64(max(all(bins), 1))
}

// all returns how many there are.
func all(bins []Bin) int { return count(bins, math.MinInt64, math.MaxInt64) }

// count returns how many have a number from one to another, both included.
func count(bins []Bin, from, to int64) (n int) {
	for _, b := range bins {
		if from <= b.Value && b.Value <= to {
			n += b.Count
		}
	}
	return n
}
