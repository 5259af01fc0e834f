package expect

import (
	"math"
	"slices"
)

// A target is what is wanted of a design: per member the chance that it is among those
// picked, negative where nothing is; and the share of none, or a negative number.
type target struct {
	picked []float64
	none   float64
}

const (
	mostSweeps   = 2000
	mostProducts = 1 << 20 // some 10 ms
	settled      = 1e-13
	unsettled    = 1e-6 // what is wanted is had to a ten-thousandth of a percent
	rounding     = 1e-3 // what is had this near is what percents in tenths want
	touching     = 1e-12
)

// fit returns the design that has the chances wanted, and what it has where those
// can't be had under the limits: then they are the nearest that can, by squares. Even
// is what a member without a wish gets where all sets are alike.
func fit(want target, least, most int, mayBeNone bool) (d Design, nearest target, misfit bool) {
	n := len(want.picked)
	d = Design{Chances: make([]float64, n), least: max(least, 1), most: min(most, n), mayBeNone: mayBeNone, none: -1}
	for i := range d.Chances {
		d.Chances[i] = 0.5
	}
	if d.most < d.least { // a draft without enough answers: none can be picked
		d.mayBeNone, d.none = true, 1
		return d, want, false
	}
	if !mayBeNone {
		want.none = -1
	}
	if want.none < 0 && !slices.ContainsFunc(want.picked, func(w float64) bool { return w >= 0 }) {
		return d, want, false
	}
	nearest = d.nearest(want)
	d.solve(target{nearest.picked, max(nearest.none, d.none)})
	got, share := d.picked()
	for i, w := range nearest.picked { // the last digits of a thousand answers take too long
		if w >= 0 && math.Abs(got[i]-w) > unsettled {
			nearest.picked[i] = got[i]
		}
		misfit = misfit || math.Abs(nearest.picked[i]-want.picked[i]) > rounding
	}
	if nearest.none >= 0 {
		nearest.none = share
	}
	return d, nearest, misfit
}

// nearest moves a target to the nearest one that can be had. With a share q of some
// being picked, the chances that can be had lie between 0 and q each, and between
// least · q and most · q together: the sets of these sizes are the corners of what they
// span. What lies as near to one of these ends as rounded percents do is moved onto it.
// Where there is one q alone that has the target, it decides the share of none.
func (d *Design) nearest(want target) target {
	named, free := []float64{}, 0
	for _, w := range want.picked {
		if w >= 0 {
			named = append(named, w)
		} else {
			free++
		}
	}
	q := 1.0
	switch {
	case d.mayBeNone && want.none >= 0:
		q = 1 - min(want.none, 1)
	case d.mayBeNone:
		low, high := d.some(named, free)
		if low > high {
			low, high = d.some(d.moved(named, free, d.nearestSome(named, free), touching), free)
		}
		if q = high; high-low < unsettled {
			q = min(low, 1)
			d.none = 1 - q
		}
	}
	moved := d.moved(named, free, q, unsettled)
	got, k := target{slices.Clone(want.picked), want.none}, 0
	for i, w := range want.picked {
		if w >= 0 {
			got.picked[i] = moved[k]
			k++
		}
	}
	return got
}

// some returns between which shares of some being picked these chances can be had.
func (d *Design) some(picked []float64, free int) (low, high float64) {
	sum, high := 0.0, 1.0
	for _, w := range picked {
		sum, low = sum+w, max(low, w)
	}
	if d.least > free {
		high = sum / float64(d.least-free)
	}
	return max(low, sum/float64(d.most)), min(high, 1)
}

// nearestSome returns the share of some being picked at which the nearest chances that can
// be had are nearest; the distance is convex in it.
func (d *Design) nearestSome(picked []float64, free int) float64 {
	off := func(q float64) (sum float64) {
		for i, w := range d.moved(picked, free, q, touching) {
			sum += (w - picked[i]) * (w - picked[i])
		}
		return sum
	}
	from, to := 0.0, 1.0
	for range 100 {
		a, b := from+(to-from)/3, to-(to-from)/3
		if off(a) < off(b) {
			to = b
		} else {
			from = a
		}
	}
	return (from + to) / 2
}

// moved returns the nearest chances to those wanted that can be had with a share q of some
// being picked. A sum within touch of an end is moved onto it.
func (d *Design) moved(picked []float64, free int, q, touch float64) []float64 {
	moved := make([]float64, len(picked))
	shift := func(by float64) (sum float64) {
		for i, w := range picked {
			moved[i] = min(max(w+by, 0), q)
			sum += moved[i]
		}
		return sum
	}
	low, high := max(float64(d.least-free), 0)*q, float64(d.most)*q
	goal := low
	switch sum := shift(0); {
	case sum > high-touch:
		goal = high
	case sum >= low+touch:
		return moved
	}
	from, to := -1.0, 1.0
	for range 60 {
		if by := (from + to) / 2; shift(by) < goal {
			from = by
		} else {
			to = by
		}
	}
	shift(to)
	return moved
}

// solve finds the odds that give a target which can be had, one member after the other:
// each step gives one of them its chance exactly and comes nearer to the solution.
func (d *Design) solve(want target) {
	if d.mayBeNone && want.none >= 0 {
		some := 1 - want.none
		d.none = want.none
		if some <= touching {
			d.none = 1
			return
		}
		picked := slices.Clone(want.picked)
		for i := range picked {
			picked[i] = min(picked[i]/some, 1)
		}
		inner := Design{Chances: d.Chances, least: d.least, most: d.most, none: -1}
		inner.solve(target{picked, -1})
		d.least, d.most = inner.least, inner.most
		return
	}
	sum, free := 0.0, 0
	for i, w := range want.picked {
		switch {
		case w < 0:
			free++
		case w <= touching:
			d.Chances[i] = 0
		case w >= 1-touching:
			d.Chances[i] = 1
		}
		sum += max(w, 0)
	}
	// At the ends of what can be had, only sets of one size are left.
	const near = unsettled / 2
	switch {
	case sum >= float64(d.most)-near:
		d.least, d.mayBeNone = d.most, false
		d.others(want, 0)
	case !d.mayBeNone && sum+float64(free) <= float64(d.least)+near:
		d.most = d.least
		d.others(want, 1)
	}
	for range max(1, min(mostSweeps, mostProducts/(len(d.Chances)*(d.most+1)))) {
		moved := 0.0
		after := d.Sizes()
		before := make([]float64, 1, len(d.Chances)+1)
		before[0] = 1
		for i, w := range want.picked {
			if d.Chances[i] > 0 && d.Chances[i] < 1 && w >= 0 {
				with, without := d.both(before, after[i+1])
				if with > 0 && without > 0 {
					odds := w * without / ((1 - w) * with)
					c := odds / (1 + odds)
					moved = max(moved, math.Abs(c-d.Chances[i]))
					d.Chances[i] = c
				}
			}
			before = longer(before, d.Chances[i], d.most)
		}
		if moved < settled {
			return
		}
	}
}

// others gives those without a wish a chance.
func (d *Design) others(want target, chance float64) {
	for i, w := range want.picked {
		if w < 0 {
			d.Chances[i] = chance
		}
	}
}
