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

// spansOf are the ranges in which the answers to a question are shown. Of numbers and days they
// are of those that nearly all gave, with the rest at each side: one typo of a year shall not
// hide the others.
func spansOf(asked *quiz.Question, bins []tally.Bin) []span {
	low, high := decimal.Decimal(bins[0].Value), decimal.Decimal(bins[len(bins)-1].Value)
	if asked.Kind == quiz.Rating || asked.Kind == quiz.Stars {
		var list []span
		for low, high := asked.Range(); low <= high && len(list) <= 100; low += decimal.One {
			list = append(list, span{low, low, low.Words()})
		}
		return list
	}
	core := bins
	if spread := coreOf(bins); decimal.Decimal(spread[len(spread)-1].Value).Sub(decimal.Decimal(spread[0].Value)) <
		high.Sub(low)/4 {
		core = spread
	}
	from, to := decimal.Decimal(core[0].Value), decimal.Decimal(core[len(core)-1].Value)
	var list []span
	text, unit := decimal.Decimal.Words, decimal.Decimal(1)
	if asked.Kind == quiz.Date || whole(bins) {
		unit = decimal.One
	}
	if asked.Kind == quiz.Date {
		list, text = days(from, to), quiz.DayText
	} else {
		step := stepOf(core, to.Sub(from), mostSpans)
		first, all := stepped(from, to, step)
		for i := range all {
			list = append(list, spanFrom(first.Add(decimal.Decimal(i)*step), step, whole(bins)))
		}
		list = kept(asked, list, low, high, whole(bins))
	}
	before, after := "below ", "above "
	if asked.Kind == quiz.Date {
		before, after = "before ", "after "
	}
	if first := list[0]; low < first.from {
		list = append([]span{{low, first.from - unit, before + text(first.from)}}, list...)
	}
	if last := list[len(list)-1]; high > last.to {
		list = append(list, span{last.to + unit, high, after + text(last.to)})
	}
	return list
}

// mostOut is how many of a hundred answers may stand outside the ranges.
const mostOut = 1

// coreOf returns the numbers without the few at the ends, one of a hundred of all and one at
// least of ten or more, whose leaving shortens the range most.
func coreOf(bins []tally.Bin) []tally.Bin {
	all := 0
	for _, b := range bins {
		all += b.Count
	}
	out := all * mostOut / 100
	if all >= 10 {
		out = max(out, 1)
	}
	for len(bins) > 2 {
		last := len(bins) - 1
		below, above := bins[1].Value-bins[0].Value, bins[last].Value-bins[last-1].Value
		switch {
		case below >= above && bins[0].Count <= out:
			out -= bins[0].Count
			bins = bins[1:]
		case bins[last].Count <= out && above > 0:
			out -= bins[last].Count
			bins = bins[:last]
		default:
			return bins
		}
	}
	return bins
}

// calendar are the ranges of days: each so many months, and how it is called.
var calendar = []struct {
	months int
	called func(from, to time.Time) string
}{
	{1, func(from, _ time.Time) string { return from.Format("January 2006") }},
	{3, func(from, to time.Time) string { return from.Format("January") + " to " + to.Format("January 2006") }},
	{12, func(from, _ time.Time) string { return from.Format("2006") }},
	{120, func(from, to time.Time) string { return from.Format("2006") + " to " + to.Format("2006") }},
	{1200, func(from, to time.Time) string { return from.Format("2006") + " to " + to.Format("2006") }},
}

// mostMonths is how many ranges of days are shown.
const mostMonths = 24

// days are months, or as many of them together as make them few enough, from one day to another.
func days(low, high decimal.Decimal) (list []span) {
	first, last := quiz.TimeOf(low), quiz.TimeOf(high)
	for _, c := range calendar {
		months := (last.Year()-first.Year())*12 + int(last.Month()) - int(first.Month()) + 1
		if months > mostMonths*c.months && c.months < 1200 {
			continue
		}
		at := time.Date(first.Year(), first.Month(), 1, 0, 0, 0, 0, time.UTC)
		for since := (first.Year()*12 + int(first.Month()) - 1) % c.months; since > 0; since-- {
			at = at.AddDate(0, -1, 0)
		}
		for ; quiz.DayOf(at) <= high; at = at.AddDate(0, c.months, 0) {
			end := at.AddDate(0, c.months, -1)
			list = append(list, span{quiz.DayOf(at), quiz.DayOf(end), c.called(at, end)})
		}
		return list
	}
	return list
}

// kept cuts the first and the last range at the limits of the question, where all keep to
// them.
func kept(asked *quiz.Question, list []span, low, high decimal.Decimal, whole bool) []span {
	least, most := asked.Bounds()
	words := func(s *span) {
		switch {
		case s.from == s.to:
			s.label = s.from.Words()
		default:
			s.label = s.from.Words() + " to " + s.to.Words()
		}
	}
	if first := &list[0]; least != nil && low >= *least && first.from < *least {
		if first.from = *least; whole || len(list) == 1 {
			words(first)
		} else {
			first.label = first.from.Words() + " to below " + (first.to + 1).Words()
		}
	}
	if last := &list[len(list)-1]; most != nil && high <= *most && last.to > *most {
		last.to = *most
		words(last)
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
