package decision

import (
	"encoding/xml"
	"fmt"
	"io"
	"strconv"
	"strings"

	"omphalos/core/quiz"
)

// The part of DMN 1.3 that a decision table needs. Element names are read whatever the
// version of their namespace.
type definitions struct {
	XMLName   xml.Name      `xml:"definitions"`
	Space     string        `xml:"xmlns,attr,omitempty"`
	ID        string        `xml:"id,attr"`
	Name      string        `xml:"name,attr"`
	Target    string        `xml:"namespace,attr"`
	Decisions []dmnDecision `xml:"decision"`
}

type dmnDecision struct {
	ID    string    `xml:"id,attr"`
	Name  string    `xml:"name,attr"`
	Table *dmnTable `xml:"decisionTable"`
}

type dmnTable struct {
	ID      string      `xml:"id,attr"`
	Policy  string      `xml:"hitPolicy,attr,omitempty"`
	Inputs  []dmnInput  `xml:"input"`
	Outputs []dmnOutput `xml:"output"`
	Rules   []dmnRule   `xml:"rule"`
}

type dmnInput struct {
	ID         string        `xml:"id,attr"`
	Label      string        `xml:"label,attr,omitempty"`
	Expression dmnExpression `xml:"inputExpression"`
}

type dmnExpression struct {
	Type string `xml:"typeRef,attr,omitempty"`
	Text string `xml:"text"`
}

type dmnOutput struct {
	ID   string `xml:"id,attr"`
	Name string `xml:"name,attr,omitempty"`
	Type string `xml:"typeRef,attr,omitempty"`
}

type dmnRule struct {
	ID      string     `xml:"id,attr"`
	Inputs  []dmnEntry `xml:"inputEntry"`
	Outputs []dmnEntry `xml:"outputEntry"`
}

type dmnEntry struct {
	Text string `xml:"text"`
}

const dmnSpace = "https://www.omg.org/spec/DMN/20191111/MODEL/"

// WriteDMN writes a table of the quiz as DMN 1.3, with hit policy FIRST and entries as
// S-FEEL unary tests over keys. What S-FEEL can't say (several answers together, parts
// of texts) gives an error that wraps ErrTable.
func WriteDMN(w io.Writer, q *quiz.Quiz, key string, s *quiz.Step) error {
	table := &dmnTable{ID: "table_" + key, Policy: "FIRST", Outputs: []dmnOutput{{"outcome", "outcome", "string"}}}
	columns := quiz.InOrder(s.Columns)
	var sets []bool // whether the column's value is a set
	for _, k := range columns {
		subject := s.Columns[k].Subject
		kind := "string"
		asked := q.Ask(subject.Answer)
		if subject.Scale != "" || asked != nil && asked.Kind.Numeric() {
			kind = "number"
		} else if asked != nil && asked.Kind == quiz.Date || subject.Visitor == "date" {
			kind = "date"
		}
		sets = append(
			sets,
			asked != nil && (asked.Kind == quiz.Several || asked.Kind == quiz.Grid && subject.Row == ""),
		)
		label := subject.Name()
		if asked != nil {
			label = asked.Label
		}
		table.Inputs = append(table.Inputs, dmnInput{"input_" + k, label, dmnExpression{kind, subject.Name()}})
	}
	for n, k := range quiz.InOrder(s.Rules) {
		rule := dmnRule{ID: "rule_" + k, Outputs: []dmnEntry{{strconv.Quote(s.Rules[k].Outcome)}}}
		for i, c := range columns {
			text, err := writeTest(s.Rules[k].Cells[c], table.Inputs[i].Expression.Type, sets[i])
			if err != nil {
				return fmt.Errorf("rule %d, column %q: %w", n+1, s.Columns[c].Name(), err)
			}
			rule.Inputs = append(rule.Inputs, dmnEntry{text})
		}
		table.Rules = append(table.Rules, rule)
	}
	if _, err := io.WriteString(w, xml.Header); err != nil {
		return err
	}
	out := xml.NewEncoder(w)
	out.Indent("", "  ")
	return out.Encode(
		definitions{
			Space:     dmnSpace,
			ID:        "quiz",
			Name:      q.Title,
			Target:    "https://example.org/omphalos",
			Decisions: []dmnDecision{{"decision_" + key, q.Title, table}},
		},
	)
}

var dmnSigns = map[quiz.Op]string{quiz.AtLeast: ">= ", quiz.AtMost: "<= ", quiz.MoreThan: "> ", quiz.LessThan: "< "}

// writeTest writes a test as an S-FEEL unary test. Of a set (several picks, a whole grid)
// "is one of" with one value says something else than "is", and S-FEEL has one form for both.
func writeTest(t *quiz.Test, kind string, set bool) (string, error) {
	if t == nil {
		return "-", nil
	}
	var items []string
	if t.Value != nil {
		for _, i := range t.Value.Items {
			switch {
			case kind == "date":
				items = append(items, fmt.Sprintf("date(%q)", i.String()))
			case i.IsText:
				items = append(items, strconv.Quote(i.Text))
			default:
				items = append(items, i.Number.String())
			}
		}
	}
	switch {
	case t.Op == quiz.IsAnswered:
		return "not(null)", nil
	case t.Op == quiz.IsSkipped:
		return "null", nil
	case t.Op == quiz.IsOneOf && !(set && len(items) == 1), t.Op == quiz.Is && len(items) == 1:
		return strings.Join(items, ","), nil
	case t.Op == quiz.IsNot && len(items) == 1:
		return "not(" + items[0] + ")", nil
	case t.Op == quiz.Between && len(items) == 2:
		return "[" + items[0] + ".." + items[1] + "]", nil
	case dmnSigns[t.Op] != "" && len(items) == 1:
		return dmnSigns[t.Op] + items[0], nil
	}
	return "", fmt.Errorf("%q can't be said in DMN: %w", t.Op, ErrTable)
}
