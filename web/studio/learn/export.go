package learn

import (
	"bytes"
	"cmp"
	"context"
	"encoding/csv"
	"log/slog"
	"net/http"
	"slices"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"

	"omphalos/core/quiz"
	"omphalos/interchange/listing"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// exports is how many slices are sent at once: whoever asks meanwhile waits.
var exports = semaphore.NewWeighted(2)

// exportTime is how long a slow line may take for each part that is sent.
const exportTime = time.Minute

// export sends the slice as CSV (RFC 4180), by and by: a row for each response, a column for
// each thing by its key, so that they stand in the same order whenever it is asked.
func (s *Room) export(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	ctx := c.Request.Context()
	waits, stop := context.WithTimeout(ctx, desk.Longest)
	defer stop()
	if exports.Acquire(waits, 1) != nil {
		s.Tell(c, http.StatusServiceUnavailable, "One moment, please", "Others are taking responses out just now. Try again in a moment.")
		return
	}
	defer exports.Release(1)
	c.Header("Content-Type", "text/csv; charset=utf-8; header=present")
	c.Header("Content-Disposition", `attachment; filename="`+z.Slug+`.csv"`)
	c.Status(http.StatusOK)
	var part bytes.Buffer // is filled while responses are read, and sent while none are
	w := csv.NewWriter(&part)
	w.UseCRLF = true
	columns := exportColumns(in.quiz, in.slice.releases)
	x := newExporter(columns, in.slice.releases)
	send := func() error {
		w.Flush()
		_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Now().Add(exportTime))
		_, err := part.WriteTo(c.Writer)
		return err
	}
	err := w.Write(columns)
	if err == nil {
		err = s.Store.Responses.EachOf(ctx, z.ID, in.slice.all(), func(r *store.Response) error { return w.Write(x.row(r)) }, send)
	}
	if err = cmp.Or(err, send()); err != nil {
		slog.Error("exporting responses", "error", err)
		cut(c.Writer)
	}
}

// cut ends the connection, so that whoever reads an answer sees that it is not whole.
func cut(w http.ResponseWriter) {
	if own, wraps := w.(interface{ Unwrap() http.ResponseWriter }); wraps {
		w = own.Unwrap() // Gin's does not let go of what has been written to
	}
	if conn, _, err := http.NewResponseController(w).Hijack(); err == nil {
		_ = conn.Close()
	}
}

// always are the columns that every quiz has.
var always = []string{"number", "finished", "seconds", "release", "end", "outcome", "landing", "address",
	"country", "language", "device", "source", "medium", "campaign"}

// exportColumns are the columns of a quiz: what is known of each response, then its scales,
// questions and contact fields by their keys. What only earlier releases had stands behind.
func exportColumns(q *quiz.Quiz, earlier []store.Release) []string {
	columns := append(slices.Clone(always), ownColumns(q)...)
	known := map[string]bool{}
	for _, column := range columns {
		known[column] = true
	}
	for _, r := range earlier {
		before, err := r.Read()
		if err != nil {
			continue // its responses still have what is known of each
		}
		for _, column := range ownColumns(before) {
			if !known[column] {
				known[column], columns = true, append(columns, column)
			}
		}
	}
	return columns
}

// ownColumns are those of a quiz's own scales, questions and contact fields.
func ownColumns(q *quiz.Quiz) []string {
	var columns []string
	for _, key := range quiz.InOrder(q.Scales) {
		columns = append(columns, "score."+key)
	}
	for _, key := range q.QuestionKeys() {
		switch asked := q.Questions[key]; asked.Kind {
		case quiz.Interlude:
		case quiz.Grid:
			for _, row := range quiz.InOrder(asked.Rows) {
				columns = append(columns, "answer."+key+"."+row)
			}
		default:
			columns = append(columns, "answer."+key)
		}
	}
	if q.Contact != nil {
		for _, key := range quiz.InOrder(q.Contact.Fields) {
			columns = append(columns, "contact."+key)
		}
	}
	return columns
}

// An exporter writes responses as the cells of its columns.
type exporter struct {
	place    map[string]int // of a column, by its name
	releases map[uint]int   // numbers, by ID
	cells    []string       // of the row that is being filled in
}

func newExporter(columns []string, releases []store.Release) *exporter {
	x := &exporter{map[string]int{}, map[uint]int{}, make([]string, len(columns))}
	for i, column := range columns {
		x.place[column] = i
	}
	for _, r := range releases {
		x.releases[r.ID] = r.Number
	}
	return x
}

// row returns the cells of a response, so that no spreadsheet runs them. They are good until
// the next row.
func (x *exporter) row(r *store.Response) []string {
	clear(x.cells)
	for i, value := range []string{
		strconv.Itoa(r.Number), r.Finished.UTC().Format(time.RFC3339), strconv.Itoa(r.Seconds), strconv.Itoa(x.releases[r.ReleaseID]),
		r.End, r.Outcome, r.Landing, r.Address, r.Country, r.Language, r.Device, r.Source, r.Medium, r.Campaign,
	} {
		x.cells[i] = value // in the order of always
	}
	for _, score := range r.Scores {
		x.set(score.Millionths.String(), "score.", score.Scale)
	}
	for _, a := range r.Answers {
		said := a.Answer
		if a.WriteIn != "" {
			said += ": " + a.WriteIn
		}
		if a.Row != "" {
			x.set(said, "answer.", a.Question, ".", a.Row)
		} else {
			x.set(said, "answer.", a.Question)
		}
	}
	for _, contact := range r.Contacts {
		x.set(contact.Value, "contact.", contact.Field)
	}
	for i, cell := range x.cells {
		x.cells[i] = listing.Inert(cell)
	}
	return x.cells
}

// set puts a value into a column, behind what is there: several answers to one question stand
// in one cell.
func (x *exporter) set(value string, name ...string) {
	var whole [128]byte
	column := whole[:0]
	for _, part := range name {
		column = append(column, part...)
	}
	i, known := x.place[string(column)] // without an allocation
	switch {
	case !known:
	case x.cells[i] == "":
		x.cells[i] = value
	default:
		x.cells[i] += "; " + value
	}
}
