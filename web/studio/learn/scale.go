package learn

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/inference"
	"omphalos/core/odds"
	"omphalos/store/tally"
	"omphalos/web/ui"
)

// A scaleFigure is what a scale came to: bars as observed, a line as expected.
type scaleFigure struct {
	Key, Name      string
	Chart          pair
	Bars, Line     string // paths
	Ticks          []scaleTick
	Mean, Expected string
	Rows           []rowFigure // the same as a table
	Spread         string      // the standard deviation
	Beside         *beside
}

type scaleTick struct {
	X    float64
	Text string
}

const (
	scaleWidth  = 680
	scaleHeight = 110
	scaleSpans  = 28
)

// scale draws what a scale came to; false where nobody has a score of it, or all the same.
func (r *reading) scale(key string) (scaleFigure, bool) {
	of := tally.Property{Kind: tally.Score, Key: key}
	bins := r.in.Values(of, 1)
	if len(bins) < 2 {
		return scaleFigure{}, false
	}
	low, high := decimal.Decimal(bins[0].Value), decimal.Decimal(bins[len(bins)-1].Value)
	var points []odds.Point
	if r.odds != nil && r.odds.Scores[key] != nil {
		points = r.odds.Scores[key].Points
	}
	if len(points) > 0 {
		low, high = min(low, points[0].Score), max(high, points[len(points)-1].Score)
	}
	step := stepOf(bins, high.Sub(low), scaleSpans)
	low, all := stepped(low, high, step)
	observed, due := make([]float64, all), make([]float64, all)
	counts, total := make([]int, all), 0
	for _, b := range bins {
		counts[decimal.Decimal(b.Value).Sub(low)/step] += b.Count
		total += b.Count
	}
	most := 0.0
	for i, n := range counts {
		observed[i] = float64(n) / float64(total)
		most = max(most, observed[i])
	}
	for _, p := range points {
		due[p.Score.Sub(low)/step] += p.Share
	}
	most = max(most, slices.Max(due))
	f := scaleFigure{Key: key, Chart: r.slice.charted("score." + key), Name: r.quiz.Scales[key].Name, Mean: rounded(inference.Mean(bins)).Words()}
	f.Spread = rounded(math.Sqrt(inference.Variance(bins))).Words()
	if r.about("score." + key); r.versus != nil {
		f.Beside = r.versus.mean(f.Name, bins, r.versus.in.Values(of, 1))
	}
	if len(points) > 0 {
		f.Expected = rounded(r.odds.Scores[key].Mean * float64(decimal.One)).Words()
	}
	wide := float64(scaleWidth) / float64(all)
	var bars, line strings.Builder
	for i := range counts {
		x := float64(i) * wide
		if observed[i] > 0 {
			height := max(observed[i]/most*scaleHeight, 1)
			ui.Bar(&bars, x+0.5, scaleHeight-height, max(wide-1, 0.5), height)
		}
		if due[i] > 0 {
			fmt.Fprintf(&line, "M%.2f %.2fh%.2f", x+0.5, scaleHeight-due[i]/most*scaleHeight, max(wide-1, 0.5))
		}
		from := low.Add(decimal.Decimal(i) * step)
		if i%max(all/10, 1) == 0 {
			f.Ticks = append(f.Ticks, scaleTick{x, from.Words()})
		}
		if counts[i] > 0 {
			of := spanFrom(from, step, whole(bins))
			value, field := of.from.String()+".."+of.to.String(), "score."+key
			row := rowFigure{Label: of.label, Count: counts[i], Part: observed[i], Width: 100 * observed[i], Mark: -1,
				Address: r.slice.only(field, value), Chosen: r.slice.Asked.Get(field) == value}
			if len(points) > 0 {
				row.Expected, row.Mark = ui.Percent(due[i]), 100*due[i]
			}
			f.Rows = append(f.Rows, row)
		}
	}
	f.Bars, f.Line = bars.String(), line.String()
	return f, true
}
