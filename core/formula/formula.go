// Package formula computes scales that are written as a formula over other
// scales and numeric answers, such as "(need + budget) / 2".
//
// Parsing and type-checking are expr's (github.com/expr-lang/expr); evaluation
// is exact, on fractions, so that a formula meets a cut where the arithmetic on
// paper does. A formula has no loops, no calls out and no memory: its cost is
// bounded by its length. Dividing by zero gives 0 and is noted; a result beyond
// the range of decimals stops at its end and is noted.
package formula

import (
	"fmt"
	"math/big"
	"strconv"
	"strings"

	"github.com/expr-lang/expr"
	"github.com/expr-lang/expr/ast"
	"github.com/expr-lang/expr/conf"

	"omphalos/core/decimal"
)

// MaxLength is the length in bytes that a formula may have.
const MaxLength = 1000

const maxNodes = 300

// Notes tells what evaluation had to decide by rule.
type Notes struct {
	DividedByZero bool // a division by zero was taken as 0
	OutOfRange    bool // the result was beyond the range and stopped at its end
}

// A Formula is compiled once and may be evaluated by many goroutines.
type Formula struct {
	source string
	names  []string
	root   func(*run) *big.Rat
	within reach
}

// String returns the formula as it was written.
func (f *Formula) String() string { return f.source }

// Names returns the names that the formula reads, each once, in order of use.
func (f *Formula) Names() []string { return f.names }

type (
	// A number computes a value, and the bounds of it.
	number struct {
		eval   func(*run) *big.Rat
		within reach
		size   size
	}
	truth struct {
		eval func(*run) bool
	}
)

type run struct {
	values func(i int) decimal.Decimal
	notes  Notes
}

// Compile parses and type-checks source over the given names. The error is an
// *Error.
func Compile(source string, names []string) (*Formula, error) {
	if len(source) > MaxLength {
		return nil, &Error{At: MaxLength, Message: fmt.Sprintf("A formula has at most %d characters", MaxLength)}
	}
	env := make(map[string]any, len(names))
	for _, n := range names {
		env[n] = float64(0)
	}
	options := []expr.Option{expr.Env(env), expr.Optimize(false), expr.DisableAllBuiltins(),
		func(c *conf.Config) { c.MaxNodes = maxNodes }}
	for _, f := range functionNames {
		options = append(options, expr.Function(f, func(...any) (any, error) { return 0.0, nil }, functions[f].shape))
	}
	program, err := expr.Compile(source, options...)
	if err != nil {
		return nil, readable(source, err)
	}
	c := compiler{index: map[string]int{}}
	root, err := c.number(program.Node())
	if err != nil {
		return nil, err
	}
	return &Formula{source: source, names: c.names, root: root.eval, within: root.within}, nil
}

// Eval computes the formula, rounded half away from zero to places decimals.
// values gives the value of Names()[i].
func (f *Formula) Eval(places int, values func(i int) decimal.Decimal) (decimal.Decimal, Notes) {
	r := run{values: values}
	d, ok := decimal.FromRat(f.root(&r), places)
	if !ok {
		r.notes.OutOfRange = true
	}
	return d, r.notes
}

type compiler struct {
	names []string
	index map[string]int
}

func wrong(n ast.Node, format string, args ...any) error {
	return &Error{At: max(n.Location().From, 0), Message: fmt.Sprintf(format, args...)}
}

func (c *compiler) number(n ast.Node) (number, error) {
	switch n := n.(type) {
	case *ast.IntegerNode:
		return constant(big.NewRat(int64(n.Value), 1)), nil
	case *ast.FloatNode:
		// The shortest decimal that reads back as this float is what was written.
		r, ok := new(big.Rat).SetString(strconv.FormatFloat(n.Value, 'g', -1, 64))
		if !ok || n.Value > 1e15 || n.Value < -1e15 {
			return number{}, wrong(n, "This number is too large")
		}
		return constant(r), nil
	case *ast.IdentifierNode:
		return c.name(n.Value), nil
	case *ast.UnaryNode:
		return c.sign(n)
	case *ast.BinaryNode:
		return c.arithmetic(n)
	case *ast.ConditionalNode:
		return c.choice(n)
	case *ast.CallNode:
		return c.call(n)
	}
	return number{}, wrong(n, "A formula is made of numbers, names, + - * /, comparisons, and, or, not, ?: and min, max, abs, round, floor, ceil")
}

func constant(r *big.Rat) number {
	return number{
		func(*run) *big.Rat { return r },
		func(*bounded) interval { return point(r) },
		size{top: r.Num().BitLen(), tens: 1},
	}
}

func (c *compiler) name(name string) number {
	i, known := c.index[name]
	if !known {
		i = len(c.names)
		c.index[name], c.names = i, append(c.names, name)
	}
	return number{
		func(r *run) *big.Rat { return r.values(i).Rat() },
		func(b *bounded) interval {
			low, high := b.of(i)
			return interval{low, high}
		},
		size{top: 63, tens: 1},
	}
}

func (c *compiler) sign(n *ast.UnaryNode) (number, error) {
	x, err := c.number(n.Node)
	if err != nil {
		return number{}, err
	}
	switch n.Operator {
	case "+":
		return x, nil
	case "-":
		return number{
			func(r *run) *big.Rat { return new(big.Rat).Neg(x.eval(r)) },
			func(b *bounded) interval { return x.within(b).neg() },
			x.size,
		}, nil
	}
	return number{}, wrong(n, "%s", noNumber(n.Operator))
}

