// Package listing reads and writes lists with named columns as CSV (RFC 4180): the
// catalogue and the signposts. Columns may come in any order; a spreadsheet's byte
// order mark and semicolons are understood.
package listing

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"maps"
	"regexp"
	"slices"
	"strings"
)

// Reasons why a list is not read.
var (
	ErrEmpty  = errors.New("there is nothing in it")
	ErrColumn = errors.New("the columns are not as they should be")
	ErrLong   = errors.New("it is too long")
)

// MostRows bounds a list.
const MostRows = 10_000

// Read returns the rows of a list by the names of its columns. Each of the needed
// columns must be there, and no column that is not known; "name:*" stands for as many as
// there are, such as "name:de". The error wraps one of the errors above, or tells the line
// that is no CSV or has a wrong number of columns.
func Read(r io.Reader, known, needed []string) ([]map[string]string, error) {
	data, err := io.ReadAll(r)
	if err != nil {
		return nil, err
	}
	data = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))
	if len(bytes.TrimSpace(data)) == 0 {
		return nil, ErrEmpty
	}
	in := csv.NewReader(bytes.NewReader(data))
	first, _, _ := bytes.Cut(data, []byte("\n"))
	if bytes.Count(first, []byte(";")) > bytes.Count(first, []byte(",")) {
		in.Comma = ';'
	}
	head, err := in.Read()
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrColumn, err)
	}
	for i, name := range head {
		head[i] = strings.ToLower(strings.TrimSpace(name))
		if !knows(known, head[i]) || slices.Contains(head[:i], head[i]) {
			return nil, fmt.Errorf("%w: the column %q is not one of %s", ErrColumn, name, strings.Join(known, ", "))
		}
	}
	for _, name := range needed {
		if !slices.Contains(head, name) {
			return nil, fmt.Errorf("%w: the column %q is missing", ErrColumn, name)
		}
	}
	var rows []map[string]string
	for {
		record, err := in.Read()
		if errors.Is(err, io.EOF) {
			return rows, nil
		}
		var wrong *csv.ParseError
		if errors.As(err, &wrong) && errors.Is(err, csv.ErrFieldCount) {
			return nil, fmt.Errorf(
				"line %d has %d columns, and the first line has %d: %w",
				wrong.Line,
				len(record),
				len(head),
				ErrColumn,
			)
		}
		if err != nil {
			return nil, fmt.Errorf("it is no CSV: %w", err)
		}
		if len(rows) == MostRows {
			return nil, fmt.Errorf("%w: at most %d rows fit", ErrLong, MostRows)
		}
		row := make(map[string]string, len(head))
		for i, name := range head {
			row[name] = strings.TrimSpace(Plain(record[i]))
		}
		rows = append(rows, row)
	}
}

func knows(known []string, column string) bool {
	kind, _, several := strings.Cut(column, ":")
	return slices.Contains(known, column) || several && slices.Contains(known, kind+":*")
}

// Write writes a list that Read reads. A column "name:*" is as many as the rows have.
func Write(w io.Writer, columns []string, rows []map[string]string) error {
	columns = expanded(columns, rows)
	out := csv.NewWriter(w)
	if err := out.Write(columns); err != nil {
		return err
	}
	for _, row := range rows {
		record := make([]string, len(columns))
		for i, c := range columns {
			record[i] = Inert(row[c])
		}
		if err := out.Write(record); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

func expanded(columns []string, rows []map[string]string) []string {
	var list []string
	for _, column := range columns {
		kind, several := strings.CutSuffix(column, "*")
		if !several {
			list = append(list, column)
			continue
		}
		there := map[string]bool{}
		for _, row := range rows {
			for name := range row {
				if strings.HasPrefix(name, kind) {
					there[name] = true
				}
			}
		}
		list = append(list, slices.Sorted(maps.Keys(there))...)
	}
	return list
}

// Inert returns a cell that no spreadsheet runs as a formula: with an apostrophe before
// what begins like one and is no number. Plain takes it off again.
func Inert(cell string) string {
	if runs(strings.TrimLeft(cell, "'")) && !number.MatchString(cell) {
		return "'" + cell
	}
	return cell
}

// Plain returns what Inert was given.
func Plain(cell string) string {
	if strings.HasPrefix(cell, "'") && runs(strings.TrimLeft(cell, "'")) {
		return cell[1:]
	}
	return cell
}

var number = regexp.MustCompile(`^[+-]?\d+([.,]\d+)?$`)

// runs tells whether a spreadsheet takes a cell for a formula (OWASP, CSV Injection).
func runs(cell string) bool { return cell != "" && strings.ContainsRune("=+-@\t\r", rune(cell[0])) }
