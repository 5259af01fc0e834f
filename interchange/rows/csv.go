package rows

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"io"
	"strconv"
	"strings"
	"time"

	"omphalos/core/decimal"
	"omphalos/interchange/listing"
)

// A csvWriter writes a line a row, ended as RFC 4180 has it; lines of a text end as they are
// given. No spreadsheet runs a cell, see listing.Inert.
type csvWriter struct {
	out     *bufio.Writer
	row     bytes.Buffer
	fields  *csv.Writer // to the row
	columns []Column
	cells   []string
}

func newCSV(to io.Writer, columns []Column, words bool) (*csvWriter, error) {
	w := &csvWriter{out: bufio.NewWriter(to), columns: columns, cells: make([]string, len(columns))}
	w.fields = csv.NewWriter(&w.row)
	for i, c := range columns {
		w.cells[i] = c.Key
	}
	err := w.line()
	if err == nil && words {
		for i, c := range columns {
			w.cells[i] = listing.Inert(c.Words)
		}
		err = w.line()
	}
	return w, err
}

// line writes the cells.
func (w *csvWriter) line() error {
	w.row.Reset()
	if err := w.fields.Write(w.cells); err != nil {
		return err
	}
	w.fields.Flush() // to memory
	w.row.Truncate(w.row.Len() - 1)
	w.row.WriteString("\r\n")
	_, err := w.out.Write(w.row.Bytes())
	return err
}

func (w *csvWriter) Row(cells []Cell) error {
	for i, c := range cells {
		w.cells[i] = Plain(w.columns[i].Kind, c)
		if kind := w.columns[i].Kind; kind == Text || kind == Texts {
			w.cells[i] = listing.Inert(w.cells[i])
		}
	}
	return w.line()
}

// Plain writes a cell as text: several texts with semicolons between, "" where it is not
// given.
func Plain(kind Kind, c Cell) string {
	if !c.Given {
		return ""
	}
	switch kind {
	case Text:
		return c.Text
	case Texts:
		return strings.Join(c.Texts, "; ")
	case Whole:
		return strconv.FormatInt(c.N, 10)
	case Number:
		return decimal.Decimal(c.N).String()
	case Moment:
		return c.At.Format("2006-01-02T15:04:05.000Z07:00")
	default:
		return c.At.Format(time.DateOnly)
	}
}

func (w *csvWriter) Flush() error { return w.out.Flush() }
func (w *csvWriter) Close() error { return w.out.Flush() }
