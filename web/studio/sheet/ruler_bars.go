package sheet

import (
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

type bar struct {
	X, Y, Width, Height float64
	Class               string
	Words               string
}

// A paint is the bars of one colour as one path of SVG.
type paint struct{ Class, Path string }

// Paints returns the bars by their colours, in the order in which these come first.
func (r ruler) Paints() []paint {
	var list []paint
	for _, b := range r.Bars {
		i := slices.IndexFunc(list, func(p paint) bool { return p.Class == b.Class })
		if i < 0 {
			i = len(list)
			list = append(list, paint{Class: b.Class})
		}
		var path strings.Builder
		ui.Bar(&path, b.X, b.Y, b.Width, b.Height)
		list[i].Path += path.String()
	}
	return list
}

type tick struct {
	X    float64
	Text string
}

// mostBars is how many bars are told apart at a glance; of more scores, several that
// follow each other in one band share a bar, as high as they are on average.
const mostBars = 120

func (r *ruler) bars(
	q *quiz.Quiz,
	s *quiz.Step,
	points []odds.Point,
	unit decimal.Decimal,
	x func(decimal.Decimal) float64,
) {
	if len(points) == 0 {
		return
	}
	type bin struct {
		from, to decimal.Decimal
		share    float64 // of those who come to the decision
		away     float64 // of those who end elsewhere
		outcome  string
	}
	wide := unit * decimal.Decimal((len(points)+mostBars-1)/mostBars)
	wide = max(wide, (points[len(points)-1].Score-points[0].Score)/mostBars)
	var bins []bin
	for _, p := range points {
		outcome := odds.Band(s, p.Score)
		if n := len(bins); n > 0 && bins[n-1].outcome == outcome && p.Score-bins[n-1].from < wide {
			bins[n-1].to = p.Score
		} else {
			bins = append(bins, bin{from: p.Score, to: p.Score, outcome: outcome})
		}
		b := &bins[len(bins)-1]
		b.share, b.away = b.share+p.Share-p.Named-p.Parted, b.away+p.Named+p.Parted
		r.Away += p.Named + p.Parted
	}
	dense := func(b bin, share float64) float64 { return share / float64((b.to-b.from)/unit+1) }
	most := 0.0
	for _, b := range bins {
		most = max(most, dense(b, b.share+b.away))
	}
	for _, b := range bins {
		height := dense(b, b.share) / most * barsHighest
		away := dense(b, b.away) / most * barsHighest
		if height+away < 1 {
			height = 1
		}
		w := (b.to - b.from + unit).Float64() * r.PerScore
		gap := min(1, w/4)
		words := b.from.Words()
		if b.to != b.from {
			words += " to " + b.to.Words()
		}
		r.Bars = append(
			r.Bars,
			bar{
				X:      x(b.from) + gap/2,
				Y:      barsBase - height,
				Width:  w - gap,
				Height: height,
				Class:  hueOf(q, b.outcome),
				Words:  words,
			},
		)
		if away > 0 {
			r.Bars = append(
				r.Bars,
				bar{
					X:      x(b.from) + gap/2,
					Y:      barsBase - height - away,
					Width:  w - gap,
					Height: away,
					Class:  "to-away",
					Words:  words,
				},
			)
		}
	}
}

// hueOf is the class of an outcome's colour, "to-none" for none.
func hueOf(q *quiz.Quiz, outcome string) string {
	for i, k := range quiz.InOrder(q.Outcomes) {
		if k == outcome {
			return desk.Hue(i)
		}
	}
	return "to-none"
}

var steps = []int64{
	1,
	2,
	5,
	10,
	20,
	25,
	50,
	100,
	200,
	250,
	500,
	1000,
	2000,
	5000,
	10000,
	100000,
	1000000,
	10000000,
	100000000,
	1000000000,
}

// ticks puts a number under every so many scores, at most some twenty.
func (r *ruler) ticks(low, high, unit decimal.Decimal, x func(decimal.Decimal) float64) {
	step := decimal.FromInt(steps[len(steps)-1])
	for _, s := range steps {
		if (high-low).Float64()/float64(s) <= 20 {
			step = decimal.FromInt(s)
			break
		}
	}
	at := low / step * step
	if at < low {
		at += step
	}
	for ; at <= high; at += step {
		r.Ticks = append(r.Ticks, tick{x(at) + unit.Float64()*r.PerScore/2, at.Words()})
	}
}
