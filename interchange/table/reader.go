// Package table reads respondents from a table, one a row, and writes what
// their passages came to: as CSV (RFC 4180) or as JSON Lines.
//
// A column is named by a question's key; several picks are separated by "|", a
// grid has a column "question.row" per row, words written in are under
// "question.text", facts of the visitor under "visitor.country" and so on,
// contact fields under their keys. A column "id" is passed through. Responses as they are
// taken out ("answer.crop", "number", "country") are read as well.
package table

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/interchange/listing"
)

// Format is how a table is written.
type Format string

// The formats.
const (
	CSV   Format = "csv"
	JSONL Format = "jsonl"
)

// A RowError says what is wrong with one row; the others are read on.
type RowError struct {
	Line int
	Err  error
}

func (e *RowError) Error() string { return fmt.Sprintf("line %d: %v", e.Line, e.Err) }

// Unwrap returns what is wrong.
func (e *RowError) Unwrap() error { return e.Err }

// ErrColumn says that a column belongs to nothing in the quiz.
var ErrColumn = errors.New("is no question, row, fact of the visitor or contact field of this quiz")

// A Row is one respondent.
type Row struct {
	Line  int
	ID    string
	Input passage.Input
	err   error
}

// clear empties the row for the next respondent and keeps its memory.
func (r *Row) clear(questions int) {
	r.ID, r.err = "", nil
	if r.Input.Answers == nil {
		r.Input.Answers = make(program.Answers, questions)
		r.Input.Visitor = &program.Visitor{}
	}
	for i := range r.Input.Answers {
		v := &r.Input.Answers[i]
		v.State, v.Text, v.Picks = program.Absent, "", v.Picks[:0]
	}
	*r.Input.Visitor = program.Visitor{}
	clear(r.Input.Contact)
}

// A column puts a cell into a row.
type column func(r *Row, cell string) error

// columnOf returns what a column's name stands for. The error wraps ErrColumn.
func columnOf(p *program.Program, name string) (column, error) {
	if name == "id" {
		return func(r *Row, cell string) error { r.ID = cell; return nil }, nil
	}
	if fact, found := strings.CutPrefix(name, "visitor."); found {
		if !new(program.Visitor).Set(fact, "x") {
			return nil, fmt.Errorf("the column %q %w", name, ErrColumn)
		}
		return func(r *Row, cell string) error { return r.Input.Visitor.Read(fact, cell) }, nil
	}
	key, part, dotted := strings.Cut(name, ".")
	i := p.Position(key)
	if i < 0 {
		if c := p.Quiz.Contact; c != nil && c.Fields[name] != nil {
			return contactColumn(name), nil
		}
		return nil, fmt.Errorf("the column %q %w", name, ErrColumn)
	}
	rows := p.RowKeys(i)
	for n, row := range rows {
		if dotted && row == part {
			return func(r *Row, cell string) error { return p.ReadRow(i, n, cell, &r.Input.Answers[i]) }, nil
		}
	}
	switch {
	case !dotted && len(rows) == 0:
		return func(r *Row, cell string) error { return p.ReadCell(i, cell, &r.Input.Answers[i]) }, nil
	case part == "text" && len(rows) == 0:
		return func(r *Row, cell string) error {
			p.WriteIn(i, cell, &r.Input.Answers[i])
			return nil
		}, nil
	}
	return nil, fmt.Errorf("the column %q %w", name, ErrColumn)
}

func contactColumn(name string) column {
	return func(r *Row, cell string) error {
		if r.Input.Contact == nil {
			r.Input.Contact = map[string]string{}
		}
		r.Input.Contact[name] = cell
		return nil
	}
}

