package scorecard

import (
	"cmp"
	"math"
	"slices"
)

// A Point of a curve: with everybody above a score taken, how many of the lost and of the won that
// are, as shares.
type Point struct{ Lost, Won float64 }

// A Curve is how well a score sorts the won from the lost (the receiver operating characteristic).
type Curve struct {
	Points []Point // from 0, 0 to 1, 1
	Area   float64 // how often a won one is above a lost one, ties counting half
	Error  float64 // standard error of the area
	Tenth  float64 // how many times as many are won in the first tenth as altogether
}

// CurveOf returns the curve of scores; there is none where one kind is missing.
//
// Source of the error: J. A. Hanley and B. J. McNeil, The meaning and use of the area under a
// receiver operating characteristic (ROC) curve, Radiology 1982;143:29–36.
func CurveOf(scores []float64, won []bool) (c Curve, is bool) {
	order := byScore(scores)
	var all Tally
	for _, w := range won {
		all = all.with(w)
	}
	if all.Won == 0 || all.Lost == 0 {
		return Curve{}, false
	}
	c.Points = []Point{{}}
	var above Tally
	for i := 0; i < len(order); {
		from := above
		for score := scores[order[i]]; i < len(order) && scores[order[i]] == score; i++ {
			above = above.with(won[order[i]])
		}
		c.Points = append(c.Points, Point{float64(above.Lost) / float64(all.Lost), float64(above.Won) / float64(all.Won)})
		c.Area += float64(above.Lost-from.Lost) * (float64(from.Won) + float64(above.Won-from.Won)/2)
	}
	n, m := float64(all.Won), float64(all.Lost)
	c.Area /= n * m
	q1, q2 := c.Area/(2-c.Area), 2*c.Area*c.Area/(1+c.Area)
	c.Error = math.Sqrt((c.Area*(1-c.Area) + (n-1)*(q1-c.Area*c.Area) + (m-1)*(q2-c.Area*c.Area)) / (n * m))
	c.Tenth = wonIn(scores, won, order, 0.1) / 0.1
	return c, true
}

func (t Tally) with(won bool) Tally {
	if won {
		t.Won++
	} else {
		t.Lost++
	}
	return t
}

// byScore are the places of scores, the highest first.
func byScore(scores []float64) []int {
	order := make([]int, len(scores))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(scores[b], scores[a]) })
	return order
}

// WonIn is the share of the won that are among the first by score: a part (0 to 1) of all. Of those
// with the score at which the part ends, as many are counted as it has room for, whoever they are.
func WonIn(scores []float64, won []bool, part float64) float64 {
	return wonIn(scores, won, byScore(scores), part)
}

func wonIn(scores []float64, won []bool, order []int, part float64) float64 {
	room, all, there := part*float64(len(scores)), 0, 0.0
	for _, w := range won {
		if w {
			all++
		}
	}
	for i := 0; i < len(order) && room > 0; {
		var same Tally
		for score := scores[order[i]]; i < len(order) && scores[order[i]] == score; i++ {
			same = same.with(won[order[i]])
		}
		take := min(room, float64(same.All()))
		there += float64(same.Won) * take / float64(same.All())
		room -= take
	}
	return there / float64(max(all, 1))
}

// A Difference of two areas of the same people.
type Difference struct {
	By, Error float64
	Low, High float64 // in 19 of 20 cases
	Chance    float64 // how likely so much or more is by chance, two-sided
}

// Differ returns how much better the second score sorts the same people than the first.
//
// Source: E. R. DeLong, D. M. DeLong and D. L. Clarke-Pearson, Comparing the areas under two or more
// correlated receiver operating characteristic curves, Biometrics 1988;44:837–845.
func Differ(first, second []float64, won []bool) (d Difference, is bool) {
	a, is := placements(first, won)
	b, also := placements(second, won)
	if !is || !also || len(a.won) < 2 || len(a.lost) < 2 {
		return Difference{}, false
	}
	d.By = mean(b.won) - mean(a.won)
	variance := func(x, y []float64) float64 { // of the difference, of one kind of people
		diff := make([]float64, len(x))
		for i := range x {
			diff[i] = y[i] - x[i]
		}
		at, sum := mean(diff), 0.0
		for _, v := range diff {
			sum += (v - at) * (v - at)
		}
		return sum / float64(len(diff)-1) / float64(len(diff))
	}
	d.Error = math.Sqrt(variance(a.won, b.won) + variance(a.lost, b.lost))
	d.Low, d.High = d.By-z*d.Error, d.By+z*d.Error
	d.Chance = 1
	if d.Error > 0 {
		d.Chance = math.Erfc(math.Abs(d.By/d.Error) / math.Sqrt2)
	}
	return d, true
}

// A placement is, of each of the won, the share of the lost below them, and of each of the lost the
// share of the won above them; ties count half.
type placement struct{ won, lost []float64 }

func placements(scores []float64, won []bool) (p placement, is bool) {
	var all Tally
	for _, w := range won {
		all = all.with(w)
	}
	if all.Won == 0 || all.Lost == 0 {
		return p, false
	}
	order := byScore(scores)
	slices.Reverse(order)
	of := make([]float64, len(scores))
	var below Tally
	for i := 0; i < len(order); {
		first := i
		var same Tally
		for score := scores[order[i]]; i < len(order) && scores[order[i]] == score; i++ {
			same = same.with(won[order[i]])
		}
		for _, k := range order[first:i] {
			if won[k] {
				of[k] = (float64(below.Lost) + float64(same.Lost)/2) / float64(all.Lost)
			} else {
				of[k] = 1 - (float64(below.Won)+float64(same.Won)/2)/float64(all.Won)
			}
		}
		below.Won, below.Lost = below.Won+same.Won, below.Lost+same.Lost
	}
	for k, w := range won {
		if w {
			p.won = append(p.won, of[k])
		} else {
			p.lost = append(p.lost, of[k])
		}
	}
	return p, true
}

func mean(list []float64) float64 {
	sum := 0.0
	for _, v := range list {
		sum += v
	}
	return sum / float64(max(len(list), 1))
}
