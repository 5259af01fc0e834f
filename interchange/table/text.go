package table

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"
)

// Reasons why the text of a table can't be read.
var (
	ErrEncoding = errors.New("is not UTF-8")
	ErrCells    = errors.New("does not fit the heading")
)

// csvReader reads CSV (RFC 4180) whose cells are parted by commas, semicolons or tabs:
// by whichever its first line has the most of outside quotation marks. A byte order mark
// at the beginning is passed over.
func csvReader(in io.Reader) (*csv.Reader, error) {
	b := bufio.NewReaderSize(in, 1<<16)
	start, _ := b.Peek(3)
	switch {
	case bytes.HasPrefix(start, []byte("\ufeff")):
		_, _ = b.Discard(3)
	case bytes.HasPrefix(start, []byte{0xff, 0xfe}), bytes.HasPrefix(start, []byte{0xfe, 0xff}):
		return nil, fmt.Errorf("the table %w but UTF-16; save it as UTF-8", ErrEncoding)
	}
	heading, _ := b.Peek(b.Size())
	r := csv.NewReader(b)
	r.Comma = parting(heading)
	return r, nil
}

// parting returns the character that parts the cells of a first line.
func parting(text []byte) rune {
	counts, quoted := map[byte]int{}, false
	for _, c := range text {
		switch {
		case c == '"':
			quoted = !quoted
		case quoted:
		case c == '\n':
			text = nil
		default:
			counts[c]++
		}
		if text == nil {
			break
		}
	}
	found := ','
	for _, c := range ";\t" {
		if counts[byte(c)] > counts[byte(found)] {
			found = c
		}
	}
	return found
}

// legible tells what keeps cells from being words: bytes that are not UTF-8, or NUL.
func legible(cells []string) error {
	for i, cell := range cells {
		switch {
		case !utf8.ValidString(cell):
			return fmt.Errorf(
				"cell %d %w: it may be Latin-1 (ISO 8859-1), as older spreadsheets write it; save the table as UTF-8",
				i+1,
				ErrEncoding,
			)
		case strings.ContainsRune(cell, 0):
			return fmt.Errorf("cell %d holds the character NUL", i+1)
		}
	}
	return nil
}

// rowError says what keeps a record from being read, and its line.
func rowError(r *csv.Reader, cells []string, heading int, err error) (line int, of error) {
	var wrong *csv.ParseError
	switch {
	case errors.Is(err, csv.ErrFieldCount):
		line, _ = r.FieldPos(0)
		return line, fmt.Errorf("%w: it has %d cells, and the heading has %d", ErrCells, len(cells), heading)
	case errors.As(err, &wrong):
		return wrong.StartLine, fmt.Errorf("at character %d: %w", wrong.Column, wrong.Err)
	}
	line, _ = r.FieldPos(0)
	return line, legible(cells)
}
