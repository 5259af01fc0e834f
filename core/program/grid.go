package program

import (
	"cmp"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// rows works out what each cell of a grid adds: the column's amounts, or the
// row's own, turned around within the row where it is reversed.
func (c *compiler) rows(to *Question, q *quiz.Question) {
	keys := quiz.InOrder(q.Rows)
	to.RowIndex = make(map[string]int, len(keys))
	columns := quiz.InOrder(q.Answers)
	for i, k := range keys {
		r := q.Rows[k]
		to.RowIndex[k] = i
		compiled := Row{Key: k, Adds: make([][]Addition, len(columns))}
		for scale, amounts := range c.cells(q, r, columns) {
			compiled.Feeds = append(compiled.Feeds, scale)
			for column, amount := range amounts {
				if r.Reversed {
					amount = slices.Min(amounts).Add(slices.Max(amounts)).Sub(amount)
				}
				compiled.Adds[column] = append(compiled.Adds[column], Addition{scale, amount})
			}
		}
		for _, adds := range compiled.Adds {
			slices.SortFunc(adds, func(a, b Addition) int { return cmp.Compare(a.Scale, b.Scale) })
		}
		slices.Sort(compiled.Feeds)
		to.Rows = append(to.Rows, compiled)
	}
}

// cells returns, per scale that the row feeds, the amount of each column.
func (c *compiler) cells(q *quiz.Question, r *quiz.Row, columns []string) map[int][]decimal.Decimal {
	cells := map[int][]decimal.Decimal{}
	set := func(key string, column int, amount decimal.Decimal) {
		i := c.p.ScaleIndex[key]
		if r.Scales != nil && !slices.Contains(r.Scales, key) {
			return
		}
		if cells[i] == nil {
			cells[i] = make([]decimal.Decimal, len(columns))
		}
		cells[i][column] = amount
	}
	own := map[string]bool{}
	for _, adds := range r.Adds {
		for key := range adds {
			own[key] = true
		}
	}
	for column, k := range columns {
		for key, amount := range q.Answers[k].Adds {
			if !own[key] {
				set(key, column, amount)
			}
		}
		for key, amount := range r.Adds[k] {
			set(key, column, amount)
		}
	}
	return cells
}
