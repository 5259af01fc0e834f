package sheet

import (
	"cmp"
	"fmt"
	"strings"

	"omphalos/core/coverage"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

// A tablePart is a decision table on the sheet.
type tablePart struct {
	Path    quiz.Pointer
	Columns []tableColumn
	Rules   []tableRow
	Covered string // "8 of 8 combinations"
	Part    float64
	Twice   string
	Left    []string // rows that are missing, in words
	More    int
	FillIn  string // patch that adds what is missing
	Alike   bool
}

type tableColumn struct {
	Path     quiz.Pointer
	Key      string
	Subject  string
	Name     string
	Subjects []patchChoice
	Answers  []string // what may be typed
}

type tableRow struct {
	Path    quiz.Pointer
	Key     string
	Number  int
	Cells   []tableCell
	Outcome string
	Letter  string
	Class   string
	Percent string
	First   bool
	Last    bool
}

type tableCell struct {
	At, Text, Label, List string
	Takes                 string // what it can be, in words
}

// mostFilled bounds how many missing rows are filled in at once.
const mostFilled = 64

func (sh *Sheet) table(key string, s *quiz.Step, percents func(rule string) string) tablePart {
	p := tablePart{Path: quiz.At("decision", "steps", key)}
	columns := quiz.InOrder(s.Columns)
	for _, k := range columns {
		c := s.Columns[k]
		column := tableColumn{
			Key:     k,
			Path:    p.Path.Join("columns", k),
			Subject: subjectKey(c.Subject),
			Name:    sh.subjectName(c.Subject),
		}
		if q := sh.Doc.Ask(c.Answer); q != nil && q.Kind.HasAnswers() {
			for _, a := range quiz.InOrder(q.Answers) {
				column.Answers = append(
					column.Answers,
					sh.Doc.CellText(c.Subject, &quiz.Test{Op: quiz.Is, Value: quiz.Words(a)}),
				)
			}
		}
		for _, g := range sh.subjects(p.Path + "/when") {
			for _, o := range g.Options {
				column.Subjects = append(
					column.Subjects,
					patchChoice{o.Name, sh.columnPatch(s, p.Path, k, o.Key), o.Key == column.Subject},
				)
			}
		}
		p.Columns = append(p.Columns, column)
	}
	rules := quiz.InOrder(s.Rules)
	for i, k := range rules {
		r := s.Rules[k]
		row := tableRow{
			Key:     k,
			Path:    p.Path.Join("rules", k),
			Number:  i + 1,
			Outcome: r.Outcome,
			Letter:  "",
			Class:   hueOf(sh.Doc, r.Outcome),
			Percent: percents(k),
			First:   i == 0,
			Last:    i == len(rules)-1,
		}
		if sh.Doc.Outcomes[r.Outcome] != nil {
			row.Letter = sh.Doc.Letter(r.Outcome)
		}
		for n, c := range columns {
			row.Cells = append(
				row.Cells,
				tableCell{
					k + "/" + c,
					sh.Doc.CellText(s.Columns[c].Subject, r.Cells[c]),
					fmt.Sprintf("Rule %d, %s", i+1, p.Columns[n].Name),
					"list-" + key + "-" + c,
					sh.Doc.CellTakes(s.Columns[c].Subject),
				},
			)
		}
		p.Rules = append(p.Rules, row)
	}
	p.Alike = len(rules) > 1
	sh.cover(&p, key, s)
	return p
}

// cover tells which combinations the table covers.
func (sh *Sheet) cover(p *tablePart, key string, s *quiz.Step) {
	if sh.program == nil || sh.possible == nil || len(s.Columns) == 0 {
		return
	}
	c, err := coverage.OfTable(sh.program, key, sh.possible.Range)
	if err != nil {
		p.Covered = "too many combinations to count"
		return
	}
	p.Covered = fmt.Sprintf("%s of %s combinations", c.Covered, c.All)
	covered, _ := c.Covered.Float64()
	all, _ := c.All.Float64()
	p.Part = covered / max(all, 1)
	if c.Twice.Sign() > 0 {
		p.Twice = c.Twice.String()
	}
	order, rules := 0.0, map[string]bool{}
	for _, r := range s.Rules {
		order = max(order, r.Order)
	}
	ops, n := "", 0
	for i, row := range c.Left {
		if i < 3 {
			var words []string
			for _, column := range p.Columns {
				if test := row.Cells[column.Key]; test != nil {
					words = append(words, column.Name+": "+sh.Doc.CellText(s.Columns[column.Key].Subject, test))
				}
			}
			p.Left = append(p.Left, cmp.Or(strings.Join(words, ", "), "everything"))
		}
		if i >= mostFilled {
			continue
		}
		for n++; s.Rules[fmt.Sprintf("rule_%d", n)] != nil || rules[fmt.Sprintf("rule_%d", n)]; n++ {
		}
		rules[fmt.Sprintf("rule_%d", n)] = true
		if ops != "" {
			ops += ","
		}
		ops += fmt.Sprintf(
			`{"op":"add","path":"%s/rules/rule_%d","value":%s}`,
			p.Path,
			n,
			desk.JSONText(quiz.TableRule{Order: order + float64(i) + 1, Cells: row.Cells}),
		)
	}
	if p.More = len(c.Left) - len(p.Left); ops != "" {
		p.FillIn = "[" + ops + "]"
	}
}

// columnPatch gives a column another subject; what its cells asked for goes.
func (sh *Sheet) columnPatch(s *quiz.Step, path quiz.Pointer, column, subject string) string {
	c := *s.Columns[column]
	c.Subject, _ = quiz.ReadSubject(subject)
	ops := fmt.Sprintf(`[{"op":"add","path":"%s/columns/%s","value":%s}`, path, column, desk.JSONText(c))
	for _, k := range quiz.InOrder(s.Rules) {
		if s.Rules[k].Cells[column] != nil {
			ops += fmt.Sprintf(`,{"op":"remove","path":"%s/rules/%s/cells/%s"}`, path, k, column)
		}
	}
	return ops + "]"
}

func (sh *Sheet) subjectName(s quiz.Subject) string {
	switch q := sh.Doc.Ask(s.Answer); {
	case q != nil && q.Rows[s.Row] != nil:
		return short(q.Label + ": " + q.Rows[s.Row].Label)
	case q != nil:
		return short(cmp.Or(q.Label, s.Answer))
	case sh.Doc.Scales[s.Scale] != nil:
		return cmp.Or(sh.Doc.Scales[s.Scale].Name, s.Scale)
	case s.Visitor != "":
		return "the visitor’s " + s.Visitor
	}
	return "not known"
}
