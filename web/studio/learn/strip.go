package learn

import (
	"math"
	"strings"
	"time"

	"omphalos/store/tally"
	"omphalos/web/ui"
)

const day = 24 * 60 * 60 // in seconds

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
	unit := int64(day)
	all := t.Slice().Values(finished, unit)
	if len(all) == 0 {
		return nil
	}
	out := &strip{}
	if all[len(all)-1].Value-all[0].Value >= mostDays {
		unit, out.Weeks = 7*day, true
		all = t.Slice().Values(finished, unit)
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
	name := func(bin int64) string { return time.Unix(bin*unit, 0).UTC().Format(time.DateOnly) }
	out.All = bars(all)
	if out.In = out.All; len(s.Parts) > 0 {
		out.In = bars(in.Values(finished, unit))
	}
	out.Unit, out.Most = int(unit/day), int(last-first)
	out.High = out.Most
	if part, dated := s.Parts["from"]; dated {
		if part.From > math.MinInt64 {
			out.Low = min(max(int(part.From/unit-first), 0), out.Most)
		}
		if part.To < math.MaxInt64 {
			out.High = min(max(int(part.To/unit-first), out.Low), out.Most)
		}
	}
	out.First, out.Last = name(first), time.Unix((last+1)*unit-1, 0).UTC().Format(time.DateOnly)
	return out
}