// columnsOf returns the columns of a heading, and the names of those that belong to nothing in
// the quiz: these are an error, or left out where ignore is set, unless nothing else is there.
// Words written in come after their answers. A table of responses as they are taken out names
// its columns in its own way, see plainName.
func columnsOf(p *program.Program, names []string, ignore bool) (list []placed, left []string, err error) {
	var last []placed
	seen, exported, answers := map[string]bool{}, slices.ContainsFunc(names, ofExport), 0
	for i, name := range names {
		name = strings.TrimSpace(name)
		if seen[name] {
			return nil, nil, fmt.Errorf("the column %q is there twice", name)
		}
		seen[name] = true
		plain := name
		if exported {
			if plain = plainName(name); plain == "" {
				continue
			}
		}
		c, err := columnOf(p, plain)
		if err != nil {
			left = append(left, name)
			continue
		}
		at := p.Position(strings.TrimSuffix(plain, ".text"))
		if exported && at >= 0 && p.Question(at).Kind == quiz.Several {
			c = picksOf(c)
		}
		if key, _, _ := strings.Cut(plain, "."); p.Position(key) >= 0 {
			answers++
		}
		if strings.HasSuffix(plain, ".text") {
			last = append(last, placed{i, c})
		} else {
			list = append(list, placed{i, c})
		}
	}
	if len(left) > 0 && (!ignore || answers == 0) {
		return nil, nil, fmt.Errorf("the %s %w", columnWords(left), ErrColumn)
	}
	return append(list, last...), left, nil
}

// picksOf reads several picks as they stand in responses that are taken out.
func picksOf(c column) column {
	return func(r *Row, cell string) error { return c(r, strings.ReplaceAll(cell, "; ", "|")) }
}

func columnWords(names []string) string {
	quoted := make([]string, len(names))
	for i, name := range names {
		quoted[i] = strconv.Quote(name)
	}
	if len(quoted) == 1 {
		return "column " + quoted[0]
	}
	return "columns " + strings.Join(quoted, ", ") + ": each"
}

// A placed column knows which cell of a record is its.
type placed struct {
	at  int
	put column
}

// fill reads the cells of one record into the row.
func (r *Row) fill(columns []placed, cells []string) {
	for _, c := range columns {
		if err := c.put(r, listing.Plain(cells[c.at])); err != nil {
			r.err = err
			return
		}
	}
}

// ReadOne reads a row of cells by the names of their columns, as Score does. The error says
// which column is of nothing, or which cell can't be taken.
func ReadOne(p *program.Program, names, cells []string) (passage.Input, error) {
	columns, _, err := columnsOf(p, names, false)
	if err != nil {
		return passage.Input{}, err
	}
	var r Row
	r.clear(len(p.Questions))
	r.fill(columns, cells)
	return r.Input, r.err
}

// csvBatches reads records in batches and gives each to send, until the end.
func csvBatches(
	in io.Reader,
	send func(*batch) bool,
	free func() *batch,
) (names []string, read func() error, err error) {
	r, err := csvReader(in)
	if err != nil {
		return nil, nil, err
	}
	r.ReuseRecord = true
	heading, err := r.Read()
	if errors.Is(err, io.EOF) {
		return nil, nil, errors.New("the table is empty: its first line must name the columns")
	}
	if err != nil {
		return nil, nil, fmt.Errorf("reading the heading: %w", err)
	}
	if err := legible(heading); err != nil {
		return nil, nil, fmt.Errorf("reading the heading: %w", err)
	}
	names = append(names, heading...)
	number := slices.Index(names, "number")
	return names, func() error {
		b := free()
		for {
			cells, err := r.Read()
			if errors.Is(err, io.EOF) {
				send(b)
				return nil
			}
			if err != nil && !errors.As(err, new(*csv.ParseError)) {
				send(b)
				return fmt.Errorf("reading the table: %w", err)
			}
			line, err := rowError(r, cells, len(names), err)
			if line == 2 && err == nil && number >= 0 && cells[number] == "Number" {
				continue // the words of the columns
			}
			b.add(line, cells, err)
			if b.full() {
				if !send(b) {
					return nil
				}
				b = free()
			}
		}
	}, nil
}
