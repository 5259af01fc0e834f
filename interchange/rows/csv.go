package rows

import (
	"encoding/csv"
	"io"
	"strconv"
	"strings"
	"time"

	"omphalos/core/decimal"
	"omphalos/interchange/listing"
)

// A csvWriter writes a line a row, ended as RFC 4180 has it. No spreadsheet runs a cell.
type csvWriter struct {
	out     *csv.Writer
	columns []Column
	cells   []string
}

func newCSV(to io.Writer, columns []Column, words bool) (*csvWriter, error) {
	w := &csvWriter{csv.NewWriter(to), columns, make([]string, len(columns))}
	w.out.UseCRLF = true
	for i, c := range columns {
		w.cells[i] = c.Key
	}
	err := w.out.Write(w.cells)
	if err == nil && words {
		for i, c := range columns {
			w.cells[i] = listing.Inert(c.Words)
		}
		err = w.out.Write(w.cells)
	}
	return w, err
}

func (w *csvWriter) Row(cells []Cell) error {
	for i, c := range cells {
		w.cells[i] = Plain(w.columns[i].Kind, c)
		if kind := w.columns[i].Kind; kind == Text || kind == Texts {
			w.cells[i] = listing.Inert(w.cells[i])
		}
	}
	return w.out.Write(w.cells)
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
		return c.At.UTC().Format(time.RFC3339)
	default:
		return c.At.Format(time.DateOnly)
	}
}

func (w *csvWriter) Flush() error {
	w.out.Flush()
	return w.out.Error()
}

func (w *csvWriter) Close() error { return w.Flush() }
