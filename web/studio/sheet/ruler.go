package sheet

import (
	"cmp"
	"html/template"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/inference"
	"omphalos/core/odds"
	"omphalos/core/quiz"
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
	Percent string
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
	shares, away := make([]float64, len(r.Bands)), 1.0
	for i, b := range r.Bands {
		shares[i] = b.Share
		away -= b.Share
	}
	for i, percent := range inference.Percents(append(shares, away))[:len(r.Bands)] {
		r.Bands[i].Percent = percent
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
