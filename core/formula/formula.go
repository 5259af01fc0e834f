// Package formula computes scales that are written as a formula over other
// scales and numeric answers, such as "(need + budget) / 2".
//
// Parsing and type-checking are expr's (github.com/expr-lang/expr); evaluation
// is exact, on fractions, so that a formula meets a cut where the arithmetic on
// paper does. A formula has no loops, no calls out and no memory: its cost is
// bounded by its length and by how many digits its value can have. Dividing by zero
// gives 0 and is noted; a result beyond the range of decimals is noted.
package formula

import (
	"fmt"
	"math/big"
	"strconv"

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
	OutOfRange    bool // the result was beyond the range, and stands at its end
}

// A Formula is compiled once and may be evaluated by many goroutines.
type Formula struct {
	source string
	names  []string
	root   *number
}

// String returns the formula as it was written.
func (f *Formula) String() string { return f.source }

// Names returns the names that the formula reads, each once, in order of use.
func (f *Formula) Names() []string { return f.names }

// Nodes returns of how many parts the formula is made: what computing it costs.
func (f *Formula) Nodes() int { return f.root.nodes() }

// A Names set holds the names that a formula may read.
type Names map[string]bool

// NamesOf returns a set of names.
func NamesOf(list []string) Names {
	names := make(Names, len(list))
	for _, n := range list {
		names[n] = true
	}
	return names
}

