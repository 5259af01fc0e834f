package passage

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
	q := &p.questions[i]
	var names []string
	switch {
	case q.form == ofOne, q.form == ofSome:
		names = p.AnswerKeys(i)
	case q.form == ofGrid:
		for r := range q.rows {
			for o := range q.answers {
				names = append(names, q.cellName(r, o))
			}
			if q.skippable() && len(q.rows) > 1 {
				names = append(names, q.cellName(r, none))
			}
		}
	case q.rated():
		for n := range q.lattice.Count() {
			names = append(names, q.lattice.At(n).String())
		}
	case q.form == ofNothing && q.kind != quiz.Interlude:
		if classes := q.words.get(q); len(classes) > 1 {
			for _, c := range classes {
				names = append(names, c.name)
			}
		}
	}
	if q.skippable() {
		names = append(names, SkippedName)
	}
	return names
}

// NamesOf returns the names under which an answer to question i counts. Numbers and
// dates count under their value.
func (p *Program) NamesOf(i int, v Value) []string {
	q := &p.questions[i]
	switch {
	case v.State != Given && !q.skippable():
		return nil
	case v.State != Given:
		return []string{SkippedName}
	}
	switch q.form {
	case ofOne:
		return []string{q.answers[v.Option].key}
	case ofAmount:
		if q.kind == quiz.Date {
			return []string{quiz.DayText(v.Number)}
		}
		return []string{v.Number.String()}
	case ofSome:
		var names []string
		for _, o := range v.Picks {
			names = append(names, q.answers[o].key)
		}
		return names
	case ofGrid:
		var names []string
		for r, o := range v.Picks {
			if o >= 0 || q.skippable() {
				names = append(names, q.cellName(r, int(o)))
			}
		}
		return names
	}
	if q.kind != quiz.Interlude && len(q.words.get(q)) > 1 {
		return []string{q.words.name(q, v.Text)}
	}
	return nil
}

// cellName names a cell of a grid, or leaving its row alone: to leave the only row
// alone is to pass the grid by.
func (q *question) cellName(row, column int) string {
	if column < 0 && len(q.rows) == 1 {
		return SkippedName
	}
	if column < 0 {
		return q.rows[row].key + "." + SkippedName
	}
	return q.rows[row].key + "." + q.answers[column].key
}

// values returns every answer to a choice, a rating, stars, or an interlude; of words,
// one for each way in which conditions tell them apart; and passing by where it is
// allowed.
func (q *question) values() []Value {
	var list []Value
	switch {
	case q.form == ofOne:
		for o := range q.answers {
			list = append(list, Value{State: Given, Option: int16(o)})
		}
	case q.form == ofAmount:
		for n := range q.lattice.Count() {
			list = append(list, Value{State: Given, Number: q.lattice.At(n)})
		}
	case q.kind == quiz.Interlude:
		return []Value{{State: Skipped}}
	default:
		for _, c := range q.words.get(q) {
			list = append(list, Value{State: Given, Text: c.text})
		}
	}
	if q.skippable() || len(list) == 0 {
		list = append(list, Value{State: Skipped})
	}
	return list
}

// nameOf names a value that values returns.
func (q *question) nameOf(v Value) string {
	switch {
	case v.State != Given:
		return SkippedName
	case q.form == ofOne:
		return q.answers[v.Option].key
	case q.form == ofAmount:
		return v.Number.String()
	}
	return q.words.name(q, v.Text)
}

// Giving returns an answer to question i that counts under a name of Names, and
// whether there is one.
func (p *Program) Giving(i int, name string) (Value, bool) {
	q := &p.questions[i]
	if !slices.Contains(p.Names(i), name) {
		return Value{}, false
	}
	v := Value{State: Given}
	switch {
	case name == SkippedName:
		return Value{State: Skipped}, true
	case q.form == ofOne:
		v.Option = int16(q.options[name])
	case q.form == ofSome:
		v.Picks = []int16{int16(q.options[name])}
		for o := 0; len(v.Picks) < q.minPicks && o < len(q.answers); o++ {
			if o != q.options[name] {
				v.Picks = append(v.Picks, int16(o))
			}
		}
		slices.Sort(v.Picks)
	case q.form == ofGrid:
		row, column, _ := strings.Cut(name, ".")
		v.Picks = make([]int16, len(q.rows))
		if column == SkippedName {
			v.Picks[q.rowIndex[row]] = -1
			return v, true
		}
		v.Picks[q.rowIndex[row]] = int16(q.options[column])
	case q.form == ofAmount:
		v.Number, _ = decimal.Parse(name)
	default:
		v.Text = q.words.text(q, name)
	}
	return v, true
}

// Named tells whether every answer to question i has a name: numbers and dates, and
// words that nothing tells apart, have not.
func (p *Program) Named(i int) bool {
	q := &p.questions[i]
	if q.form == ofAmount {
		return q.rated()
	}
	return q.form != ofNothing || q.kind == quiz.Interlude || len(q.words.get(q)) > 1
}
