package slice

import (
	"slices"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/interchange/rows"
	"omphalos/store"
	"omphalos/store/tally"
)

// A Table writes responses as rows of cells.
type Table struct {
	Columns  []rows.Column
	place    map[string]int // of a column, by its key
	releases map[uint]int   // numbers, by ID
	zone     *time.Location
	cells    []rows.Cell // of the row that is being filled in
}

// NewTable returns the table of a quiz's responses, with times in a zone.
func NewTable(q *quiz.Quiz, releases []store.Release, zone *time.Location) *Table {
	return TableOf(Columns(q, releases), releases, zone)
}

// TableOf returns the table of responses with Columns that are known.
func TableOf(columns []rows.Column, releases []store.Release, zone *time.Location) *Table {
	t := &Table{Columns: slices.Clone(columns), zone: zone, place: map[string]int{}, releases: map[uint]int{}}
	for i, c := range t.Columns {
		t.place[c.Key] = i
	}
	for _, r := range releases {
		t.releases[r.ID] = r.Number
	}
	if i, known := t.place["finished"]; known {
		t.Columns[i].Words += " (" + zone.String() + ")"
	}
	t.cells = make([]rows.Cell, len(t.Columns))
	return t
}

// Has tells whether the quiz has what a property is of, in any release.
func (t *Table) Has(of tally.Property) bool {
	switch of.Kind {
	case tally.Answer, tally.Amount:
		key := "answer." + of.Key
		if of.Row != "" {
			key += "." + of.Row
		}
		return t.Holds(key)
	case tally.Score:
		return t.Holds("score." + of.Key)
	}
	return true
}

// Holds tells whether there is a column with a key.
func (t *Table) Holds(key string) bool {
	_, known := t.place[key]
	return known
}

// Column returns the column with a key, which is there.
func (t *Table) Column(key string) rows.Column { return t.Columns[t.place[key]] }

// CellOf returns the cell of a response in the column with a key, which is there. It is good
// until the next one.
func (t *Table) CellOf(r *store.Response, key string) rows.Cell { return t.Row(r)[t.place[key]] }

// Row returns the cells of a response. They are good until the next row.
func (t *Table) Row(r *store.Response) []rows.Cell {
	for i := range t.cells {
		t.cells[i] = rows.Cell{Texts: t.cells[i].Texts[:0]}
	}
	for i, cell := range [...]rows.Cell{ // in the order of always
		rows.Counted(int64(r.Number)), {Given: true, At: r.Finished.In(t.zone)}, rows.Counted(int64(r.Seconds)),
		rows.Counted(int64(t.releases[r.ReleaseID])),
		rows.Said(r.End), rows.Said(r.Outcome), rows.Said(r.Landing), rows.Said(r.Address),
		rows.Said(r.Country), rows.Said(r.Language), rows.Said(r.Device), rows.Said(r.Source),
		rows.Said(r.Medium), rows.Said(r.Campaign),
	} {
		t.cells[i] = cell
	}
	for _, score := range r.Scores {
		if _, cell := t.cell("score.", score.Scale, ""); cell != nil {
			cell.Given, cell.N = true, int64(score.Millionths)
		}
	}
	for _, a := range r.Answers {
		t.set(a.Answer, "answer.", a.Question, a.Row)
		if a.WriteIn != "" {
			if c, cell := t.cell("words.", a.Question, ""); cell != nil && !cell.Given { // once, beside several answers
				put(cell, c.Kind, a.WriteIn)
			}
		}
	}
	for _, contact := range r.Contacts {
		t.set(contact.Value, "contact.", contact.Field, "")
	}
	return t.cells
}

// cell returns a cell of the row by what its column's key is made of, nil for none.
func (t *Table) cell(what, key, row string) (rows.Column, *rows.Cell) {
	var whole [128]byte
	name := append(append(whole[:0], what...), key...)
	if row != "" {
		name = append(append(name, '.'), row...)
	}
	i, known := t.place[string(name)] // without an allocation
	if !known {
		return rows.Column{}, nil
	}
	return t.Columns[i], &t.cells[i]
}

func (t *Table) set(value, what, key, row string) {
	if c, cell := t.cell(what, key, row); cell != nil {
		put(cell, c.Kind, value)
	}
}

// put puts a value into a cell. What can't be read as the column's kind stays out: no release
// has taken such an answer.
func put(cell *rows.Cell, kind rows.Kind, value string) {
	switch kind {
	case rows.Text:
		if cell.Given { // several answers where one is asked for now
			value = cell.Text + "; " + value
		}
		cell.Given, cell.Text = true, value
	case rows.Texts:
		cell.Given, cell.Texts = true, append(cell.Texts, value)
	case rows.Number:
		if n, err := decimal.Parse(value); err == nil {
			cell.Given, cell.N = true, int64(n)
		}
	case rows.Day:
		if n, err := quiz.ParseDay(value); err == nil {
			cell.Given, cell.At = true, quiz.TimeOf(n)
		}
	}
}
