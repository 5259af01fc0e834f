package decision

import (
	"encoding/xml"
	"fmt"
	"io"
	"strconv"
	"strings"

	"omphalos/core/decimal"
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

// ReadDMN reads the first decision table of a DMN file (1.1 to 1.4) as the columns and
// rules of a step. Its inputs are named by the quiz's keys, its one output is an outcome,
// its hit policy unique, any or first, which all come to the first that fits. The error
// wraps ErrTable and says what is wrong where.
func ReadDMN(r io.Reader, q *quiz.Quiz) (*quiz.Step, error) {
	refuse := func(format string, args ...any) error {
		return fmt.Errorf("%s: %w", fmt.Sprintf(format, args...), ErrTable)
	}
	var file definitions
	if err := xml.NewDecoder(r).Decode(&file); err != nil {
		return nil, refuse("it is no DMN file: %v", err)
	}
	var table *dmnTable
	for _, d := range file.Decisions {
		if d.Table != nil && table == nil {
			table = d.Table
		}
	}
	switch {
	case table == nil:
		return nil, refuse("there is no decision table in it")
	case table.Policy != "" && table.Policy != "UNIQUE" && table.Policy != "ANY" && table.Policy != "FIRST":
		return nil, refuse("its hit policy is %s; tables with UNIQUE, ANY and FIRST are taken", table.Policy)
	case len(table.Outputs) != 1:
		return nil, refuse("it has %d outputs, and an outcome is one", len(table.Outputs))
	}
	b := builder{
		q,
		&quiz.Step{Kind: quiz.TableStep, Columns: map[string]*quiz.Column{}, Rules: map[string]*quiz.TableRule{}},
	}
	var keys []string
	for i, in := range table.Inputs {
		key, known := b.column(strings.TrimSpace(in.Expression.Text))
		if !known {
			return nil, refuse(
				"input %d asks for %q, which this quiz does not know; it knows %s",
				i+1,
				in.Expression.Text,
				strings.Join(subjects(q), ", "),
			)
		}
		keys = append(keys, key)
	}
	for n, r := range table.Rules {
		if len(r.Inputs) != len(keys) || len(r.Outputs) != 1 {
			return nil, refuse("rule %d has %d entries for %d inputs", n+1, len(r.Inputs), len(keys))
		}
		text := strings.TrimSpace(r.Outputs[0].Text)
		if unquoted, err := strconv.Unquote(text); err == nil {
			text = unquoted
		}
		outcome, err := b.outcome(text)
		if err != nil {
			return nil, fmt.Errorf("rule %d: %w", n+1, err)
		}
		rule := &quiz.TableRule{Order: float64(n + 1), Cells: map[string]*quiz.Test{}, Outcome: outcome}
		for i, entry := range r.Inputs {
			test, err := readTest(entry.Text)
			if err != nil {
				return nil, refuse("rule %d, input %d: %v", n+1, i+1, err)
			}
			if test != nil {
				rule.Cells[keys[i]] = test
			}
		}
		b.s.Rules[fmt.Sprintf("rule_%d", n+1)] = rule
	}
	return b.s, nil
}

// readTest reads an S-FEEL unary test.
func readTest(text string) (*quiz.Test, error) {
	text = strings.TrimSpace(text)
	switch text {
	case "", "-":
		return nil, nil
	case "null":
		return &quiz.Test{Op: quiz.IsSkipped}, nil
	case "not(null)":
		return &quiz.Test{Op: quiz.IsAnswered}, nil
	}
	for _, op := range []quiz.Op{quiz.AtLeast, quiz.AtMost, quiz.MoreThan, quiz.LessThan} {
		if rest, found := strings.CutPrefix(text, strings.TrimSpace(dmnSigns[op])); found {
			item, err := readLiteral(rest)
			return &quiz.Test{Op: op, Value: &quiz.Value{Items: []quiz.Item{item}}}, err
		}
	}
	if inside, found := strings.CutPrefix(text, "["); found {
		from, to, ok := strings.Cut(strings.TrimSuffix(inside, "]"), "..")
		if !ok || !strings.HasSuffix(inside, "]") {
			return nil, fmt.Errorf("%s is no interval such as [8..14] with both ends in it", text)
		}
		return listed(quiz.Between, []string{from, to})
	}
	op := quiz.Is
	if inside, found := strings.CutPrefix(text, "not("); found && strings.HasSuffix(inside, ")") {
		op, text = quiz.IsNot, strings.TrimSuffix(inside, ")")
	}
	parts := literals(text)
	if len(parts) == 1 {
		item, err := readLiteral(parts[0])
		return &quiz.Test{Op: op, Value: &quiz.Value{Items: []quiz.Item{item}}}, err
	}
	if op == quiz.IsNot {
		return nil, fmt.Errorf("not(…) is taken of one value, not of several")
	}
	return listed(quiz.IsOneOf, parts)
}

func listed(op quiz.Op, parts []string) (*quiz.Test, error) {
	v := &quiz.Value{List: true}
	for _, p := range parts {
		item, err := readLiteral(p)
		if err != nil {
			return nil, err
		}
		v.Items = append(v.Items, item)
	}
	return &quiz.Test{Op: op, Value: v}, nil
}

// literals splits at the commas that are not in quotation marks.
func literals(text string) []string {
	var parts []string
	start, inside := 0, false
	for i := 0; i < len(text); i++ {
		switch {
		case text[i] == '\\' && inside:
			i++
		case text[i] == '"':
			inside = !inside
		case text[i] == ',' && !inside:
			parts = append(parts, text[start:i])
			start = i + 1
		}
	}
	return append(parts, text[start:])
}

func readLiteral(text string) (quiz.Item, error) {
	text = strings.TrimSpace(text)
	if day, found := strings.CutPrefix(text, "date("); found {
		text = strings.TrimSuffix(day, ")")
	}
	if words, err := strconv.Unquote(text); err == nil && strings.HasPrefix(text, `"`) {
		return quiz.Item{Text: words, IsText: true}, nil
	}
	if d, err := decimal.Parse(text); err == nil {
		return quiz.Item{Number: d}, nil
	}
	return quiz.Item{}, fmt.Errorf("%q is neither words in quotation marks, a number nor a date", text)
}