// Compile parses and type-checks source over the given names. The error is an
// *Error.
func Compile(source string, names Names) (*Formula, error) {
	if len(source) > MaxLength {
		return nil, &Error{At: MaxLength, Message: fmt.Sprintf("A formula has at most %d characters", MaxLength)}
	}
	env := map[string]any{}
	for _, word := range words(source) {
		if names[word] {
			env[word] = float64(0)
		}
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
	return &Formula{source: source, names: c.names, root: root}, nil
}

// Eval computes the formula, rounded half away from zero to places decimals.
// values gives the value of Names()[i].
func (f *Formula) Eval(places int, values func(i int) decimal.Decimal) (decimal.Decimal, Notes) {
	var notes Notes
	if q, ok := f.root.quick(values, &notes); ok {
		if d, ok := q.decimal(places); ok {
			return d, notes
		}
	}
	notes = Notes{}
	d, ok := decimal.FromRat(f.root.exact(values, &notes), places)
	if !ok {
		notes.OutOfRange = true
	}
	return d, notes
}

// A number is a part of a formula that has a value: a constant, a name, or an operation
// on others.
type number struct {
	op   operation
	args []*number
	size size

	constant *big.Rat // constants
	short    fraction // constants that fit
	name     int      // names: which of them
	test     *truth   // choices: of the first of the arguments, or the second
}

type operation uint8

const (
	constant operation = iota
	name
	negative
	sum
	difference
	product
	quotient
	choice
	least
	greatest
	distance // from 0
	round
	floor
	ceiling
)

// A truth is a part that holds or not: a comparison, or what joins others.
type truth struct {
	op       string // ==, != and so on; "and", "or", "not"; "true", "false"
	parts    []*truth
	compared []*number
}

func (n *number) nodes() int {
	count := 1
	for _, a := range n.args {
		count += a.nodes()
	}
	if n.test != nil {
		count += n.test.nodes()
	}
	return count
}

func (t *truth) nodes() int {
	count := 1
	for _, p := range t.parts {
		count += p.nodes()
	}
	for _, n := range t.compared {
		count += n.nodes()
	}
	return count
}

type compiler struct {
	names []string
	index map[string]int
}

func wrong(n ast.Node, format string, args ...any) error {
	return &Error{At: max(n.Location().From, 0), Message: fmt.Sprintf(format, args...)}
}

func (c *compiler) number(n ast.Node) (*number, error) {
	switch n := n.(type) {
	case *ast.IntegerNode:
		return constantOf(big.NewRat(int64(n.Value), 1)), nil
	case *ast.FloatNode:
		// The shortest decimal that reads back as this float is what was written.
		r, ok := new(big.Rat).SetString(strconv.FormatFloat(n.Value, 'g', -1, 64))
		if !ok || n.Value > 1e15 || n.Value < -1e15 {
			return nil, wrong(n, "This number is too large")
		}
		return constantOf(r), nil
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
	return nil, wrong(
		n,
		"A formula is made of numbers, names, + - * /, comparisons, and, or, not, ?: and min, max, abs, round, floor, ceil",
	)
}

func constantOf(r *big.Rat) *number {
	n := &number{op: constant, constant: r, size: size{top: r.Num().BitLen(), tens: 1}}
	if r.Num().IsInt64() && r.Denom().IsInt64() {
		n.short = fraction{r.Num().Int64(), r.Denom().Int64()}
	}
	return n
}

func (c *compiler) name(word string) *number {
	i, known := c.index[word]
	if !known {
		i = len(c.names)
		c.index[word], c.names = i, append(c.names, word)
	}
	return &number{op: name, name: i, size: size{top: 63, tens: 1}}
}

func (c *compiler) sign(n *ast.UnaryNode) (*number, error) {
	if n.Operator != "+" && n.Operator != "-" {
		return nil, wrong(n, "%s", noNumber(n.Operator))
	}
	x, err := c.number(n.Node)
	if err != nil || n.Operator == "+" {
		return x, err
	}
	return &number{op: negative, args: []*number{x}, size: x.size}, nil
}

var operations = map[string]operation{"+": sum, "-": difference, "*": product, "/": quotient}

func (c *compiler) arithmetic(n *ast.BinaryNode) (*number, error) {
	op, known := operations[n.Operator]
	if !known {
		return nil, wrong(n, "%s", noNumber(n.Operator))
	}
	args, err := c.numbers(n.Left, n.Right)
	if err != nil {
		return nil, err
	}
	to := &number{op: op, args: args}
	switch x, y := args[0].size, args[1].size; op {
	case product:
		to.size = x.times(y)
	case quotient:
		to.size = x.times(y.inverse())
	default:
		to.size = x.plus(y)
	}
	if to.size.bits() > mostBits {
		return nil, wrong(n, "Too much is multiplied and divided with one another here; make a scale of a part of it")
	}
	return to, nil
}

func (c *compiler) numbers(nodes ...ast.Node) ([]*number, error) {
	list := make([]*number, len(nodes))
	for i, n := range nodes {
		var err error
		if list[i], err = c.number(n); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// noNumber says why what an operator gives can't be counted with.
func noNumber(operator string) string {
	switch operator {
	case "<", "<=", ">", ">=", "==", "!=", "and", "or", "not", "&&", "||", "!":
		return "A comparison gives no number: write what it shall be, such as need > 3 ? 1 : 0"
	}
	return fmt.Sprintf("“%s” is not part of formulas, which know + - * /", operator)
}

func (c *compiler) choice(n *ast.ConditionalNode) (*number, error) {
	test, err := c.truth(n.Cond)
	if err != nil {
		return nil, err
	}
	args, err := c.numbers(n.Exp1, n.Exp2)
	if err != nil {
		return nil, err
	}
	return &number{op: choice, test: test, args: args, size: args[0].size.or(args[1].size)}, nil
}

func (c *compiler) truth(n ast.Node) (*truth, error) {
	var parts []ast.Node
	op := ""
	switch n := n.(type) {
	case *ast.BoolNode:
		return &truth{op: strconv.FormatBool(n.Value)}, nil
	case *ast.UnaryNode:
		op, parts = "not", []ast.Node{n.Node}
	case *ast.BinaryNode:
		switch n.Operator {
		case "and", "&&":
			op, parts = "and", []ast.Node{n.Left, n.Right}
		case "or", "||":
			op, parts = "or", []ast.Node{n.Left, n.Right}
		default:
			if comparisons[n.Operator] == nil {
				return nil, wrong(n, "“%s” does not compare numbers", n.Operator)
			}
			compared, err := c.numbers(n.Left, n.Right)
			return &truth{op: n.Operator, compared: compared}, err
		}
	default:
		return nil, wrong(n, "A condition compares numbers, such as need > 3")
	}
	t := &truth{op: op}
	for _, part := range parts {
		p, err := c.truth(part)
		if err != nil {
			return nil, err
		}
		t.parts = append(t.parts, p)
	}
	return t, nil
}

var comparisons = map[string]func(order int) bool{
	"==": func(o int) bool { return o == 0 }, "!=": func(o int) bool { return o != 0 },
	"<": func(o int) bool { return o < 0 }, "<=": func(o int) bool { return o <= 0 },
	">": func(o int) bool { return o > 0 }, ">=": func(o int) bool { return o >= 0 },
}
