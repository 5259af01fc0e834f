package edit

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"omphalos/core/quiz"
)

// Cells puts a block of texts into a decision table. Lines beyond the last rule make new
// ones. Where one text can't be read nothing is changed.
type Cells struct {
	Path  quiz.Pointer `json:"path"`  // of the table
	At    string       `json:"at"`    // rule and column at the upper left: "rule_1/crop"; "outcome" is the last column
	Label string       `json:"label"` // the texts, tab-separated, a line each
}

func (a Cells) do(t *plan) error {
	q, table, err := t.table(a.Path)
	if err != nil {
		return err
	}
	rule, column, _ := strings.Cut(a.At, "/")
	columns := append(quiz.InOrder(table.Columns), "outcome")
	rules := quiz.InOrder(table.Rules)
	top, left := slices.Index(rules, rule), slices.Index(columns, column)
	if left < 0 || top < 0 && rule != "" {
		return fmt.Errorf("this cell %w: it is not there any more", ErrAct)
	}
	if rule == "" {
		top = len(rules)
	}
	lines := strings.Split(strings.TrimRight(strings.ReplaceAll(a.Label, "\r\n", "\n"), "\n"), "\n")
	if table.Rules == nil {
		table.Rules = map[string]*quiz.TableRule{}
	}
	for y, line := range lines {
		at := top + y
		if at == len(rules) {
			key := freeRule(table)
			order := 1.0
			if len(rules) > 0 {
				order = table.Rules[rules[len(rules)-1]].Order + 1
			}
			table.Rules[key] = &quiz.TableRule{Order: order}
			rules = append(rules, key)
		}
		r := table.Rules[rules[at]]
		for x, text := range strings.Split(line, "\t") {
			if left+x >= len(columns) {
				return fmt.Errorf(
					"line %d has %d columns too many: nothing was changed; this %w",
					y+1,
					left+x-len(columns)+1,
					ErrAct,
				)
			}
			if err := putCell(q, table, r, columns[left+x], text); err != nil {
				return fmt.Errorf("line %d, column %d: %w; this %w", y+1, x+1, err, ErrAct)
			}
		}
	}
	t.put(a.Path+"/rules", table.Rules)
	t.made = a.Path
	return nil
}

func putCell(q *quiz.Quiz, table *quiz.Step, r *quiz.TableRule, column, text string) error {
	if column == "outcome" {
		key, known := q.OutcomeNamed(text)
		if !known && strings.TrimSpace(text) != "" {
			return fmt.Errorf("%q is no outcome: name one by its private name or its letter", text)
		}
		r.Outcome = key
		return nil
	}
	test, err := q.ReadCell(table.Columns[column].Subject, text)
	if err != nil {
		return err
	}
	if r.Cells == nil {
		r.Cells = map[string]*quiz.Test{}
	}
	if r.Cells[column] = test; test == nil {
		delete(r.Cells, column)
	}
	return nil
}

func freeRule(table *quiz.Step) string {
	for i := len(table.Rules) + 1; ; i++ {
		if key := fmt.Sprintf("rule_%d", i); table.Rules[key] == nil {
			return key
		}
	}
}

// table returns the decision table at a place, free to be changed.
func (t *plan) table(path quiz.Pointer) (*quiz.Quiz, *quiz.Step, error) {
	q, err := t.quiz()
	if err != nil {
		return nil, nil, err
	}
	s := q.Decision.Steps[path.Key()]
	if s == nil || s.Kind != quiz.TableStep {
		return nil, nil, fmt.Errorf("this table %w: it is not there any more", ErrAct)
	}
	return q, s, nil
}

// Alike merges rules that follow each other with the same outcome and differ in the
// answers of one column only, until there are no more.
type Alike struct {
	Path quiz.Pointer `json:"path"` // of the table
}

func (a Alike) do(t *plan) error {
	q, table, err := t.table(a.Path)
	if err != nil {
		return err
	}
	before := len(table.Rules)
	for _, r := range table.Rules {
		for c, test := range r.Cells {
			if test != nil && everyAnswer(q.Questions[table.Columns[c].Answer], test) {
				delete(r.Cells, c)
			}
		}
	}
	for merged := true; merged; {
		merged = false
		keys := quiz.InOrder(table.Rules)
		for i := 0; i+1 < len(keys) && !merged; i++ {
			merged = mergeRules(q, table, keys[i], keys[i+1])
		}
	}
	if len(table.Rules) == before {
		return fmt.Errorf("no two rules that follow each other differ in one column only; this %w", ErrAct)
	}
	t.put(a.Path+"/rules", table.Rules)
	t.made = a.Path
	return nil
}

func mergeRules(q *quiz.Quiz, table *quiz.Step, a, b string) bool {
	one, other := table.Rules[a], table.Rules[b]
	if one.Outcome != other.Outcome {
		return false
	}
	differs := ""
	for c := range table.Columns {
		if same(one.Cells[c], other.Cells[c]) {
			continue
		}
		if differs != "" {
			return false
		}
		differs = c
	}
	if differs != "" {
		test, ok := together(q, table.Columns[differs].Subject, one.Cells[differs], other.Cells[differs])
		if !ok {
			return false
		}
		if one.Cells[differs] = test; test == nil {
			delete(one.Cells, differs)
		}
	}
	delete(table.Rules, b)
	return true
}

func same(a, b *quiz.Test) bool {
	x, _ := json.Marshal(a)
	y, _ := json.Marshal(b)
	return string(x) == string(y)
}

// everyAnswer tells whether a test holds for all answers of a question that must be
// answered by one of them.
func everyAnswer(asked *quiz.Question, t *quiz.Test) bool {
	return asked != nil && asked.Kind.Choice() && asked.Required && t.Op == quiz.IsOneOf &&
		len(t.Value.Items) == len(asked.Answers)
}

// together returns the test that holds where one of two does: any for any, and of
// answers of which one is chosen, one of them, or any where they are all of a question
// that must be answered.
func together(q *quiz.Quiz, s quiz.Subject, a, b *quiz.Test) (*quiz.Test, bool) {
	if a == nil || b == nil {
		return nil, true
	}
	asked := q.Questions[s.Answer]
	lists := func(t *quiz.Test) bool { return t.Op == quiz.Is || t.Op == quiz.IsOneOf }
	if asked == nil || !asked.Kind.Choice() || !lists(a) || !lists(b) {
		return nil, false
	}
	v := &quiz.Value{List: true}
	for _, k := range quiz.InOrder(asked.Answers) {
		item := quiz.Item{Text: k, IsText: true}
		if slices.Contains(a.Value.Items, item) || slices.Contains(b.Value.Items, item) {
			v.Items = append(v.Items, item)
		}
	}
	test := &quiz.Test{Op: quiz.IsOneOf, Value: v}
	if everyAnswer(asked, test) {
		return nil, true
	}
	return test, true
}
