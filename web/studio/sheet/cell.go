package sheet

import (
	"cmp"
	"fmt"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A cell of the ledger holds what one answer adds to one scale.
type cell struct {
	Path                quiz.Pointer
	Value, Class, Label string
	Column              int
	Type                string // number; of what weighs by its value: factor, times or bracket
	From                string // of a bracket: JSON of its lower end
	Replaces            string // of a bracket: it takes the place of the factor, under this key
	Hint                string
}

func cellOf(a *quiz.Answer, path quiz.Pointer, col column, n int) cell {
	to := cell{Path: path.Join("adds", col.Key), Class: "none", Column: n, Type: "number",
		Label: fmt.Sprintf("%s of %s", col.Name, cmp.Or(a.Label, "an answer without words"))}
	amount, set := a.Adds[col.Key]
	if !set {
		return to
	}
	to.Value, to.Class = amount.Signed(), shade(amount, col.most)
	return to
}

// shade is the class of a cell by sign and size: five shades each way, by the share
// of the largest weight of the column.
func shade(amount, most decimal.Decimal) string {
	switch n := min(int(4.99*amount.Float64()/most.Float64()), 4) + 1; {
	case amount > 0:
		return fmt.Sprintf("up-%d", n)
	case amount < 0:
		return fmt.Sprintf("down-%d", min(2-n, 5))
	}
	return "nought"
}
