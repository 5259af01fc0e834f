package table

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/passage"
)

// heading names the columns that are written: id, every scale (keywords and
// pulls among them), outcome, landing, address, end.
func heading(p *passage.Program, o Options) []string {
	names := append([]string{"id"}, p.Scales()...)
	names = append(names, "outcome", "landing", "address", "end")
	if o.Explain {
		names = append(names, "explanation")
	}
	return names
}

// A rowWriter computes passages and writes a row for each.
type rowWriter struct {
	p      *passage.Program
	o      Options
	walker *passage.Walker
	scales []string
	cells  []string
	scores []byte
}

func newRowWriter(p *passage.Program, o Options) *rowWriter {
	return &rowWriter{p: p, o: o, walker: p.Walker(), scales: p.Scales()}
}

// A Scored row is what is written of a passage in JSON Lines.
type Scored struct {
	ID          string                     `json:"id,omitempty"`
	Scores      map[string]decimal.Decimal `json:"scores"`
	Outcome     string                     `json:"outcome"`
	Landing     string                     `json:"landing"`
	Address     string                     `json:"address,omitempty"`
	End         passage.End                `json:"end"`
	Explanation *passage.Explanation       `json:"explanation,omitempty"`
}

func (w *rowWriter) write(out *bytes.Buffer, row *Row) {
	r := w.walker.Walk(row.Input)
	s := Scored{ID: row.ID, Outcome: w.p.OutcomeKey(r), Landing: w.p.LandingKey(r), End: r.End}
	if a := w.p.AddressOf(r); a != nil {
		// An address that is not http(s) after filling in is not written.
		s.Address, _ = w.p.Filler(row.Input, r, row.ID).Address(a)
	}
	if w.o.To == JSONL {
		w.writeJSON(out, row, r, s)
		return
	}
	w.cells = append(w.cells[:0], s.ID)
	w.scores = w.scores[:0]
	for i := range w.scales {
		from := len(w.scores)
		w.scores = r.Scores[i].AppendTo(w.scores)
		w.cells = append(w.cells, string(w.scores[from:]))
	}
	w.cells = append(w.cells, s.Outcome, s.Landing, s.Address, string(s.End))
	if w.o.Explain {
		e := w.p.Explain(row.Input)
		w.cells = append(w.cells, strings.Join(e.Sentences(), " "))
	}
	writeCSV(out, w.cells)
}

func (w *rowWriter) writeJSON(out *bytes.Buffer, row *Row, r *passage.Result, s Scored) {
	s.Scores = make(map[string]decimal.Decimal, len(w.scales))
	for i, key := range w.scales {
		s.Scores[key] = r.Scores[i]
	}
	if w.o.Explain {
		e := w.p.Explain(row.Input)
		s.Explanation = &e
	}
	line, err := json.Marshal(s)
	if err != nil {
		panic("table: writing a row: " + err.Error()) // no type of it can fail
	}
	out.Write(line)
	out.WriteByte('\n')
}

// writeCSV writes a record; only one with special characters needs encoding/csv.
func writeCSV(out *bytes.Buffer, cells []string) {
	plain := !slices.ContainsFunc(cells, func(c string) bool {
		return strings.ContainsAny(c, "\",\r\n") || strings.HasPrefix(c, " ") || c == `\.`
	})
	if !plain {
		w := csv.NewWriter(out)
		_ = w.Write(cells) // a bytes.Buffer takes everything
		w.Flush()
		return
	}
	for i, c := range cells {
		if i > 0 {
			out.WriteByte(',')
		}
		out.WriteString(c)
	}
	out.WriteByte('\n')
}
