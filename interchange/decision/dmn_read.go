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
