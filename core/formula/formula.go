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

func wrong(n ast.Node, format string, args ...any) error {
	return &Error{At: max(n.Location().From, 0), Message: fmt.Sprintf(format, args...)}
}
