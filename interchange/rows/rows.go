// Package rows writes a long table of typed cells in open formats: CSV (RFC 4180), JSON
// Lines, a workbook (Office Open XML, ISO/IEC 29500) and Apache Parquet. A row is written
// when it is given, or kept on disk until the end where the format asks for that, so that a
// table of any length takes the same memory.
package rows

import (
	"errors"
	"fmt"
	"io"
	"strings"
	"time"
)

// A Kind of the cells in a column.
type Kind int

// The kinds.
const (
	Text   Kind = iota
	Texts       // several
	Whole       // a whole number
	Number      // a number of up to six decimals
	Moment      // a time, to the millisecond
	Day
)

// A Column of a table. Its key is unlike every other's and the same in every table of the
// kind; its words are for people.
type Column struct {
	Key, Words string
	Kind       Kind
}

// A Cell holds the field that its column's kind names, or is not given.
type Cell struct {
	Given bool
	Text  string
	Texts []string
	N     int64     // of Whole the number itself, of Number in millionths
	At    time.Time // of Moment, written in its zone; of Day its midnight in UTC
}

// Said returns a cell with a text, which is not given where the text is empty.
func Said(text string) Cell { return Cell{Given: text != "", Text: text} }

// Counted returns a cell with a whole number.
func Counted(n int64) Cell { return Cell{Given: true, N: n} }

// A Writer takes rows, each as long as there are columns. Cells are not kept.
type Writer interface {
	Row(cells []Cell) error
	// Flush hands on what can be handed on already.
	Flush() error
	// Close ends the table: without it, what was written is not whole.
	Close() error
}

// A Format of tables.
type Format string

// The formats.
const (
	CSV      Format = "csv"
	Lines    Format = "jsonl"
	Workbook Format = "xlsx"
	Parquet  Format = "parquet"
)

// Formats are all of them, in the order in which they are offered.
var Formats = []Format{CSV, Workbook, Lines, Parquet}

// ErrFormat says that there is no such format.
var ErrFormat = errors.New("unknown format")

// FormatOf returns the format that a text names. The error wraps ErrFormat.
func FormatOf(text string) (Format, error) {
	var known []string
	for _, f := range Formats {
		if string(f) == text {
			return f, nil
		}
		known = append(known, string(f))
	}
	return "", fmt.Errorf("%w %q: it is one of %s", ErrFormat, text, strings.Join(known, ", "))
}

// Media returns the media type of a file.
func (f Format) Media() string {
	switch f {
	case CSV:
		return "text/csv; charset=utf-8; header=present"
	case Lines:
		return "application/jsonl; charset=utf-8"
	case Workbook:
		return "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
	default:
		return "application/vnd.apache.parquet"
	}
}

// Options of a table.
type Options struct {
	Name  string // of the sheet, in a workbook
	Words bool   // a second line with the columns' words, in CSV; a workbook has them as its heading
	More  []Sheet
}

// A Sheet stands behind the table, in a workbook; other formats have none.
type Sheet struct {
	Name    string
	Columns []Column
	Rows    [][]Cell
}

// New begins a table.
func New(f Format, to io.Writer, columns []Column, with Options) (Writer, error) {
	switch f {
	case CSV:
		return newCSV(to, columns, with.Words)
	case Lines:
		return newLines(to, columns), nil
	case Workbook:
		return newWorkbook(to, columns, with)
	case Parquet:
		return newParquet(to, columns), nil
	}
	return nil, fmt.Errorf("%w %q", ErrFormat, f)
}
