package learn

import (
	"math"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store/tally"
	"omphalos/web/ui"
)

// A strip shows how many responses came on which day, of all and of the slice.
type strip struct {
	First, Last string
	Weeks       bool // a bar is a week
	All, In     string

	// The handles stand at the first and the last bar of the slice, counted from 0.
	Unit            int // days of a bar
	Low, High, Most int
}

const (
	stripWidth  = 900
	stripHeight = 44
	mostDays    = 140 // more are shown by weeks
	fewestBars  = 30  // so many days or weeks at the least
)

// strip draws the days from the first response to the last.
func (s *sentence) strip(t *tally.Tally, in tally.Slice) *strip {
	finished := tally.Property{Kind: tally.Finished}
	unit, of := int64(1), s.days.Of()
	days := func(in tally.Slice) []tally.Bin {
		return in.ValuesBy(finished, func(second int64) int64 { return of(second) / unit })
	}
	all := days(t.Slice())
	if len(all) == 0 {
		return nil
	}
	out := &strip{}
	if all[len(all)-1].Value-all[0].Value >= mostDays {
		unit, out.Weeks = 7, true
		all = days(t.Slice())
	}
	last := all[len(all)-1].Value
	first := min(all[0].Value, last-fewestBars+1)
	most := 0
	for _, b := range all {
		most = max(most, b.Count)
	}
	wide := float64(stripWidth) / float64(last-first+1)
	bars := func(bins []tally.Bin) string {
		var path strings.Builder
		for _, b := range bins {
			high := max(float64(b.Count)/float64(most)*stripHeight, 1)
			ui.Bar(&path, float64(b.Value-first)*wide, stripHeight-high, max(wide-1, 0.5), high)
		}
		return path.String()
	}
	name := func(bin int64) string { return quiz.DayText(decimal.FromInt(bin * unit)) }
	out.All = bars(all)
	if out.In = out.All; len(s.Parts) > 0 {
		out.In = bars(days(in))
	}
	out.Unit, out.Most = int(unit), int(last-first)
	out.High = out.Most
	if part, dated := s.Parts["from"]; dated {
		if part.From > math.MinInt64 {
			out.Low = min(max(int(of(part.From)/unit-first), 0), out.Most)
		}
		if part.To < math.MaxInt64 {
			out.High = min(max(int(of(part.To)/unit-first), out.Low), out.Most)
		}
	}
	out.First, out.Last = name(first), quiz.DayText(decimal.FromInt((last+1)*unit-1))
	return out
}
