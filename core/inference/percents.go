package inference

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
)

// Percent writes a share (0 to 1) as "38 %", half away from zero; what is more than nothing and
// less than half a percent is "< 1 %", a share of nobody (NaN) is "–". What sums of fractions
// leave behind the ninth digit makes no difference.
func Percent(share float64) string {
	percent := math.Round(share*1e11) / 1e9
	switch {
	case math.IsNaN(share):
		return "–"
	case percent > 0 && percent < 0.5:
		return "< 1 %"
	case percent < 100 && percent > 99.5:
		return "> 99 %"
	}
	return fmt.Sprintf("%.0f %%", math.Round(percent))
}

// Percents writes the shares of a whole so that those on a page add up to 100: by the largest
// remainder. Shares that are not of a whole are written each by itself.
func Percents(shares []float64) []string {
	list, sum := make([]string, len(shares)), 0.0
	for i, share := range shares {
		list[i] = Percent(share)
		sum += share
	}
	if !(math.Abs(sum-1) < 1e-6) {
		return list
	}
	whole, left := make([]int, len(shares)), 100
	order := make([]int, len(shares))
	rest := func(i int) float64 { return 100*shares[i] - float64(whole[i]) }
	for i, share := range shares {
		whole[i], order[i] = int(math.Floor(100*share+1e-9)), i
		left -= whole[i]
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch ra, rb := rest(a), rest(b); {
		case ra > rb+1e-9:
			return -1
		case rb > ra+1e-9:
			return 1
		}
		return cmp.Compare(shares[b], shares[a]) // of a half the larger
	})
	for _, i := range order[:max(min(left, len(order)), 0)] {
		whole[i]++
	}
	for i, share := range shares {
		switch {
		case whole[i] == 0 && share > 1e-11:
			list[i] = "< 1 %"
		case whole[i] == 100 && share < 1-1e-11:
			list[i] = "> 99 %"
		default:
			list[i] = fmt.Sprintf("%d %%", whole[i])
		}
	}
	return list
}

// PercentsOf is Percents of counts that are all there are; of none, each is a share of nobody.
func PercentsOf(counts ...int) []string {
	all := 0
	for _, n := range counts {
		all += n
	}
	shares := make([]float64, len(counts))
	for i, n := range counts {
		shares[i] = float64(n) / float64(all) // NaN where there is nobody
	}
	return Percents(shares)
}

// NamedPercents is Percents of shares that have names, by their names; a name that none has is
// 0 %.
func NamedPercents(shares map[string]float64) func(name string) string {
	names := slices.Sorted(maps.Keys(shares))
	list := make([]float64, len(names))
	for i, name := range names {
		list[i] = shares[name]
	}
	written := map[string]string{}
	for i, percent := range Percents(list) {
		written[names[i]] = percent
	}
	return func(name string) string { return cmp.Or(written[name], Percent(0)) }
}
