// Package coverage tells which combinations the rules of a decision cover: those of
// a decision table, or its rule steps taken together.
//
// What a rule asks for is a set of boxes in the space of all combinations: for each
// column the cases in which its test holds. Boxes are added, taken away from each
// other and counted without going through the combinations one by one.
package coverage

import (
	"errors"
	"math/big"

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
