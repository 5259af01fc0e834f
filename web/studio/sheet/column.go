package sheet

import (
	"cmp"
	"fmt"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A column of the ledger.
type column struct {
	Key, Name, Kind string
	Lowest, Highest string
	Mean            string
	Place           int
	Dead            bool            // nothing feeds it
	most            decimal.Decimal // the largest weight, up or down, at least 1
}

func (sh *Sheet) columns() {
	for i, k := range quiz.InOrder(sh.Doc.Scales) {
		scale := sh.Doc.Scales[k]
		col := column{
			Key:   k,
			Place: i,
			Name:  cmp.Or(scale.Name, k),
			Kind:  string(scale.Kind),
			Dead:  !fed(sh.Doc, k),
			most:  heaviest(sh.Doc, k),
		}
		if sh.possible != nil && len(sh.possible.Scores[k].Points) > 0 {
			can := sh.possible.Scores[k]
			col.Lowest, col.Highest, col.Mean = can.Lowest().Words(), can.Highest().Words(), oneDecimal(can.Mean)
			if !sh.possible.ExactScale(k) { // what a sample has met is not the end of it
				col.Lowest = bound("≥ ", can.Within.Low)
				col.Highest = bound("≤ ", can.Within.High)
				col.Mean = "≈ " + col.Mean
			}
		}
		if sh.Observed {
			col.Mean = oneDecimal(sh.odds.Scores[k].Mean)
		}
		sh.Columns = append(sh.Columns, col)
	}
}

func oneDecimal(x float64) string { return strings.Replace(fmt.Sprintf("%.1f", x), "-", "−", 1) }

// bound writes a proven end of a scale.
func bound(sign string, d *decimal.Decimal) string {
	if d == nil {
		return "no end"
	}
	return sign + d.Words()
}

// fed tells whether any answer adds to the scale.
func fed(q *quiz.Quiz, scale string) bool {
	for _, asked := range q.Questions {
		for _, a := range asked.Answers {
			if a.Adds[scale] != 0 {
				return true
			}
		}
		if asked.Weigh[scale] != nil {
			return true
		}
	}
	return q.Scales[scale].Method == quiz.Formula
}

func heaviest(q *quiz.Quiz, scale string) decimal.Decimal {
	most := decimal.One
	for _, asked := range q.Questions {
		for _, a := range asked.Answers {
			most = max(most, a.Adds[scale], -a.Adds[scale])
		}
		for _, row := range asked.Rows {
			for _, adds := range row.Adds {
				most = max(most, adds[scale], -adds[scale])
			}
		}
		if w := asked.Weigh[scale]; w != nil {
			for _, b := range w.Brackets {
				most = max(most, b.Adds, -b.Adds)
			}
		}
	}
	return most
}
