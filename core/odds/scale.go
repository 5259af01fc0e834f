package odds

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/odds/explore"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Point is a score and the share (0 to 1) of passages that end with it.
type Point struct {
	Score decimal.Decimal `json:"score"`
	Share float64         `json:"share"`
	// Of Share, those whom a then sends to an outcome, and those with whom it parts ways:
	// no decision looks at their score.
	Named  float64 `json:"named,omitzero"`
	Parted float64 `json:"parted,omitzero"`
}

// A Scale is the distribution of a scale over all passages, those that do not come to
// the decision included.
type Scale struct {
	Points []Point `json:"points"` // rising
	Mean   float64 `json:"mean"`
	Spread float64 `json:"spread"` // standard deviation
	Within Bounds  `json:"within"` // proven: no passage has a score beyond; of exact odds the lowest and the highest

	decided []Point // of those who come to the decision
}

// Lowest returns the lowest score, 0 where there are no passages.
func (s *Scale) Lowest() decimal.Decimal { return lowest(s.Points) }

// Highest returns the highest, as Lowest does.
func (s *Scale) Highest() decimal.Decimal { return highest(s.Points) }

// Decided returns the scores of those who come to the decision, with their shares of
// all passages.
func (s *Scale) Decided() []Point {
	if s == nil {
		return nil
	}
	list := s.decided
	if list == nil {
		for _, p := range s.Points {
			if at := p.Share - p.Named - p.Parted; at > 0 {
				list = append(list, Point{Score: p.Score, Share: at})
			}
		}
	}
	return list
}

func lowest(points []Point) decimal.Decimal {
	if len(points) == 0 {
		return 0
	}
	return points[0].Score
}

func highest(points []Point) decimal.Decimal {
	if len(points) == 0 {
		return 0
	}
	return points[len(points)-1].Score
}

// Band returns the outcome of the band that a score lies in, "" in an open one.
func Band(s *quiz.Step, score decimal.Decimal) string {
	outcome := s.Lowest
	for _, k := range s.CutKeys() {
		if score < s.Cuts[k].At {
			break
		}
		outcome = s.Cuts[k].Outcome
	}
	return outcome
}

// scored is a score at the end of a passage.
type scored struct {
	score decimal.Decimal
	end   program.End
}

func scaleOf(scores map[scored]float64) *Scale {
	s := &Scale{Points: make([]Point, 0, len(scores))}
	all, sum, squares := 0.0, 0.0, 0.0
	for _, at := range slices.SortedFunc(maps.Keys(scores), func(a, b scored) int {
		return cmp.Or(cmp.Compare(a.score, b.score), cmp.Compare(a.end, b.end))
	}) {
		share := scores[at]
		if n := len(s.Points); n == 0 || s.Points[n-1].Score != at.score {
			s.Points = append(s.Points, Point{Score: at.score})
		}
		p := &s.Points[len(s.Points)-1]
		p.Share += share
		switch at.end {
		case program.Decided:
			s.decided = append(s.decided, Point{Score: at.score, Share: share})
		case program.Named:
			p.Named += share
		case program.Parted:
			p.Parted += share
		}
		all, sum = all+share, sum+share*at.score.Float64()
	}
	if all == 0 {
		return s
	}
	s.Mean = sum / all
	for _, p := range s.Points {
		squares += p.Share * math.Pow(p.Score.Float64()-s.Mean, 2)
	}
	s.Spread = math.Sqrt(squares / all)
	return s
}

// scales puts the distributions of scales that are alike into a list; it leaves nil
// where they take too many steps.
func (w walks) scales(alike []int, into []*Scale) {
	e, err := explore.Scales(w.context, w.p, w.assumed, w.most, alike)
	if err != nil {
		return
	}
	r := w.run(&walked{}, e)
	if r == nil {
		return
	}
	scores := make([]map[scored]float64, len(into))
	for _, scale := range alike {
		scores[scale] = map[scored]float64{}
	}
	for _, c := range r.places[len(r.places)-1].crowds {
		for k, v := range c.vectors {
			if k%256 == 255 && w.context.Err() != nil {
				return
			}
			e.Scores(c.move, v, func(scale int, score decimal.Decimal) {
				scores[scale][scored{score, c.move.End}] += c.shares[k]
			})
		}
	}
	for _, scale := range alike {
		s := scaleOf(scores[scale])
		if low, high := s.Lowest(), s.Highest(); e.Partial() {
			s.Within = BoundsOf(w.p)[scale]
		} else if len(s.Points) > 0 {
			s.Within = Bounds{Low: &low, High: &high}
		}
		into[scale] = s
	}
}
