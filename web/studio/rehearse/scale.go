package rehearse

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

type scoreNow = decimal.Decimal

// A scale is drawn as a small ruler: how the score can come to lie from here, and where it
// is now. Its drawing is scaleWidth wide and scaleHeight high.
type scale struct {
	Name      string
	Now       string
	Low, High string // that can still be reached
	X         float64
	Bars      []bar
	Words     string // for those who don't see it
}

type bar struct {
	X, Y, Width, Height float64
	Class               string
}

const (
	scaleWidth  = 400
	scaleHeight = 56
	scaleBase   = 48
	mostBars    = 80
)

// mostScales is how many are drawn: of more, those that decide come first.
const mostScales = 6

func (h *happens) scales(d *draft, o, whole *odds.Odds, now []scoreNow) {
	banded := bandsOf(d.doc)
	keys := quiz.InOrder(d.program.Quiz.Scales)
	for _, deciding := range []bool{true, false} {
		for i, key := range keys {
			if (banded[key] != nil) == deciding && len(h.Scales) < mostScales && o.Scores[key] != nil &&
				whole.Scores[key] != nil {
				h.Scales = append(h.Scales, scaleOf(d, key, banded[key], o.Scores[key], whole.Scores[key],
					d.program.ScoreText(i, now[i]), now[i]))
			}
		}
	}
}

// bandsOf returns the step of bands that measures each scale.
func bandsOf(q *quiz.Quiz) map[string]*quiz.Step {
	steps := map[string]*quiz.Step{}
	for _, key := range quiz.InOrder(q.Decision.Steps) {
		if s := q.Decision.Steps[key]; s.Kind == quiz.BandsStep && !s.Off && steps[s.Scale] == nil {
			steps[s.Scale] = s
		}
	}
	return steps
}

func scaleOf(d *draft, key string, bands *quiz.Step, s, whole *odds.Scale, text string, now decimal.Decimal) scale {
	v := scale{Name: d.doc.Scales[key].Name, Now: text}
	points, all := possible(s), possible(whole)
	if len(points) == 0 || len(all) == 0 {
		return v
	}
	v.Low, v.High = points[0].Score.Words(), points[len(points)-1].Score.Words()
	low := min(points[0].Score, all[0].Score, now)
	high := max(points[len(points)-1].Score, all[len(all)-1].Score, now)
	span := max(high-low, decimal.One)
	x := func(score decimal.Decimal) float64 {
		return 8 + float64(scaleWidth-16)*(score-low).Float64()/span.Float64()
	}
	v.X = x(now)
	v.Words = v.Name + " is " + text + " now; from " + v.Low + " to " + v.High + " can still be reached"
	width := min(max(float64(scaleWidth-16)/float64(min(len(all), mostBars)+1)*0.8, 2), 14)
	v.bars(d.doc, bands, all, span, width, x, "faint ")
	v.bars(d.doc, bands, points, span, width, x, "")
	return v
}

// possible returns the scores that somebody is expected to have.
func possible(s *odds.Scale) []odds.Point {
	return slices.DeleteFunc(slices.Clone(s.Points), func(p odds.Point) bool { return p.Share <= 0 })
}

// bars draws the scores that can be reached, several to a bar where they are many.
func (v *scale) bars(q *quiz.Quiz, bands *quiz.Step, points []odds.Point, span decimal.Decimal, width float64,
	x func(decimal.Decimal) float64, how string) {
	wide := max(span/mostBars, 1)
	type bin struct {
		at    decimal.Decimal
		share float64
		class string
	}
	var bins []bin
	most := 0.0
	for _, p := range points {
		class := "to-some"
		if bands != nil {
			class = hueOf(q, odds.Band(bands, p.Score))
		}
		if n := len(bins); n > 0 && bins[n-1].class == class && p.Score-bins[n-1].at < wide {
			bins[n-1].share += p.Share
		} else {
			bins = append(bins, bin{p.Score, p.Share, class})
		}
		most = max(most, bins[len(bins)-1].share)
	}
	for _, b := range bins {
		height := max(b.share/most*(scaleBase-8), 1.5)
		v.Bars = append(v.Bars, bar{x(b.at) - width/2, scaleBase - height, width, height, how + b.class})
	}
}

func hueOf(q *quiz.Quiz, outcome string) string {
	for i, k := range quiz.InOrder(q.Outcomes) {
		if k == outcome {
			return desk.Hue(i)
		}
	}
	return "to-none"
}
