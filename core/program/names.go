package program

import (
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// SkippedName is the name of passing a question by, among the names of answers.
const SkippedName = "-"

// Names returns what Shares can name of question i: the keys of its answers, the
// values of ratings and stars ("7"), "row.column" of a grid and "row.-" for leaving a
// row alone, of words what conditions tell apart ("contains bees", and "else") where
// there are any, and SkippedName where it can be passed by. Numbers and dates have no
// names but that.
func (p *Program) Names(i int) []string {
	q := &p.Questions[i]
	var names []string
	switch {
	case q.Form == OfOne, q.Form == OfSome:
		names = p.AnswerKeys(i)
	case q.Form == OfGrid:
		for r := range q.Rows {
			for o := range q.Answers {
				names = append(names, q.CellName(r, o))
			}
			if q.Skippable() && len(q.Rows) > 1 {
				names = append(names, q.CellName(r, None))
			}
		}
	case q.Rated():
		for n := range q.Lattice.Count() {
			names = append(names, q.Lattice.At(n).String())
		}
	case q.Form == OfNothing && q.Kind != quiz.Interlude:
		if classes := q.Wordings.Get(q); len(classes) > 1 {
			for _, c := range classes {
				names = append(names, c.name)
			}
		}
	}
	if q.Skippable() {
		names = append(names, SkippedName)
	}
	return names
}

// NamesOf returns the names under which an answer to question i counts. Numbers and
// dates count under their value.
func (p *Program) NamesOf(i int, v Value) []string {
	q := &p.Questions[i]
	switch {
	case v.State != Given && !q.Skippable():
		return nil
	case v.State != Given:
		return []string{SkippedName}
	}
	switch q.Form {
	case OfOne:
		return []string{q.Answers[v.Option].Key}
	case OfAmount:
		if q.Kind == quiz.Date {
			return []string{quiz.DayText(v.Number)}
		}
		return []string{v.Number.String()}
	case OfSome:
		var names []string
		for _, o := range v.Picks {
			names = append(names, q.Answers[o].Key)
		}
		return names
	case OfGrid:
		var names []string
		for r, o := range v.Picks {
			if o >= 0 || q.Skippable() {
				names = append(names, q.CellName(r, int(o)))
			}
		}
		return names
	}
	if q.Kind != quiz.Interlude && len(q.Wordings.Get(q)) > 1 {
		return []string{q.Wordings.name(q, v.Text)}
	}
	return nil
}

// CellName names a cell of a grid, or leaving its row alone: to leave the only row
// alone is to pass the grid by.
func (q *Question) CellName(row, column int) string {
	if column < 0 && len(q.Rows) == 1 {
		return SkippedName
	}
	if column < 0 {
		return q.Rows[row].Key + "." + SkippedName
	}
	return q.Rows[row].Key + "." + q.Answers[column].Key
}

// Values returns every answer to a choice, a rating, stars, or an interlude; of words,
// one for each way in which conditions tell them apart; and passing by where it is
// allowed.
func (q *Question) Values() []Value {
	var list []Value
	switch {
	case q.Form == OfOne:
		for o := range q.Answers {
			list = append(list, Value{State: Given, Option: int16(o)})
		}
	case q.Form == OfAmount:
		for n := range q.Lattice.Count() {
			list = append(list, Value{State: Given, Number: q.Lattice.At(n)})
		}
	case q.Kind == quiz.Interlude:
		return []Value{{State: Skipped}}
	default:
		for _, c := range q.Wordings.Get(q) {
			list = append(list, Value{State: Given, Text: c.text})
		}
	}
	if q.Skippable() || len(list) == 0 {
		list = append(list, Value{State: Skipped})
	}
	return list
}

// NameOf names a value that values returns.
func (q *Question) NameOf(v Value) string {
	switch {
	case v.State != Given:
		return SkippedName
	case q.Form == OfOne:
		return q.Answers[v.Option].Key
	case q.Form == OfAmount:
		return v.Number.String()
	}
	return q.Wordings.name(q, v.Text)
}

// Giving returns an answer to question i that counts under a name of Names, and
// whether there is one.
func (p *Program) Giving(i int, name string) (Value, bool) {
	q := &p.Questions[i]
	if !slices.Contains(p.Names(i), name) {
		return Value{}, false
	}
	v := Value{State: Given}
	switch {
	case name == SkippedName:
		return Value{State: Skipped}, true
	case q.Form == OfOne:
		v.Option = int16(q.options[name])
	case q.Form == OfSome:
		v.Picks = []int16{int16(q.options[name])}
		for o := 0; len(v.Picks) < q.MinPicks && o < len(q.Answers); o++ {
			if o != q.options[name] {
				v.Picks = append(v.Picks, int16(o))
			}
		}
		slices.Sort(v.Picks)
	case q.Form == OfGrid:
		row, column, _ := strings.Cut(name, ".")
		v.Picks = make([]int16, len(q.Rows))
		if column == SkippedName {
			v.Picks[q.RowIndex[row]] = -1
			return v, true
		}
		v.Picks[q.RowIndex[row]] = int16(q.options[column])
	case q.Form == OfAmount:
		v.Number, _ = decimal.Parse(name)
	default:
		v.Text = q.Wordings.text(q, name)
	}
	return v, true
}

// Named tells whether every answer to question i has a name: numbers and dates, and
// words that nothing tells apart, have not.
func (p *Program) Named(i int) bool {
	q := &p.Questions[i]
	if q.Form == OfAmount {
		return q.Rated()
	}
	return q.Form != OfNothing || q.Kind == quiz.Interlude || len(q.Wordings.Get(q)) > 1
}
