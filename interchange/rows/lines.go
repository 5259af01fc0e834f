package rows

import (
	"bufio"
	"io"
	"strconv"

	"github.com/go-json-experiment/json/jsontext"

	"omphalos/core/decimal"
)

// A lineWriter writes an object of JSON a line, with a member for each cell that is given.
type lineWriter struct {
	out     *bufio.Writer
	columns []Column
	names   [][]byte // of the members, quoted
	line    []byte
}

func newLines(to io.Writer, columns []Column) *lineWriter {
	w := &lineWriter{out: bufio.NewWriter(to), columns: columns}
	for _, c := range columns {
		w.names = append(w.names, append(quoted(nil, c.Key), ':'))
	}
	return w
}

func (w *lineWriter) Row(cells []Cell) error {
	b := append(w.line[:0], '{')
	for i, c := range cells {
		if !c.Given {
			continue
		}
		if len(b) > 1 {
			b = append(b, ',')
		}
		b = value(append(b, w.names[i]...), w.columns[i].Kind, c)
	}
	w.line = append(b, '}', '\n')
	_, err := w.out.Write(w.line)
	return err
}

func value(b []byte, kind Kind, c Cell) []byte {
	switch kind {
	case Whole:
		return strconv.AppendInt(b, c.N, 10)
	case Number:
		return decimal.Decimal(c.N).AppendTo(b)
	case Texts:
		b = append(b, '[')
		for i, text := range c.Texts {
			if i > 0 {
				b = append(b, ',')
			}
			b = quoted(b, text)
		}
		return append(b, ']')
	default:
		return quoted(b, Plain(kind, c))
	}
}

// quoted writes a string of JSON. What is no UTF-8 becomes U+FFFD.
func quoted(b []byte, text string) []byte {
	b, _ = jsontext.AppendQuote(b, text) // its error tells of that alone
	return b
}

func (w *lineWriter) Flush() error { return w.out.Flush() }
func (w *lineWriter) Close() error { return w.out.Flush() }
