package formula

import (
	"fmt"
	"math/big"
	"strconv"

	"github.com/expr-lang/expr/ast"
)

type compiler struct {
	names []string
	index map[string]int
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
