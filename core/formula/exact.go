package formula

import (
	"math/big"

	"omphalos/core/decimal"
)

// exact computes a part on fractions of any size.
func (n *number) exact(values func(i int) decimal.Decimal, notes *Notes) *big.Rat {
	switch n.op {
	case constant:
		return n.constant
	case name:
		return values(n.name).Rat()
	case choice:
		at := 1
		if n.test.exact(values, notes) {
			at = 0
		}
		return n.args[at].exact(values, notes)
	}
	x := n.args[0].exact(values, notes)
	switch n.op {
	case negative:
		return new(big.Rat).Neg(x)
	case distance:
		return new(big.Rat).Abs(x)
	case round, floor, ceiling:
		return whole(n.op, x)
	case least, greatest:
		sign := -1
		if n.op == greatest {
			sign = 1
		}
		for _, a := range n.args[1:] {
			if y := a.exact(values, notes); y.Cmp(x) == sign {
				x = y
			}
		}
		return x
	}
	y := n.args[1].exact(values, notes)
	switch n.op {
	case sum:
		return new(big.Rat).Add(x, y)
	case difference:
		return new(big.Rat).Sub(x, y)
	case product:
		return new(big.Rat).Mul(x, y)
	}
	if y.Sign() == 0 {
		notes.DividedByZero = true
		return new(big.Rat)
	}
	return new(big.Rat).Quo(x, y)
}

// whole rounds to a whole number: half away from zero, down or up.
func whole(op operation, x *big.Rat) *big.Rat {
	down := func(r *big.Rat) *big.Rat { return new(big.Rat).SetInt(new(big.Int).Div(r.Num(), r.Denom())) }
	switch {
	case op == floor:
		return down(x)
	case op == ceiling:
		up := down(new(big.Rat).Neg(x))
		return up.Neg(up)
	case x.Sign() < 0:
		up := down(new(big.Rat).Sub(big.NewRat(1, 2), x))
		return up.Neg(up)
	}
	return down(new(big.Rat).Add(x, big.NewRat(1, 2)))
}

func (t *truth) exact(values func(i int) decimal.Decimal, notes *Notes) bool {
	switch t.op {
	case "true", "false":
		return t.op == "true"
	case "not":
		return !t.parts[0].exact(values, notes)
	case "and":
		return t.parts[0].exact(values, notes) && t.parts[1].exact(values, notes)
	case "or":
		return t.parts[0].exact(values, notes) || t.parts[1].exact(values, notes)
	}
	return comparisons[t.op](t.compared[0].exact(values, notes).Cmp(t.compared[1].exact(values, notes)))
}
