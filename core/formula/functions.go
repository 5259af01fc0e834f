package formula

import (
	"github.com/expr-lang/expr/ast"
)

var functionNames = []string{"min", "max", "abs", "round", "floor", "ceil"}

// functions are what a formula may call: shape is the type that expr checks calls
// against.
var functions = map[string]struct {
	shape any
	op    operation
}{
	"min":   {new(func(float64, ...float64) float64), least},
	"max":   {new(func(float64, ...float64) float64), greatest},
	"abs":   {new(func(float64) float64), distance},
	"round": {new(func(float64) float64), round},
	"floor": {new(func(float64) float64), floor},
	"ceil":  {new(func(float64) float64), ceiling},
}

func (c *compiler) call(n *ast.CallNode) (*number, error) {
	callee, _ := n.Callee.(*ast.IdentifierNode)
	if callee == nil || functions[callee.Value].shape == nil {
		return nil, wrong(n, "Only min, max, abs, round, floor and ceil take numbers in brackets")
	}
	args, err := c.numbers(n.Arguments...)
	if err != nil {
		return nil, err
	}
	to := &number{op: functions[callee.Value].op, args: args}
	for _, a := range args {
		to.size = to.size.or(a.size)
	}
	return to, nil
}
