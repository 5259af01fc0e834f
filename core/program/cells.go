package program

import (
	"slices"
	"strings"

	"omphalos/core/excerpt"
	"omphalos/core/quiz"
)

// ReadCell reads the answer to question i from a cell of a table into v: several
// picks are separated by "|". An empty cell is Skipped. v's memory is reused.
// The error is a *Refused. Grids have a cell per row: see ReadRow.
func (p *Program) ReadCell(i int, cell string, v *Value) error {
	q := &p.Questions[i]
	if q.Form == OfOne {
		v.Text = ""
		if o := q.option(cell); o >= 0 {
			v.State, v.Option = Given, int16(o)
			return nil
		}
	}
	if cell == "" {
		v.State = Skipped
		return nil
	}
	t := Typed{Values: []string{cell}}
	if q.Kind == quiz.Several {
		t.Values = strings.Split(cell, "|")
		for j := range t.Values {
			t.Values[j] = strings.TrimSpace(t.Values[j])
		}
	} else if q.Kind.Choice() {
		t.Values[0] = strings.TrimSpace(cell)
	}
	read, err := p.Read(i, t)
	*v = read
	return err
}

// option returns the position of the answer under key, −1 for none. Among a few
// answers, looking at each is quicker than a map.
func (q *Question) option(key string) int {
	if len(q.Answers) <= 8 {
		for i := range q.Answers {
			if q.Answers[i].Key == key {
				return i
			}
		}
		return -1
	}
	if o, known := q.options[key]; known {
		return o
	}
	return -1
}

// ReadRow reads the answer to one row of the grid i into v, as ReadCell does.
func (p *Program) ReadRow(i, row int, cell string, v *Value) error {
	q := &p.Questions[i]
	for len(v.Picks) < len(q.Rows) {
		v.Picks = append(v.Picks, -1)
	}
	v.Picks[row] = -1
	cell = strings.TrimSpace(cell)
	if cell == "" {
		if v.State == Absent {
			v.State = Skipped
		}
		return nil
	}
	o, known := q.options[cell]
	if !known {
		return refusedFor(q.Key+"."+q.Rows[row].Key, ErrUnknown, "%q is not one of the answers", clip(cell))
	}
	v.State, v.Picks[row] = Given, int16(o)
	return nil
}

// WriteIn puts the words that a respondent wrote in beside the answer to
// question i, if it takes any.
func (p *Program) WriteIn(i int, words string, v *Value) {
	q := &p.Questions[i]
	takes := v.State == Given && q.Kind.Choice() && q.Answers[v.Option].writeIn
	if v.State == Given && q.Kind == quiz.Several {
		takes = slices.ContainsFunc(v.Picks, func(o int16) bool { return q.Answers[o].writeIn })
	}
	if takes {
		v.Text = excerpt.Bounded(words, writeInLength)
	}
}

// Typed is the reverse of Read.
func (p *Program) Typed(i int, v Value) Typed {
	q := &p.Questions[i]
	if v.State != Given {
		return Typed{}
	}
	switch {
	case q.Kind.Choice():
		return Typed{Values: []string{q.Answers[v.Option].Key}, WriteIn: v.Text}
	case q.Kind == quiz.Several:
		t := Typed{WriteIn: v.Text}
		for _, o := range v.Picks {
			t.Values = append(t.Values, q.Answers[o].Key)
		}
		return t
	case q.Kind == quiz.Grid:
		t := Typed{Rows: map[string]string{}}
		for r, o := range v.Picks {
			if o >= 0 {
				t.Rows[q.Rows[r].Key] = q.Answers[o].Key
			}
		}
		return t
	case q.Kind == quiz.Date:
		return Typed{Values: []string{quiz.DayText(v.Number)}}
	case q.Kind.Numeric():
		return Typed{Values: []string{v.Number.String()}}
	}
	return Typed{Values: []string{v.Text}}
}
