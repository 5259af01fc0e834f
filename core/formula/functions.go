package formula

import (
	"math/big"

	"github.com/expr-lang/expr/ast"
)

var functionNames = []string{"min", "max", "abs", "round", "floor", "ceil"}

// functions are what a formula may call: shape is the type that expr checks
// calls against, eval what they compute.
var functions = map[string]struct {
	shape any
	eval  func(args []*big.Rat) *big.Rat
}{
	"min":   {new(func(float64, ...float64) float64), least(-1)},
	"max":   {new(func(float64, ...float64) float64), least(+1)},
	"abs":   {new(func(float64) float64), func(a []*big.Rat) *big.Rat { return new(big.Rat).Abs(a[0]) }},
	"round": {new(func(float64) float64), func(a []*big.Rat) *big.Rat { return whole(a[0], big.NewRat(int64(a[0].Sign()), 2)) }},
	"floor": {new(func(float64) float64), func(a []*big.Rat) *big.Rat { return floor(a[0]) }},
	"ceil": {new(func(float64) float64), func(a []*big.Rat) *big.Rat {
		down := floor(new(big.Rat).Neg(a[0]))
		return down.Neg(down)
	}},
}

func (c *compiler) call(n *ast.CallNode) (number, error) {
	callee, _ := n.Callee.(*ast.IdentifierNode)
	if callee == nil || functions[callee.Value].eval == nil {
		return number{}, wrong(n, "Only min, max, abs, round, floor and ceil take numbers in brackets")
	}
	args := make([]number, len(n.Arguments))
	var all size
	for i, a := range n.Arguments {
		var err error
		if args[i], err = c.number(a); err != nil {
			return number{}, err
		}
		all = all.or(args[i].size)
	}
	name, eval := callee.Value, functions[callee.Value].eval
	return number{
		func(r *run) *big.Rat {
			values := make([]*big.Rat, len(args))
			for i, a := range args {
				values[i] = a.eval(r)
			}
			return eval(values)
		},
		func(b *bounded) interval {
			values := make([]interval, len(args))
			for i, a := range args {
				values[i] = a.within(b)
			}
			switch name {
			case "min":
				return extreme(-1, values)
			case "max":
				return extreme(1, values)
			case "abs":
				return values[0].magnitude()
			}
			return values[0].each(eval) // roundings never fall
		},
		all,
	}, nil
}

// least returns the argument that comes first where sign is −1, last where it is +1.
func least(sign int) func([]*big.Rat) *big.Rat {
	return func(args []*big.Rat) *big.Rat {
		best := args[0]
		for _, a := range args[1:] {
			if a.Cmp(best) == sign {
				best = a
			}
		}
		return best
	}
}

func truncate(r *big.Rat) *big.Int { return new(big.Int).Quo(r.Num(), r.Denom()) }

func floor(r *big.Rat) *big.Rat {
	return new(big.Rat).SetInt(new(big.Int).Div(r.Num(), r.Denom()))
}

// whole returns r + nudge without its fraction.
func whole(r, nudge *big.Rat) *big.Rat {
	return new(big.Rat).SetInt(truncate(new(big.Rat).Add(r, nudge)))
}
