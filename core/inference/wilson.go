// Package inference tells how far what was counted can be relied on: intervals for shares.
package inference

import "math"

// z is how many standard errors to either side leave out one in twenty (the 97.5 % point of
// the normal distribution).
const z = 1.959963984540054

// Wilson returns the interval in which a share lies in 19 of 20 cases, where count of all
// were counted: the score interval without a correction for continuity. It lies within 0 to
// 1, and is all of that where nothing was counted.
//
// Source: E. B. Wilson, Probable inference, the law of succession, and statistical inference,
// JASA 1927;22:209–212.
func Wilson(count, all int) (low, high float64) {
	if all <= 0 {
		return 0, 1
	}
	n, p := float64(all), float64(count)/float64(all)
	middle := p + z*z/(2*n)
	reach := z * math.Sqrt(p*(1-p)/n+z*z/(4*n*n))
	low, high = (middle-reach)/(1+z*z/n), (middle+reach)/(1+z*z/n)
	if count == 0 {
		low = 0
	}
	if count == all {
		high = 1
	}
	return max(low, 0), min(high, 1)
}
