package formula

import (
	"cmp"
	"math"
	"math/bits"

	"omphalos/core/decimal"
)

// A fraction is exact, too, as long as both of its numbers fit into 64 bits: most
// formulas are computed so, without memory. Its bottom is more than 0.
type fraction struct{ top, bottom int64 }

// quick computes a part, and tells false where some number on the way does not fit.
func (n *number) quick(values func(i int) decimal.Decimal, notes *Notes) (fraction, bool) {
	switch n.op {
	case constant:
		return n.short, n.short.bottom > 0
	case name:
		return fraction{int64(values(n.name)), int64(decimal.One)}.short(), true
	case choice:
		held, ok := n.test.quick(values, notes)
		if !ok {
			return fraction{}, false
		}
		if held {
			return n.args[0].quick(values, notes)
		}
		return n.args[1].quick(values, notes)
	}
	x, ok := n.args[0].quick(values, notes)
	if !ok {
		return x, false
	}
	switch n.op {
	case negative:
		return fraction{-x.top, x.bottom}, true
	case distance:
		return fraction{max(x.top, -x.top), x.bottom}, true
	case floor:
		return x.down(), true
	case ceiling:
		up := fraction{-x.top, x.bottom}.down()
		return fraction{-up.top, 1}, true
	case round:
		return x.rounded()
	case least, greatest:
		for _, a := range n.args[1:] {
			y, ok := a.quick(values, notes)
			if !ok {
				return y, false
			}
			order, ok := y.compare(x)
			if !ok {
				return y, false
			}
			if order < 0 == (n.op == least) && order != 0 {
				x = y
			}
		}
		return x, true
	}
	y, ok := n.args[1].quick(values, notes)
	if !ok {
		return y, false
	}
	switch n.op {
	case sum:
		return x.plus(y)
	case difference:
		return x.plus(fraction{-y.top, y.bottom})
	case product:
		return x.times(y)
	}
	switch {
	case y.top == 0:
		notes.DividedByZero = true
		return fraction{0, 1}, true
	case y.top < 0:
		return x.times(fraction{-y.bottom, -y.top})
	}
	return x.times(fraction{y.bottom, y.top})
}

func (t *truth) quick(values func(i int) decimal.Decimal, notes *Notes) (held, ok bool) {
	switch t.op {
	case "true", "false":
		return t.op == "true", true
	case "not":
		held, ok = t.parts[0].quick(values, notes)
		return !held, ok
	case "and", "or":
		if held, ok = t.parts[0].quick(values, notes); !ok || held == (t.op == "or") {
			return held, ok
		}
		return t.parts[1].quick(values, notes)
	}
	x, ok := t.compared[0].quick(values, notes)
	if !ok {
		return false, false
	}
	y, ok := t.compared[1].quick(values, notes)
	if !ok {
		return false, false
	}
	order, ok := x.compare(y)
	return comparisons[t.op](order), ok
}

// short divides both numbers by what they have in common.
func (f fraction) short() fraction {
	a, b := max(f.top, -f.top), f.bottom
	for b != 0 {
		a, b = b, a%b
	}
	if a <= 1 {
		return f
	}
	return fraction{f.top / a, f.bottom / a}
}

// product multiplies, and tells false where the result does not fit.
func multiplied(a, b int64) (int64, bool) {
	hi, lo := bits.Mul64(uint64(max(a, -a)), uint64(max(b, -b)))
	if hi != 0 || lo > math.MaxInt64 {
		return 0, false
	}
	if (a < 0) != (b < 0) {
		return -int64(lo), true
	}
	return int64(lo), true
}

func (f fraction) times(g fraction) (fraction, bool) {
	// What one's top and the other's bottom have in common goes first.
	a, b := fraction{f.top, g.bottom}.short(), fraction{g.top, f.bottom}.short()
	top, ok1 := multiplied(a.top, b.top)
	bottom, ok2 := multiplied(a.bottom, b.bottom)
	return fraction{top, bottom}, ok1 && ok2
}

func (f fraction) plus(g fraction) (fraction, bool) {
	common := fraction{f.bottom, g.bottom}.short() // f.bottom : g.bottom
	a, ok1 := multiplied(f.top, common.bottom)
	b, ok2 := multiplied(g.top, common.top)
	bottom, ok3 := multiplied(f.bottom, common.bottom)
	sum := a + b
	if (sum^a)&(sum^b) < 0 || sum == math.MinInt64 {
		return fraction{}, false
	}
	return fraction{sum, bottom}.short(), ok1 && ok2 && ok3
}

func (f fraction) compare(g fraction) (int, bool) {
	a, ok1 := multiplied(f.top, g.bottom)
	b, ok2 := multiplied(g.top, f.bottom)
	return cmp.Compare(a, b), ok1 && ok2
}

func (f fraction) down() fraction {
	n := f.top / f.bottom
	if f.top%f.bottom < 0 {
		n--
	}
	return fraction{n, 1}
}

// rounded rounds half away from zero.
func (f fraction) rounded() (fraction, bool) {
	twice, ok1 := multiplied(max(f.top, -f.top), 2)
	bottom, ok2 := multiplied(f.bottom, 2)
	if !ok1 || !ok2 || twice > math.MaxInt64-f.bottom {
		return fraction{}, false
	}
	n := (twice + f.bottom) / bottom
	if f.top < 0 {
		n = -n
	}
	return fraction{n, 1}, true
}

// decimal returns the fraction rounded half away from zero to places decimals.
func (f fraction) decimal(places int) (decimal.Decimal, bool) {
	unit := int64(1)
	for range min(max(places, 0), decimal.Places) {
		unit *= 10
	}
	scaled, ok := f.times(fraction{unit, 1})
	if !ok {
		return 0, false
	}
	whole, ok := scaled.rounded()
	if !ok {
		return 0, false
	}
	d, ok := multiplied(whole.top, int64(decimal.One)/unit)
	return decimal.Decimal(d), ok
}
