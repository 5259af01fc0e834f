// Package decision writes decision tables of a quiz to files and reads them: as CSV,
// with a column for each subject and "outcome", and as DMN, an open standard for
// decisions (Object Management Group, Decision Model and Notation 1.3).
package decision

import (
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"omphalos/core/quiz"
	"omphalos/interchange/listing"
)

// ErrTable says that a table can't be taken; what is wrong, and where, comes before it.
var ErrTable = errors.New("the table was not taken")

// WriteCSV writes a table; cells are as quiz.CellText has them. A table with two columns
// for one subject gives an error that wraps ErrTable, for a file names its columns by them.
func WriteCSV(w io.Writer, q *quiz.Quiz, s *quiz.Step) error {
	var names []string
	columns := quiz.InOrder(s.Columns)
	for _, k := range columns {
		name := s.Columns[k].Name()
		if slices.Contains(names, name) {
			return fmt.Errorf("two columns ask for %q, which a CSV file can't tell apart: %w", name, ErrTable)
		}
		names = append(names, name)
	}
	var rows []map[string]string
	for _, k := range quiz.InOrder(s.Rules) {
		row := map[string]string{"outcome": s.Rules[k].Outcome}
		for i, c := range columns {
			row[names[i]] = q.CellText(s.Columns[c].Subject, s.Rules[k].Cells[c])
		}
		rows = append(rows, row)
	}
	return listing.Write(w, append(names, "outcome"), rows)
}

// ReadCSV reads what WriteCSV writes as the columns and rules of a table. Columns come
// in the order of the quiz. The error wraps ErrTable.
func ReadCSV(r io.Reader, q *quiz.Quiz) (*quiz.Step, error) {
	known := append(subjects(q), "outcome")
	rows, err := listing.Read(r, known, []string{"outcome"})
	if err != nil {
		return nil, fmt.Errorf("%w: %w", err, ErrTable)
	}
	s := &quiz.Step{Kind: quiz.TableStep, Columns: map[string]*quiz.Column{}, Rules: map[string]*quiz.TableRule{}}
	b := builder{q, s}
	for _, name := range known {
		if len(rows) > 0 && name != "outcome" {
			if _, there := rows[0][name]; there {
				b.column(name)
			}
		}
	}
	for i, row := range rows {
		outcome, err := b.outcome(row["outcome"])
		if err != nil {
			return nil, fmt.Errorf("row %d: %w", i+1, err)
		}
		rule := &quiz.TableRule{Order: float64(i + 1), Cells: map[string]*quiz.Test{}, Outcome: outcome}
		for _, k := range quiz.InOrder(s.Columns) {
			test, err := q.ReadCell(s.Columns[k].Subject, row[s.Columns[k].Name()])
			if err != nil {
				return nil, fmt.Errorf("row %d, column %q: %w; %w", i+1, s.Columns[k].Name(), err, ErrTable)
			}
			if test != nil {
				rule.Cells[k] = test
			}
		}
		s.Rules[fmt.Sprintf("rule_%d", i+1)] = rule
	}
	return s, nil
}

// subjects lists the names of what a table may ask for, in the order of the quiz.
func subjects(q *quiz.Quiz) []string {
	var names []string
	for _, k := range q.QuestionKeys() {
		asked := q.Questions[k]
		switch asked.Kind {
		case quiz.Interlude:
		case quiz.Grid:
			for _, r := range quiz.InOrder(asked.Rows) {
				names = append(names, quiz.Subject{Answer: k, Row: r}.Name())
			}
		default:
			names = append(names, k)
		}
	}
	names = append(names, quiz.InOrder(q.Scales)...)
	for _, f := range quiz.Facts {
		names = append(names, "visitor."+f)
	}
	return names
}

// A builder puts a table together.
type builder struct {
	q *quiz.Quiz
	s *quiz.Step
}

// column adds a column for a subject and returns its key. A table may ask for a subject
// in several columns.
func (b builder) column(name string) (string, bool) {
	subject, known := b.q.SubjectNamed(name)
	if !known {
		return "", false
	}
	key := strings.NewReplacer(".", "_").Replace(name)
	for base, n := key, 2; b.s.Columns[key] != nil; n++ {
		key = fmt.Sprintf("%s_%d", base, n)
	}
	b.s.Columns[key] = &quiz.Column{Order: float64(len(b.s.Columns) + 1), Subject: subject}
	return key, true
}

func (b builder) outcome(text string) (string, error) {
	key, known := b.q.OutcomeNamed(text)
	if !known && strings.TrimSpace(text) != "" {
		var names []string
		for _, k := range quiz.InOrder(b.q.Outcomes) {
			names = append(names, b.q.Outcomes[k].Name)
		}
		return "", fmt.Errorf(
			"%q is no outcome of this quiz; they are %s: %w",
			text,
			strings.Join(slices.Clip(names), ", "),
			ErrTable,
		)
	}
	return key, nil
}
