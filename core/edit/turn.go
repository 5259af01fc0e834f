package edit

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Turn makes a question or a scale one of another kind and keeps what the new kind can
// have: answers among kinds that list some (they are the columns of a grid), limits and
// weights among numbers, limits among texts.
type Turn struct {
	Path quiz.Pointer `json:"path"`
	Kind string       `json:"kind"`
}

func (a Turn) do(t *plan) error {
	parent, key, thing, err := t.thing(a.Path, "turn")
	if err != nil {
		return err
	}
	if parent == "/scales" {
		return a.turnScale(t, thing)
	}
	to := quiz.Kind(a.Kind)
	if parent != "/questions" || !slices.Contains(quiz.Kinds, to) {
		return fmt.Errorf("turning %q into %q %w", a.Path, a.Kind, ErrAct)
	}
	was, _ := thing["kind"].(string)
	turned := turnedInto(thing, quiz.Kind(was), to)
	t.made = parent.Join(key)
	t.ops = append(t.ops, Op{Op: "replace", Path: t.made + "/kind", Value: string(to)})
	for _, field := range slices.Sorted(maps.Keys(thing)) {
		if _, kept := turned[field]; !kept {
			t.ops = append(t.ops, Op{Op: "remove", Path: t.made.Join(field)})
		}
	}
	for _, field := range []string{"answers", "rows", "limits"} {
		if value, has := turned[field]; has {
			t.put(t.made.Join(field), value)
		}
	}
	return nil
}

// turnScale lets a scale count something else, and takes away what only the other
// kind can have.
func (a Turn) turnScale(t *plan, scale map[string]any) error {
	path := a.Path
	to := quiz.ScaleKind(a.Kind)
	var drop []string
	switch to {
	case quiz.Points:
		drop = []string{"outcome", "currency", "fees"}
	case quiz.Keyword, quiz.Pull:
		drop = []string{"start", "method", "formula", "decimals", "currency", "fees"}
	case quiz.Money:
		drop = []string{"outcome", "unit"}
	default:
		return fmt.Errorf("turning %q into %q %w", a.Path, a.Kind, ErrAct)
	}
	t.made = path
	t.ops = append(t.ops, Op{Op: "replace", Path: path + "/kind", Value: string(to)})
	for _, field := range drop {
		if _, has := scale[field]; has {
			t.ops = append(t.ops, Op{Op: "remove", Path: path.Join(field)})
		}
	}
	if _, has := scale["currency"]; to == quiz.Money && !has {
		t.put(path+"/currency", "EUR")
	}
	return nil
}

// turnedInto returns the fields of a question as one of another kind.
func turnedInto(question map[string]any, was, to quiz.Kind) map[string]any {
	turned := maps.Clone(question)
	turned["kind"] = string(to)
	drop := func(fields ...string) {
		for _, f := range fields {
			delete(turned, f)
		}
	}
	if to.HasAnswers() {
		if answers, _ := question["answers"].(map[string]any); len(answers) == 0 {
			turned["answers"] = blankAnswers(to)
		} else if to == quiz.Grid {
			turned["answers"] = columnsOf(answers)
		} else if to == quiz.YesNo {
			turned["answers"] = yesAndNo(answers)
		}
		drop("limits", "weigh")
	} else {
		drop("answers")
		if was.HasAnswers() {
			drop("expect")
		}
	}
	if to == quiz.Grid {
		if rows, _ := question["rows"].(map[string]any); len(rows) == 0 {
			turned["rows"] = map[string]any{
				"row_1": map[string]any{"order": 1, "label": ""},
				"row_2": map[string]any{"order": 2, "label": ""},
			}
		}
	} else {
		drop("rows")
	}
	if to != quiz.Several {
		drop("picks", "cap")
	}
	numbers := func(k quiz.Kind) bool { return k.Numeric() }
	words := func(k quiz.Kind) bool { return k == quiz.ShortText || k == quiz.LongText }
	switch {
	case numbers(was) && numbers(to):
		if to == quiz.Rating || to == quiz.Stars {
			if !wholeRange(question) {
				drop("limits")
			}
		}
	case words(was) && words(to), was == to:
	default:
		drop("limits", "weigh")
	}
	if to != quiz.Location && to != quiz.Appointment {
		drop("table")
	}
	if to == quiz.Interlude {
		drop("required", "expect")
	}
	return turned
}

// wholeRange tells whether a number's limits can be those of a rating.
func wholeRange(question map[string]any) bool {
	limits, _ := question["limits"].(map[string]any)
	low, hasLow := amountOf(limits["low"])
	high, hasHigh := amountOf(limits["high"])
	return hasLow && hasHigh && low%decimal.One == 0 && high%decimal.One == 0 && high-low <= 100*decimal.One
}

func blankAnswers(kind quiz.Kind) map[string]any {
	labels := []string{"", ""}
	if kind == quiz.YesNo {
		labels = []string{"Yes", "No"}
	}
	answers := map[string]any{}
	for i, label := range labels {
		answers[fmt.Sprintf("answer_%d", i+1)] = map[string]any{"order": i + 1, "label": label}
	}
	return answers
}

// columnsOf leaves out of answers what the columns of a grid can't have.
func columnsOf(answers map[string]any) map[string]any {
	columns := map[string]any{}
	for k, a := range answers {
		answer, _ := a.(map[string]any)
		column := maps.Clone(answer)
		delete(column, "then")
		delete(column, "writeIn")
		columns[k] = column
	}
	return columns
}

// tidy takes out of a document what says nothing: weighings without a factor and
// brackets, limits and picks without a number.
func tidy(q *quiz.Quiz) {
	for _, asked := range q.Questions {
		tidyQuestion(asked)
	}
}

func tidyQuestion(asked *quiz.Question) {
	for scale, w := range asked.Weigh {
		if w != nil && w.Factor == nil && len(w.Brackets) == 0 {
			delete(asked.Weigh, scale)
		}
	}
	if asked.Limits != nil && *asked.Limits == (quiz.Limits{}) {
		asked.Limits = nil
	}
	if asked.Picks != nil && *asked.Picks == (quiz.Picks{}) {
		asked.Picks = nil
	}
}

// yesAndNo words two answers that have no words yet.
func yesAndNo(answers map[string]any) map[string]any {
	keys := ordered(answers)
	if len(keys) != 2 {
		return answers
	}
	worded := map[string]any{}
	for i, key := range keys {
		answer, _ := answers[key].(map[string]any)
		if label, _ := answer["label"].(string); strings.TrimSpace(label) != "" {
			return answers
		}
		worded[key] = maps.Clone(answer)
		worded[key].(map[string]any)["label"] = []string{"Yes", "No"}[i]
	}
	return worded
}
