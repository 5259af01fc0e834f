// Package coverage tells which combinations the rules of a decision cover: those of
// a decision table, or its rule steps taken together.
//
// What a rule asks for is a set of boxes in the space of all combinations: for each
// column the cases in which its test holds. Boxes are added, taken away from each
// other and counted without going through the combinations one by one.
package coverage

import (
	"errors"
	"fmt"
	"math/big"
	"math/bits"
	"slices"

	"omphalos/core/program"
	"omphalos/core/quiz"
)

// ErrWide says that the rules tell too many cases apart to be counted.
var ErrWide = errors.New("the rules tell too many cases apart")

// A Coverage is what rules cover together.
type Coverage struct {
	Columns []Column
	All     *big.Int // combinations; answers that no rule tells apart count one by one
	Covered *big.Int // by one rule or several
	Twice   *big.Int // by several
	Rules   []Rule   // in their order
	Left    []Row    // what no rule covers, in as few rows as were found
}

// A Column is one thing that rules ask for.
type Column struct {
	Key     string // of the table's column; of rule steps "c1", "c2", …
	Subject quiz.Subject
	cases   []Case
}

// A Rule is what one rule adds.
type Rule struct {
	Key   string   // of the table's rule, or of the step
	New   *big.Int // combinations that no rule before it covers
	Again *big.Int // combinations that rules before it cover already
}

// A Row describes combinations: a test per column, none where any will do.
type Row struct {
	Cells map[string]*quiz.Test
	Count *big.Int
}

// Reach gives the range of a scale's scores; a nil Reach knows none.
type Reach func(scale string) Range

// mostBoxes bounds the work.
const mostBoxes = 4096

// A box is a set of cases per column.
type box []uint64

// OfTable returns the coverage of a decision table of the program's quiz. The error
// is ErrWide.
func OfTable(p *program.Program, step string, reach Reach) (*Coverage, error) {
	s := p.Quiz.Decision.Steps[step]
	columns := quiz.InOrder(s.Columns)
	rules := quiz.InOrder(s.Rules)
	var m measure
	for _, k := range columns {
		m.columns = append(m.columns, Column{Key: k, Subject: s.Columns[k].Subject})
		for _, r := range rules {
			if cell := s.Rules[r].Cells[k]; cell != nil {
				m.note(len(m.columns)-1, *cell)
			}
		}
	}
	if err := m.split(p, reach); err != nil {
		return nil, err
	}
	boxes := make([][]box, len(rules))
	for i, r := range rules {
		b := m.full()
		for k, column := range columns {
			if cell := s.Rules[r].Cells[column]; cell != nil {
				b[k] = m.holding(k, *cell)
			}
		}
		boxes[i] = []box{b}
	}
	return m.cover(rules, boxes)
}

// OfRules returns the coverage of the rule steps under keys, taken together. The
// error is ErrWide.
func OfRules(p *program.Program, steps []string, reach Reach) (*Coverage, error) {
	var m measure
	for _, k := range steps {
		m.gather(p.Quiz.Decision.Steps[k].When)
	}
	if err := m.split(p, reach); err != nil {
		return nil, err
	}
	boxes := make([][]box, len(steps))
	for i, k := range steps {
		var err error
		if boxes[i], err = m.boxes(p.Quiz.Decision.Steps[k].When); err != nil {
			return nil, err
		}
	}
	return m.cover(steps, boxes)
}

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

// meet returns what two boxes share, nil for nothing.
func meet(a, b box) box {
	c := make(box, len(a))
	for i := range a {
		if c[i] = a[i] & b[i]; c[i] == 0 {
			return nil
		}
	}
	return c
}

// without takes boxes away from disjoint boxes; what is left is disjoint.
func without(list, away []box) []box {
	for _, b := range away {
		var left []box
		for _, a := range list {
			left = append(left, minus(a, b)...)
		}
		list = left
	}
	return list
}

// minus returns a without b, in disjoint boxes.
func minus(a, b box) []box {
	if meet(a, b) == nil {
		return []box{a}
	}
	var left []box
	rest := slices.Clone(a)
	for i := range a {
		if outside := rest[i] &^ b[i]; outside != 0 {
			piece := slices.Clone(rest)
			piece[i] = outside
			left = append(left, piece)
			rest[i] &= b[i]
		}
	}
	return left
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

func (m *measure) cover(keys []string, rules [][]box) (*Coverage, error) {
	all := []box{m.full()}
	c := &Coverage{Columns: m.columns, All: m.count(all), Covered: new(big.Int)}
	left, once, twice := all, []box(nil), []box(nil)
	var every []box
	for i, boxes := range rules {
		every = append(every, boxes...)
		var own []box // disjoint
		for _, b := range boxes {
			own = append(own, without([]box{b}, own)...)
		}
		fresh := without(own, once)
		var again []box
		for _, a := range own {
			for _, b := range once {
				if both := meet(a, b); both != nil {
					again = append(again, both)
				}
			}
		}
		c.Rules = append(c.Rules, Rule{Key: keys[i], New: m.count(fresh), Again: m.count(again)})
		twice = append(twice, without(again, twice)...)
		once = append(once, fresh...)
		left = without(left, boxes)
		if len(left)+len(once)+len(twice) > mostBoxes {
			return nil, ErrWide
		}
	}
	c.Covered, c.Twice = m.count(once), m.count(twice)
	for _, b := range m.few(left, every) {
		c.Left = append(c.Left, m.rows(b)...)
	}
	return c, nil
}

// few describes what is left by few boxes, which may overlap: each is widened as far
// as nothing covered comes into it, and those that hold most are taken first.
func (m *measure) few(left, covered []box) []box {
	var wide []box
	for _, b := range left {
		b = slices.Clone(b)
		for i := range b {
			for _, set := range m.widenings(i) {
				was := b[i]
				b[i] |= set
				if slices.ContainsFunc(covered, func(c box) bool { return meet(b, c) != nil }) {
					b[i] = was
				}
			}
		}
		if !slices.ContainsFunc(wide, func(o box) bool { return slices.Equal(o, b) }) {
			wide = append(wide, b)
		}
	}
	var taken []box
	for len(left) > 0 {
		best, most := -1, new(big.Int)
		for i, b := range wide {
			if n := new(big.Int).Sub(m.count(left), m.count(without(left, []box{b}))); n.Cmp(most) > 0 {
				best, most = i, n
			}
		}
		taken = append(taken, wide[best])
		left = without(left, []box{wide[best]})
	}
	return taken
}

// widenings are what a column may be widened by: all at once, then case by case.
func (m *measure) widenings(column int) []uint64 {
	list := []uint64{m.full()[column]}
	for i := range m.columns[column].cases {
		list = append(list, 1<<i)
	}
	return list
}
