package sheet

import (
	"cmp"
	"fmt"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

// A gridRow is a row of a grid on the sheet.
type gridRow struct {
	*quiz.Row
	Path   quiz.Pointer
	Key    string
	Number int
	Feeds  []patchChoice // which scales the row feeds, where there are several
	Apart  []apartRow    // where the row weighs by itself: a line for each column
	Weigh  string        // patch that lets it weigh by itself, "" where nothing weighs
	Alike  string        // patch that lets it weigh as the columns do
	Spread []slide
	First  bool
	Last   bool
}

// An apartRow is what one column adds in a row of a grid that weighs by itself.
type apartRow struct {
	Label string
	Cells []cell
}

func (sh *Sheet) gridRows(q *quiz.Question, key string, path quiz.Pointer) []gridRow {
	var rows []gridRow
	keys, columns := quiz.InOrder(q.Rows), quiz.InOrder(q.Answers)
	for i, k := range keys {
		row := gridRow{
			Row:    q.Rows[k],
			Key:    k,
			Path:   path.Join("rows", k),
			Number: i + 1,
			First:  i == 0,
			Last:   i == len(keys)-1,
		}
		row.Feeds = sh.feeds(row)
		row.Alike = desk.PatchText([]edit.Op{{Op: "remove", Path: row.Path + "/adds"}})
		own := map[string]map[string]decimal.Decimal{}
		for _, c := range columns {
			if adds := q.Answers[c].Adds; len(adds) > 0 {
				own[c] = adds
			}
			if row.Row.Adds != nil {
				row.Apart = append(row.Apart, sh.apart(row, c, q.Answers[c]))
			}
			row.Spread = append(row.Spread, sh.slide(key, k+"."+c, path, cmp.Or(q.Answers[c].Label, c)))
		}
		if len(own) > 0 && row.Row.Adds == nil {
			row.Weigh = desk.PatchText([]edit.Op{{Op: "add", Path: row.Path + "/adds", Value: own}})
		}
		rows = append(rows, row)
	}
	return rows
}

// feeds lists what a row may feed: every scale, or one only.
func (sh *Sheet) feeds(row gridRow) []patchChoice {
	if len(sh.Columns) < 2 {
		return nil
	}
	every := edit.Op{Op: "remove", Path: row.Path + "/scales"}
	if row.Scales == nil {
		every = edit.Op{Op: "add", Path: row.Path + "/label", Value: row.Label} // nothing changes
	}
	list := []patchChoice{{"every scale", desk.PatchText([]edit.Op{every}), row.Scales == nil}}
	for _, c := range sh.Columns {
		list = append(
			list,
			patchChoice{
				"only " + c.Name,
				desk.PatchText([]edit.Op{{Op: "add", Path: row.Path + "/scales", Value: []string{c.Key}}}),
				len(row.Scales) == 1 && row.Scales[0] == c.Key,
			},
		)
	}
	if len(row.Scales) > 1 {
		list = append(
			list,
			patchChoice{
				quiz.Count(len(row.Scales), "scale"),
				desk.PatchText([]edit.Op{{Op: "add", Path: row.Path + "/scales", Value: row.Scales}}),
				true,
			},
		)
	}
	return list
}

func (sh *Sheet) apart(row gridRow, column string, a *quiz.Answer) apartRow {
	line := apartRow{Label: cmp.Or(a.Label, column)}
	for n, col := range sh.Columns {
		c := cell{Path: row.Path.Join("adds", column, col.Key), Class: "none", Column: n, Type: "number",
			Label: fmt.Sprintf("%s of %s in row %d", col.Name, line.Label, row.Number)}
		if amount, set := row.Row.Adds[column][col.Key]; set {
			c.Value, c.Class = amount.Signed(), shade(amount, col.most)
		} else if amount, set := a.Adds[col.Key]; set {
			c.Hint = amount.Signed()
		}
		line.Cells = append(line.Cells, c)
	}
	return line
}
