package inference

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
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

// Percents writes the shares of a whole so that those on a page add up to 100. Shares that are
// not of a whole are written each by itself.
func Percents(shares []float64) []string {
	sum := 0.0
	for _, share := range shares {
		sum += share
	}
	if !(math.Abs(sum-1) < 1e-6) {
		return within("", shares)
	}
	return within("100 %", shares)
}

// within writes shares so that they add up to a whole that is written: where it is written in
// words, each by itself.
func within(whole string, shares []float64) []string {
	list, hundredths := make([]string, len(shares)), make([]float64, len(shares))
	for i, share := range shares {
		list[i], hundredths[i] = Percent(share), 100*share
	}
	percent, err := strconv.Atoi(strings.TrimSuffix(whole, " %"))
	if err != nil {
		return list
	}
	for i, part := range Apportion(percent, hundredths) {
		switch {
		case part == 0 && shares[i] > 1e-11:
			list[i] = "< 1 %"
		case part == 100 && shares[i] < 1-1e-11:
			list[i] = "> 99 %"
		default:
			list[i] = fmt.Sprintf("%d %%", part)
		}
	}
	return list
}

// Apportion rounds parts so that they come to a whole number, from which their sum is less than 1
// away: by the largest remainder, and of equal ones the larger part first.
func Apportion(whole int, parts []float64) []int {
	list, order := make([]int, len(parts)), make([]int, len(parts))
	for i, part := range parts {
		list[i], order[i] = int(math.Floor(part+1e-9)), i
		whole -= list[i]
	}
	rest := func(i int) float64 { return parts[i] - float64(list[i]) }
	slices.SortStableFunc(order, func(a, b int) int {
		if ra, rb := rest(a), rest(b); math.Abs(ra-rb) > 1e-9 {
			return cmp.Compare(rb, ra)
		}
		return cmp.Compare(parts[b], parts[a])
	})
	for _, i := range order[:max(min(whole, len(order)), 0)] {
		list[i]++
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
	return named(shares, Percents)
}

// PercentsWithin is NamedPercents of shares that add up to one that is written already.
func PercentsWithin(whole string, shares map[string]float64) func(name string) string {
	return named(shares, func(list []float64) []string { return within(whole, list) })
}

func named(shares map[string]float64, write func([]float64) []string) func(name string) string {
	names := slices.Sorted(maps.Keys(shares))
	list := make([]float64, len(names))
	for i, name := range names {
		list[i] = shares[name]
	}
	written := map[string]string{}
	for i, percent := range write(list) {
		written[names[i]] = percent
	}
	return func(name string) string { return cmp.Or(written[name], Percent(0)) }
}
