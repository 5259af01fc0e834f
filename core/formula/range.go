package formula

import (
	"math/big"
)

// An interval holds what a number can be; nil is open.
type interval struct{ low, high *big.Rat }

// Range returns numbers between which the formula's value lies where each name's value
// lies between those that bounds gives; nil is open, on either side.
func (f *Formula) Range(bounds func(i int) (low, high *big.Rat)) (low, high *big.Rat) {
	got := f.root.within(bounds)
	return got.low, got.high
}

func (n *number) within(bounds func(i int) (low, high *big.Rat)) interval {
	switch n.op {
	case constant:
		return point(n.constant)
	case name:
		low, high := bounds(n.name)
		return interval{low, high}
	}
	args := make([]interval, len(n.args))
	for i, a := range n.args {
		args[i] = a.within(bounds)
	}
	switch x := args[0]; n.op {
	case negative:
		return x.neg()
	case sum:
		return x.plus(args[1])
	case difference:
		return x.plus(args[1].neg())
	case product:
		return x.times(args[1])
	case quotient:
		return x.over(args[1])
	case choice:
		return x.or(args[1], false)
	case least:
		return extreme(-1, args)
	case greatest:
		return extreme(1, args)
	case distance:
		return x.magnitude()
	default: // roundings never fall
		return interval{rounded(n.op, x.low), rounded(n.op, x.high)}
	}
}

func rounded(op operation, end *big.Rat) *big.Rat {
	if end == nil {
		return nil
	}
	return whole(op, end)
}

var everything interval

func point(r *big.Rat) interval { return interval{r, r} }

func (a interval) neg() interval {
	flip := func(r *big.Rat) *big.Rat {
		if r == nil {
			return nil
		}
		return new(big.Rat).Neg(r)
	}
	return interval{flip(a.high), flip(a.low)}
}

func (a interval) plus(b interval) interval {
	sum := func(x, y *big.Rat) *big.Rat {
		if x == nil || y == nil {
			return nil
		}
		return new(big.Rat).Add(x, y)
	}
	return interval{sum(a.low, b.low), sum(a.high, b.high)}
}

// times multiplies; where an end is open, so is the product, but for times nothing.
func (a interval) times(b interval) interval {
	zero := func(i interval) bool { return i.low != nil && i.high != nil && i.low.Sign() == 0 && i.high.Sign() == 0 }
	switch {
	case zero(a) || zero(b):
		return point(new(big.Rat))
	case a.nonNegative() && b.nonNegative():
		product := interval{low: new(big.Rat).Mul(a.low, b.low)}
		if a.high != nil && b.high != nil {
			product.high = new(big.Rat).Mul(a.high, b.high)
		}
		return product
	case a.low == nil || a.high == nil || b.low == nil || b.high == nil:
		return everything
	}
	var product interval
	for _, x := range []*big.Rat{a.low, a.high} {
		for _, y := range []*big.Rat{b.low, b.high} {
			product = product.or(point(new(big.Rat).Mul(x, y)), product.low == nil)
		}
	}
	return product
}

func (a interval) nonNegative() bool { return a.low != nil && a.low.Sign() >= 0 }

// or returns what is in either; first tells that there is nothing in a yet.
func (a interval) or(b interval, first bool) interval {
	if first {
		return b
	}
	least := func(x, y *big.Rat, sign int) *big.Rat {
		switch {
		case x == nil || y == nil:
			return nil
		case x.Cmp(y) == sign:
			return x
		}
		return y
	}
	return interval{least(a.low, b.low, -1), least(a.high, b.high, 1)}
}

// over divides; dividing by zero gives 0.
func (a interval) over(b interval) interval {
	apart := b.low != nil && b.low.Sign() > 0 || b.high != nil && b.high.Sign() < 0
	if !apart || b.low == nil || b.high == nil {
		return everything
	}
	return a.times(interval{new(big.Rat).Inv(b.high), new(big.Rat).Inv(b.low)})
}

// extreme returns the bounds of the least (sign −1) or the most (+1) of several.
func extreme(sign int, args []interval) interval {
	ends := func(of func(interval) *big.Rat, open bool) *big.Rat {
		var best *big.Rat
		for i, a := range args {
			r := of(a)
			switch {
			case r == nil && open:
				return nil
			case r != nil && (best == nil || i == 0 || r.Cmp(best) == sign):
				best = r
			}
		}
		return best
	}
	// The least of several is open below where one is, open above where all are.
	return interval{
		ends(func(a interval) *big.Rat { return a.low }, sign < 0),
		ends(func(a interval) *big.Rat { return a.high }, sign > 0),
	}
}

// magnitude returns the bounds of the distance from 0.
func (a interval) magnitude() interval {
	switch {
	case a.nonNegative():
		return a
	case a.high != nil && a.high.Sign() <= 0:
		return a.neg()
	}
	top := extreme(1, []interval{a, a.neg()})
	return interval{new(big.Rat), top.high}
}
