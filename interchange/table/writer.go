package table

import (
	"bytes"
	"encoding/json"
	"errors"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/interchange/listing"
)

// heading names the columns that are written: id, every scale (keywords and
// pulls among them), outcome, landing, address, end.
func heading(p *program.Program, o Options) []string {
	names := append([]string{"id"}, p.ScaleKeys()...)
	names = append(names, "outcome", "landing", "address", "end")
	if o.Explain {
		names = append(names, "explanation")
	}
	return names
}

// A rowWriter computes passages and writes a row for each.
type rowWriter struct {
	p      *program.Program
	o      Options
	walker *passage.Walker
	scales []string
}

func newRowWriter(p *program.Program, o Options) *rowWriter {
	return &rowWriter{p: p, o: o, walker: passage.NewWalker(p), scales: p.ScaleKeys()}
}

// A Scored row is what is written of a passage in JSON Lines.
type Scored struct {
	ID          string                     `json:"id,omitempty"`
	Scores      map[string]decimal.Decimal `json:"scores"`
	Outcome     string                     `json:"outcome"`
	Landing     string                     `json:"landing"`
	Address     string                     `json:"address,omitempty"`
	End         program.End                `json:"end"`
	Explanation *passage.Explanation       `json:"explanation,omitempty"`
}

// ErrBeyond says that a score of a row left the range of numbers.
var ErrBeyond = errors.New("takes a score beyond what can be counted with, ±9.2 × 10¹²")

// write writes a row. The error is ErrBeyond.
func (w *rowWriter) write(out *bytes.Buffer, row *Row) error {
	r := w.walker.Walk(row.Input)
	if r.Beyond {
		return ErrBeyond
	}
	if len(r.Missing) > 0 && w.o.Blank != nil {
		w.o.Blank(row.Line, len(r.Missing))
	}
	if w.o.walked != nil {
		w.o.walked(row.Input, r)
	}
	s := Scored{ID: row.ID, Outcome: passage.OutcomeKey(w.p, r), Landing: passage.LandingKey(w.p, r), End: r.End}
	if a := passage.AddressOf(w.p, r); a != nil {
		// An address that is not http(s) after filling in is not written.
		s.Address, _ = passage.NewFiller(w.p, row.Input, r, row.ID).Address(a)
	}
	if w.o.To == JSONL {
		w.writeJSON(out, row, r, s)
		return nil
	}
	b := appendCell(out.AvailableBuffer(), s.ID)
	for i := range w.scales {
		b = r.Scores[i].AppendTo(append(b, ','))
	}
	for _, cell := range []string{s.Outcome, s.Landing, s.Address, string(s.End)} {
		b = appendCell(append(b, ','), cell)
	}
	if w.o.Explain {
		e := passage.Explain(w.p, row.Input)
		b = appendCell(append(b, ','), strings.Join(e.Sentences(), " "))
	}
	out.Write(append(b, '\n'))
	return nil
}

func (w *rowWriter) writeJSON(out *bytes.Buffer, row *Row, r *passage.Result, s Scored) {
	s.Scores = make(map[string]decimal.Decimal, len(w.scales))
	for i, key := range w.scales {
		s.Scores[key] = r.Scores[i]
	}
	if w.o.Explain {
		e := passage.Explain(w.p, row.Input)
		s.Explanation = &e
	}
	line, err := json.Marshal(s)
	if err != nil {
		panic("table: writing a row: " + err.Error()) // no type of it can fail
	}
	out.Write(line)
	out.WriteByte('\n')
}

// appendCell writes a cell as RFC 4180 has it, in quotation marks where it holds anything
// special, and so that no spreadsheet runs it.
func appendCell(b []byte, cell string) []byte {
	cell = listing.Inert(cell)
	if !special(cell) {
		return append(b, cell...)
	}
	b = append(b, '"')
	b = append(b, strings.ReplaceAll(cell, `"`, `""`)...)
	return append(b, '"')
}

// special tells whether a cell may need quotation marks.
func special(cell string) bool {
	for i := range len(cell) {
		switch c := cell[i]; {
		case c == '"', c == ',', c <= ' ', c == '\\', c >= 0x80:
			return true
		}
	}
	return false
}
