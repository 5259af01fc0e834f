package sheet

import (
	"cmp"
	"html/template"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A ruler shows the bands of a decision step over the distribution of scores.
// Coordinates are in pixels of a drawing that is rulerWidth wide.
type ruler struct {
	Step      string
	Low, High string // ends of the line, in scores
	Left      float64
	PerScore  float64 // pixels for a score of 1
	Snap      string  // what an arrow key moves a cut by
	Bars      []bar
	Ticks     []tick
	Cuts      []cutMark
	Bands     []band
	Told      bool    // the bars are the distribution
	Away      float64 // the share that has a score and does not come here
}

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

type cutMark struct {
	Path         quiz.Pointer
	Key, At      string
	X            float64
	Below, Above string // private names, for what is read out
}

// A band of the ruler, from the lowest.
type band struct {
	Path    quiz.Pointer // of the field that names its outcome
	CutPath quiz.Pointer // of the cut that begins it, "" for the lowest
	CutKey  string
	Outcome string
	Name    string
	Letter  string
	Class   string
	From    string // score, "" for the lowest
	To      string // the score of the next cut, "" for the highest
	Middle  float64
	Width   float64
	Share   float64
	Odds    template.HTML // the place of Share
}

const (
	rulerWidth  = 720
	rulerLeft   = 24
	rulerRight  = rulerWidth - 24
	barsBase    = 96 // y of the line
	barsHighest = 76
)

// newRuler draws a step of bands, with the scores of o, on a line as long as the scores
// that are possible. Both may be nil; low and high then come from the cuts alone.
func newRuler(q *quiz.Quiz, key string, s *quiz.Step, o, possible *odds.Odds) ruler {
	r := ruler{Step: key, Snap: "1", Told: o != nil && o.Scores[s.Scale] != nil}
	var points []odds.Point
	if o != nil && o.Scores[s.Scale] != nil {
		points = o.Scores[s.Scale].Points
	}
	all := points
	if possible != nil && possible != o && possible.Scores[s.Scale] != nil {
		all = slices.Concat(points, possible.Scores[s.Scale].Points)
		slices.SortFunc(all, func(a, b odds.Point) int { return cmp.Compare(a.Score, b.Score) })
		all = slices.CompactFunc(all, func(a, b odds.Point) bool { return a.Score == b.Score })
	}
	low, high := span(s, all)
	r.Low, r.High = low.String(), high.String()
	// Each bar is a unit wide, so the line is one unit longer than the span.
	unit := smallest(all)
	if unit < decimal.One {
		r.Snap = unit.String()
	}
	if len(all) > mostSnaps { // values lie everywhere: a cut moves by a hundredth of the line, or so
		for unit = decimal.One; unit > 1 && unit*100 > high-low; unit /= 10 {
		}
		r.Snap = unit.String()
	}
	total := (high - low).Float64() + unit.Float64()
	r.Left, r.PerScore = rulerLeft, (rulerRight-rulerLeft)/total
	x := func(score decimal.Decimal) float64 { return rulerLeft + (score-low).Float64()*r.PerScore }
	r.bars(q, s, points, unit, x)
	r.ticks(low, high, unit, x)
	r.bands(q, key, s, points, x)
	return r
}

// span returns the ends of the line: the scores that can be reached, and the cuts.
func span(s *quiz.Step, points []odds.Point) (low, high decimal.Decimal) {
	first := true
	take := func(d decimal.Decimal) {
		if first || d < low {
			low = d
		}
		if first || d > high {
			high = d
		}
		first = false
	}
	if len(points) > 0 {
		take(points[0].Score)
		take(points[len(points)-1].Score)
	}
	for _, c := range s.Cuts {
		take(c.At - decimal.One)
		take(c.At)
	}
	if high < low+decimal.One {
		high = low + decimal.One
	}
	return low, high
}

// smallest returns the least distance of two scores, at most 1.
func smallest(points []odds.Point) decimal.Decimal {
	unit := decimal.One
	for i := 1; i < len(points); i++ {
		unit = min(unit, points[i].Score-points[i-1].Score)
	}
	return unit
}

// mostSnaps is how many scores a cut can be moved among one by one.
const mostSnaps = 2000

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

func (r *ruler) bands(q *quiz.Quiz, key string, s *quiz.Step, points []odds.Point, x func(decimal.Decimal) float64) {
	path := quiz.At("decision", "steps", key)
	add := func(b band) {
		b.Letter, b.Class = "", "to-none"
		if o := q.Outcomes[b.Outcome]; o != nil {
			b.Name, b.Letter, b.Class = o.Name, q.Letter(b.Outcome), hueOf(q, b.Outcome)
		}
		r.Bands = append(r.Bands, b)
	}
	add(band{Path: path + "/lowest", Outcome: s.Lowest})
	for _, k := range s.CutKeys() {
		c := s.Cuts[k]
		add(
			band{
				Path:    path.Join("cuts", k, "outcome"),
				CutPath: path.Join("cuts", k),
				CutKey:  k,
				Outcome: c.Outcome,
				From:    c.At.Words(),
			},
		)
	}
	left := float64(rulerLeft)
	for i, k := range append(s.CutKeys(), "") {
		right := float64(rulerRight)
		if k != "" {
			right = x(s.Cuts[k].At)
			r.Bands[i].To = s.Cuts[k].At.Words()
		}
		r.Bands[i].Middle, r.Bands[i].Width = (left+right)/2, right-left
		left = right
	}
	for _, p := range points {
		i := 0
		for j, k := range s.CutKeys() {
			if p.Score >= s.Cuts[k].At {
				i = j + 1
			}
		}
		r.Bands[i].Share += p.Share - p.Named - p.Parted
	}
	for i, k := range s.CutKeys() {
		r.Cuts = append(
			r.Cuts,
			cutMark{
				path.Join("cuts", k, "at"),
				k,
				s.Cuts[k].At.String(),
				x(s.Cuts[k].At),
				r.Bands[i].Name,
				r.Bands[i+1].Name,
			},
		)
	}
}
