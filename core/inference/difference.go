package inference

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"
)

// Newcombe returns the difference of two shares, the first less the second, and the interval
// in which it lies in 19 of 20 cases: the hybrid of both score intervals, without a
// correction for continuity. Where nothing was counted on a side, it is 0, from −1 to 1.
//
// Source: R. G. Newcombe, Interval estimation for the difference between independent
// proportions, Statistics in Medicine 1998;17:873–890, method 10.
func Newcombe(count1, all1, count2, all2 int) (difference, low, high float64) {
	if all1 <= 0 || all2 <= 0 {
		return 0, -1, 1
	}
	p1, p2 := float64(count1)/float64(all1), float64(count2)/float64(all2)
	low1, high1 := Wilson(count1, all1)
	low2, high2 := Wilson(count2, all2)
	difference = p1 - p2
	return difference, difference - math.Hypot(p1-low1, high2-p2), difference + math.Hypot(high1-p1, p2-low2)
}

// TwoProportions returns how often two shares differ so much, or more, where there is no
// difference behind: the test with the pooled share, to both sides. It is 1 where nothing was
// counted on a side, or all were alike.
func TwoProportions(count1, all1, count2, all2 int) float64 {
	if all1 <= 0 || all2 <= 0 {
		return 1
	}
	n1, n2 := float64(all1), float64(all2)
	pooled := float64(count1+count2) / (n1 + n2)
	spread := math.Sqrt(pooled * (1 - pooled) * (1/n1 + 1/n2))
	if spread == 0 {
		return 1
	}
	return twoSided((float64(count1)/n1 - float64(count2)/n2) / spread)
}

// twoSided returns how often a number of the normal distribution lies as far from 0.
func twoSided(z float64) float64 { return math.Erfc(math.Abs(z) / math.Sqrt2) }

// Enough returns how many there have to be on each side, so that a difference of two shares
// is found in 4 of 5 cases by a test that is wrong in 1 of 20; 0 where they are alike.
//
// Source: J. L. Fleiss, Statistical Methods for Rates and Proportions, without the correction
// for continuity.
func Enough(p1, p2 float64) int {
	if p1 == p2 {
		return 0
	}
	const power = 0.8416212335729143 // the 80 % point of the normal distribution
	middle := (p1 + p2) / 2
	root := z*math.Sqrt(2*middle*(1-middle)) + power*math.Sqrt(p1*(1-p1)+p2*(1-p2))
	return int(math.Ceil(root * root / ((p1 - p2) * (p1 - p2))))
}

// Welch returns the difference of two means, the first less the second, the interval in which
// it lies in 19 of 20 cases, and how often it is so large, or larger, where there is none
// behind. It knows nothing, which is 0 from −∞ to +∞ and 1, where a side has fewer than two
// numbers.
//
// Source: B. L. Welch, The generalization of “Student's” problem when several different
// population variances are involved, Biometrika 1947;34:28–35.
func Welch(of1, of2 []Bin) (difference, low, high, chance float64) {
	n1, n2 := float64(all(of1)), float64(all(of2))
	if n1 < 2 || n2 < 2 {
		return 0, math.Inf(-1), math.Inf(1), 1
	}
	difference = Mean(of1) - Mean(of2)
	a, b := Variance(of1)/n1, Variance(of2)/n2
	spread := math.Sqrt(a + b)
	if spread == 0 {
		if difference == 0 {
			return 0, 0, 0, 1
		}
		return difference, difference, difference, 0
	}
	student := distuv.StudentsT{Sigma: 1, Nu: (a + b) * (a + b) / (a*a/(n1-1) + b*b/(n2-1))}
	reach := student.Quantile(0.975) * spread
	return difference, difference - reach, difference + reach, 2 * student.Survival(math.Abs(difference)/spread)
}

// Holm returns chances as they are where all of them were looked at together: that one of
// them comes out so where nothing is behind any.
//
// Source: S. Holm, A simple sequentially rejective multiple test procedure, Scandinavian
// Journal of Statistics 1979;6:65–70.
func Holm(chances []float64) []float64 {
	order := make([]int, len(chances))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case chances[a] < chances[b]:
			return -1
		case chances[a] > chances[b]:
			return 1
		}
		return 0
	})
	together, worst := make([]float64, len(chances)), 0.0
	for place, i := range order {
		worst = max(worst, min(1, chances[i]*float64(len(chances)-place)))
		together[i] = worst
	}
	return together
}
