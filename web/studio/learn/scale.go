package learn

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/inference"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A scaleFigure is what a scale came to: bars as observed, a line as expected.
type scaleFigure struct {
	Key, Name      string
	Chart          pair
	Bars           []bandBars // in the colours of what the scores lead to, where bands decide by them
	Line           string     // path
	Cuts           string     // path
	Ticks          []scaleTick
	Hits           []scaleHit // what is pressed: a bar from top to bottom
	Mean, Expected string
	Rows           []rowFigure // the same as a table
	Spread         string      // the standard deviation
	Beside         *beside
}

// The bars of a band: all of them, where none decides by the scale.
type bandBars struct{ Class, Path string }

// A scaleHit is where a press adds a range of scores to the sentence, or takes it away.
type scaleHit struct {
	X, Width float64
	Address  string
	Label    string
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
	bins := r.scoredIn.Values(of, 1)
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
	f := scaleFigure{Key: key, Chart: r.slice.charted("score." + key), Name: r.quiz.Scales[key].Name,
		Mean: rounded(inference.Mean(bins)).Words()}
	f.Spread = rounded(math.Sqrt(inference.Variance(bins))).Words()
	if r.about("score." + key); r.versus != nil {
		f.Beside = r.versus.mean(f.Name, bins, r.alike(r.versus.in).Values(of, 1))
	}
	if len(points) > 0 {
		f.Expected = rounded(r.odds.Scores[key].Mean * float64(decimal.One)).Words()
	}
	wide := float64(scaleWidth) / float64(all)
	var line, cuts strings.Builder
	bands := bandsOf(r.quiz, key)
	bars := make([]strings.Builder, len(bands))
	for _, b := range bands[1:] {
		if at := float64(b.from.Sub(low)) / float64(step) * wide; at >= 0 && at <= scaleWidth {
			fmt.Fprintf(&cuts, "M%.2f 0V%d", at, scaleHeight)
		}
	}
	for i := range counts {
		x := float64(i) * wide
		if observed[i] > 0 {
			height := max(observed[i]/most*scaleHeight, 1)
			ui.Bar(&bars[bandAt(bands, low.Add(decimal.Decimal(i)*step))], x+0.5, scaleHeight-height, max(wide-1, 0.5), height)
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
			row := rowFigure{Label: of.label, Count: counts[i], Part: observed[i], Percent: inference.Percent(observed[i]),
				Width: 100 * observed[i], Mark: -1,
				Address: r.slice.only(field, value), Chosen: r.slice.Asked.Get(field) == value}
			if len(points) > 0 {
				row.Expected, row.Mark = ui.Percent(due[i]), 100*due[i]
			}
			f.Rows = append(f.Rows, row)
			f.Hits = append(f.Hits, scaleHit{x, wide, row.Address, of.label + ": " + ui.Percent(row.Part)})
		}
	}
	for i := range bars {
		if path := bars[i].String(); path != "" {
			f.Bars = append(f.Bars, bandBars{bands[i].class, path})
		}
	}
	f.Line, f.Cuts = line.String(), cuts.String()
	return f, true
}

// A band of scores with the colour of its outcome.
type scoreBand struct {
	from  decimal.Decimal
	class string
}

// bandsOf are the bands of the first step that decides by a scale, from the lowest: one of all
// scores, in no outcome's colour, where there is none.
func bandsOf(q *quiz.Quiz, scale string) []scoreBand {
	outcomes := quiz.InOrder(q.Outcomes)
	class := func(outcome string) string {
		if i := slices.Index(outcomes, outcome); i >= 0 {
			return desk.Hue(i)
		}
		return "those"
	}
	for _, key := range quiz.InOrder(q.Decision.Steps) {
		s := q.Decision.Steps[key]
		if s.Off || s.Kind != quiz.BandsStep || s.Scale != scale {
			continue
		}
		list := []scoreBand{{decimal.Min, class(s.Lowest)}}
		for _, k := range s.CutKeys() {
			list = append(list, scoreBand{s.Cuts[k].At, class(s.Cuts[k].Outcome)})
		}
		return list
	}
	return []scoreBand{{decimal.Min, "those"}}
}

// bandAt returns the place of the band that a score is in.
func bandAt(bands []scoreBand, score decimal.Decimal) int {
	at := 0
	for i, b := range bands {
		if b.from <= score {
			at = i
		}
	}
	return at
}