// noNumber says why what an operator gives can't be counted with.
func noNumber(operator string) string {
	switch operator {
	case "<", "<=", ">", ">=", "==", "!=", "and", "or", "not", "&&", "||", "!":
		return "A comparison gives no number: write what it shall be, such as need > 3 ? 1 : 0"
	}
	return fmt.Sprintf("“%s” is not part of formulas, which know + - * /", operator)
}

func (c *compiler) arithmetic(n *ast.BinaryNode) (number, error) {
	if !strings.Contains("+-*/", n.Operator) {
		return number{}, wrong(n, "%s", noNumber(n.Operator))
	}
	x, y, err := c.pair(n)
	if err != nil {
		return number{}, err
	}
	var to number
	switch n.Operator {
	case "+":
		to = number{
			func(r *run) *big.Rat { return new(big.Rat).Add(x.eval(r), y.eval(r)) },
			func(b *bounded) interval { return x.within(b).plus(y.within(b)) },
			x.size.plus(y.size),
		}
	case "-":
		to = number{
			func(r *run) *big.Rat { return new(big.Rat).Sub(x.eval(r), y.eval(r)) },
			func(b *bounded) interval { return x.within(b).plus(y.within(b).neg()) },
			x.size.plus(y.size),
		}
	case "*":
		to = number{
			func(r *run) *big.Rat { return new(big.Rat).Mul(x.eval(r), y.eval(r)) },
			func(b *bounded) interval { return x.within(b).times(y.within(b)) },
			x.size.times(y.size),
		}
	case "/":
		to = number{
			func(r *run) *big.Rat { return r.quotient(x.eval(r), y.eval(r)) },
			func(b *bounded) interval { return x.within(b).over(y.within(b)) },
			x.size.times(y.size.inverse()),
		}
	}
	if to.size.bits() > mostBits {
		return number{}, wrong(n, "Too much is multiplied and divided with one another here; make a scale of a part of it")
	}
	return to, nil
}

func (c *compiler) pair(n *ast.BinaryNode) (x, y number, err error) {
	if x, err = c.number(n.Left); err == nil {
		y, err = c.number(n.Right)
	}
	return x, y, err
}

func (r *run) quotient(a, b *big.Rat) *big.Rat {
	if b.Sign() == 0 {
		r.notes.DividedByZero = true
		return new(big.Rat)
	}
	return new(big.Rat).Quo(a, b)
}

func (c *compiler) choice(n *ast.ConditionalNode) (number, error) {
	test, err := c.truth(n.Cond)
	if err != nil {
		return number{}, err
	}
	yes, err := c.number(n.Exp1)
	if err != nil {
		return number{}, err
	}
	no, err := c.number(n.Exp2)
	if err != nil {
		return number{}, err
	}
	return number{
		func(r *run) *big.Rat {
			if test.eval(r) {
				return yes.eval(r)
			}
			return no.eval(r)
		},
		func(b *bounded) interval { return yes.within(b).or(no.within(b), false) },
		yes.size.or(no.size),
	}, nil
}

func (c *compiler) truth(n ast.Node) (truth, error) {
	switch n := n.(type) {
	case *ast.BoolNode:
		return truth{eval: func(*run) bool { return n.Value }}, nil
	case *ast.UnaryNode:
		x, err := c.truth(n.Node)
		if err != nil {
			return truth{}, err
		}
		return truth{eval: func(r *run) bool { return !x.eval(r) }}, nil
	case *ast.BinaryNode:
		if n.Operator == "and" || n.Operator == "&&" || n.Operator == "or" || n.Operator == "||" {
			return c.both(n)
		}
		return c.comparison(n)
	}
	return truth{}, wrong(n, "A condition compares numbers, such as need > 3")
}

func (c *compiler) both(n *ast.BinaryNode) (truth, error) {
	x, err := c.truth(n.Left)
	if err != nil {
		return truth{}, err
	}
	y, err := c.truth(n.Right)
	if err != nil {
		return truth{}, err
	}
	if n.Operator[0] == 'a' || n.Operator[0] == '&' {
		return truth{eval: func(r *run) bool { return x.eval(r) && y.eval(r) }}, nil
	}
	return truth{eval: func(r *run) bool { return x.eval(r) || y.eval(r) }}, nil
}

var comparisons = map[string]func(order int) bool{
	"==": func(o int) bool { return o == 0 }, "!=": func(o int) bool { return o != 0 },
	"<": func(o int) bool { return o < 0 }, "<=": func(o int) bool { return o <= 0 },
	">": func(o int) bool { return o > 0 }, ">=": func(o int) bool { return o >= 0 },
}

func (c *compiler) comparison(n *ast.BinaryNode) (truth, error) {
	holds, known := comparisons[n.Operator]
	if !known {
		return truth{}, wrong(n, "“%s” does not compare numbers", n.Operator)
	}
	x, y, err := c.pair(n)
	if err != nil {
		return truth{}, err
	}
	return truth{eval: func(r *run) bool { return holds(x.eval(r).Cmp(y.eval(r))) }}, nil
}
