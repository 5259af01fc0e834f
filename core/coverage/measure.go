package coverage

import (
	"fmt"
	"math/big"
	"math/bits"
	"slices"

	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A measure counts combinations over columns.
type measure struct {
	columns []Column
	tests   [][]quiz.Test
}

func (m *measure) note(column int, t quiz.Test) {
	for len(m.tests) < len(m.columns) {
		m.tests = append(m.tests, nil)
	}
	m.tests[column] = append(m.tests[column], t)
}

// gather makes a column of each subject that a condition asks for.
func (m *measure) gather(c *quiz.Condition) {
	if c == nil {
		return
	}
	how, parts := c.Group()
	for _, part := range parts {
		m.gather(part)
	}
	if how == "" {
		m.note(m.column(c.Subject), c.Test)
	}
}

func (m *measure) column(s quiz.Subject) int {
	for i, c := range m.columns {
		if c.Subject == s {
			return i
		}
	}
	m.columns = append(m.columns, Column{Key: fmt.Sprint("c", len(m.columns)+1), Subject: s})
	return len(m.columns) - 1
}

// split finds the cases of each column.
func (m *measure) split(p *program.Program, reach Reach) error {
	for i := range m.columns {
		c := &m.columns[i]
		var within Range
		if c.Subject.Scale != "" && reach != nil {
			within = reach(c.Subject.Scale)
		}
		var tests []quiz.Test
		if i < len(m.tests) {
			tests = m.tests[i]
		}
		var ok bool
		if c.cases, ok = CasesOf(p, c.Subject, tests, within); !ok || len(c.cases) > 64 || len(c.cases) == 0 {
			return ErrWide
		}
	}
	return nil
}

func (m *measure) full() box {
	b := make(box, len(m.columns))
	for i := range b {
		b[i] = 1<<len(m.columns[i].cases) - 1
		if len(m.columns[i].cases) == 64 {
			b[i] = ^uint64(0)
		}
	}
	return b
}

// holding returns the cases in which a test of a column holds.
func (m *measure) holding(column int, t quiz.Test) uint64 {
	var set uint64
	at := slices.IndexFunc(m.tests[column], func(o quiz.Test) bool { return same(o, t) })
	for i, c := range m.columns[column].cases {
		if c.Holds[at] {
			set |= 1 << i
		}
	}
	return set
}

func same(a, b quiz.Test) bool {
	if a.Op != b.Op || (a.Value == nil) != (b.Value == nil) {
		return false
	}
	return a.Value == nil || a.Value.List == b.Value.List && slices.Equal(a.Value.Items, b.Value.Items)
}

// boxes returns where a condition holds.
func (m *measure) boxes(c *quiz.Condition) ([]box, error) {
	if c == nil {
		return []box{m.full()}, nil
	}
	how, parts := c.Group()
	if how == "" {
		b := m.full()
		column := m.column(c.Subject)
		b[column] = m.holding(column, c.Test)
		if b[column] == 0 {
			return nil, nil
		}
		return []box{b}, nil
	}
	if how == "one" {
		return m.oneOf(parts)
	}
	list := []box{m.full()}
	if how == "any" {
		list = nil
	}
	for _, part := range parts {
		inner, err := m.boxes(part)
		if err != nil {
			return nil, err
		}
		switch how {
		case "any":
			list = append(list, inner...)
		case "all":
			var both []box
			for _, a := range list {
				for _, b := range inner {
					if c := meet(a, b); c != nil {
						both = append(both, c)
					}
				}
			}
			list = both
		case "none":
			list = without(list, inner)
		}
		if len(list) > mostBoxes {
			return nil, ErrWide
		}
	}
	return list, nil
}

// oneOf returns where exactly one of several conditions holds.
func (m *measure) oneOf(parts []*quiz.Condition) ([]box, error) {
	each := make([][]box, len(parts))
	for i, part := range parts {
		var err error
		if each[i], err = m.boxes(part); err != nil {
			return nil, err
		}
	}
	var list []box
	for i := range each {
		alone := each[i]
		for j := range each {
			if j != i {
				alone = without(alone, each[j])
			}
			if len(alone) > mostBoxes {
				return nil, ErrWide
			}
		}
		list = append(list, alone...)
	}
	if len(list) > mostBoxes {
		return nil, ErrWide
	}
	return list, nil
}

// count returns how many combinations disjoint boxes hold.
func (m *measure) count(list []box) *big.Int {
	sum := new(big.Int)
	for _, b := range list {
		n := big.NewInt(1)
		for i, set := range b {
			weight := int64(0)
			for ; set != 0; set &= set - 1 {
				weight += m.columns[i].cases[bits.TrailingZeros64(set)].Weight
			}
			n.Mul(n, big.NewInt(weight))
		}
		sum.Add(sum, n)
	}
	return sum
}
