package learn

import (
	"maps"
	"slices"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store/tally"
)

// A span is a range of numbers, both ends included.
type span struct {
	from, to decimal.Decimal
	label    string
}

// mostSpans is how many ranges numbers are shown in, about.
const mostSpans = 10

// spansOf are the ranges in which the answers to a question are shown.
func spansOf(asked *quiz.Question, bins []tally.Bin) []span {
	var list []span
	low, high := decimal.Decimal(bins[0].Value), decimal.Decimal(bins[len(bins)-1].Value)
	switch {
	case asked.Kind == quiz.Rating || asked.Kind == quiz.Stars:
		for low, high := asked.Range(); low <= high && len(list) <= 100; low += decimal.One {
			list = append(list, span{low, low, low.Words()})
		}
	case asked.Kind == quiz.Date:
		first, _ := time.Parse(time.DateOnly, quiz.DayText(low))
		for at := time.Date(first.Year(), first.Month(), 1, 0, 0, 0, 0, time.UTC); quiz.DayOf(at) <= high &&
			len(list) < 60; at = at.AddDate(0, 1, 0) {
			list = append(list, span{quiz.DayOf(at), quiz.DayOf(at.AddDate(0, 1, -1)), at.Format("January 2006")})
		}
	default:
		step := stepOf(bins, high.Sub(low), mostSpans)
		from, all := stepped(low, high, step)
		for i := range all {
			list = append(list, spanFrom(from.Add(decimal.Decimal(i)*step), step, whole(bins)))
		}
	}
	return list
}

// stepped returns the multiple of a step at or below a number, and how many steps there are
// from it to a higher one.
func stepped(low, high, step decimal.Decimal) (from decimal.Decimal, all int) {
	from = low.Sub(((low % step) + step) % step)
	return from, int(high.Sub(from)/step) + 1
}

// spanFrom is the range of a step from a number on: up to the last whole number in it, or to
// a millionth below the next.
func spanFrom(from, step decimal.Decimal, whole bool) span {
	switch {
	case whole && step == decimal.One:
		return span{from, from, from.Words()}
	case whole:
		to := from.Add(step - decimal.One)
		return span{from, to, from.Words() + " to " + to.Words()}
	}
	return span{from, from.Add(step - 1), from.Words() + " to below " + from.Add(step).Words()}
}

// whole tells whether all are whole numbers.
func whole(bins []tally.Bin) bool {
	return !slices.ContainsFunc(bins, func(b tally.Bin) bool { return b.Value%int64(decimal.One) != 0 })
}

// stepOf is a niceStep, of at least 1 for whole numbers.
func stepOf(bins []tally.Bin, distance decimal.Decimal, parts int) decimal.Decimal {
	step := niceStep(distance, parts)
	if whole(bins) {
		step = max(step, decimal.One)
	}
	return step
}

// niceStep is a step of 1, 2 or 5 times a power of ten by which a distance falls into about
// so many parts: at least a hundredth.
func niceStep(distance decimal.Decimal, parts int) decimal.Decimal {
	for power := decimal.One / 100; ; power *= 10 {
		for _, n := range []decimal.Decimal{1, 2, 5} {
			if float64(distance) <= float64(power*n)*float64(parts) || power > decimal.Max/50 {
				return power * n
			}
		}
	}
}

// within counts the numbers in a range.
func within(bins []tally.Bin, of span) int {
	n := 0
	for _, b := range bins {
		if int64(of.from) <= b.Value && b.Value <= int64(of.to) {
			n += b.Count
		}
	}
	return n
}

// together counts the numbers of two lists in one, the least first.
func together(a, b []tally.Bin) []tally.Bin {
	counts := map[int64]int{}
	for _, bin := range append(slices.Clone(a), b...) {
		counts[bin.Value] += bin.Count
	}
	return binsOf(counts)
}

func binsOf(counts map[int64]int) (list []tally.Bin) {
	for _, value := range slices.Sorted(maps.Keys(counts)) {
		list = append(list, tally.Bin{Value: value, Count: counts[value]})
	}
	return list
}
