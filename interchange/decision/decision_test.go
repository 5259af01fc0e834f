package decision

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// offers is a quiz with a table over an answer, a number, a date and a fact.
func offers() (quiztest.Maker, *quiz.Step) {
	m := quiztest.New("none", "visit", "call")
	m.Ask("crop", quiz.Single, "apples", "pears", "none")
	m.Ask("acres", quiz.Number)
	m.Ask("start", quiz.Date)
	test := func(op quiz.Op, v *quiz.Value) *quiz.Test { return &quiz.Test{Op: op, Value: v} }
	table := m.Decide(quiz.Step{Kind: quiz.TableStep, Columns: map[string]*quiz.Column{
		"crop": {
			Order:   1,
			Subject: quiz.Subject{Answer: "crop"},
		}, "acres": {Order: 2, Subject: quiz.Subject{Answer: "acres"}},
		"start": {
			Order:   3,
			Subject: quiz.Subject{Answer: "start"},
		}, "visitor_country": {Order: 4, Subject: quiz.Subject{Visitor: "country"}}},
		Rules: map[string]*quiz.TableRule{
			"rule_1": {
				Order:   1,
				Outcome: "none",
				Cells:   map[string]*quiz.Test{"crop": test(quiz.Is, quiz.Words("none"))},
			},
			"rule_2": {
				Order:   2,
				Outcome: "visit",
				Cells: map[string]*quiz.Test{
					"crop":            test(quiz.IsOneOf, quiz.ListOf(quiz.Words("apples"), quiz.Words("pears"))),
					"acres":           test(quiz.AtLeast, quiz.Amount(decimal.Must("2.5"))),
					"visitor_country": test(quiz.IsNot, quiz.Words("IE")),
				},
			},
			"rule_3": {
				Order:   3,
				Outcome: "call",
				Cells: map[string]*quiz.Test{
					"acres": test(quiz.Between, quiz.ListOf(quiz.Amount(0), quiz.Amount(decimal.FromInt(2)))),
					"start": test(quiz.AtMost, quiz.Words("2027-05-01")),
				},
			},
			"rule_4": {Order: 4, Outcome: "call", Cells: map[string]*quiz.Test{"start": {Op: quiz.IsSkipped}}},
		}})
	return m, table
}

func TestTablesComeBack(t *testing.T) {
	m, table := offers()
	var csv, dmn bytes.Buffer
	require.NoError(t, WriteCSV(&csv, m.Quiz, table))
	assert.Equal(
		t,
		"crop,acres,start,visitor.country,outcome\nnone,,,,none\napples or pears,≥ 2.5,,not "+
			"Ireland,visit\n,0 to 2,≤ 2027-05-01,,call\n,,skipped,,call\n",
		csv.String(),
	)
	require.NoError(t, WriteDMN(&dmn, m.Quiz, "step_a", table))
	assert.Contains(t, dmn.String(), `hitPolicy="FIRST"`)
	assert.Contains(t, dmn.String(), "<text>[0..2]</text>")
	for name, read := range map[string]func() (*quiz.Step, error){
		"CSV": func() (*quiz.Step, error) { return ReadCSV(bytes.NewReader(csv.Bytes()), m.Quiz) },
		"DMN": func() (*quiz.Step, error) { return ReadDMN(bytes.NewReader(dmn.Bytes()), m.Quiz) },
	} {
		back, err := read()
		require.NoError(t, err, name)
		back.Order = table.Order
		for _, r := range back.Rules {
			if len(r.Cells) == 0 {
				r.Cells = nil
			}
		}
		assert.Equal(t, table.Rules, back.Rules, name)
		assert.Len(t, back.Columns, 4)
	}
}

// Whatever table a generated quiz has, its DMN decides every passage alike, or can't be
// said in DMN.
func TestTablesOfGeneratedQuizzesDecideAlike(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.Draw(t, quiztest.Limits{Questions: 4, Answers: 3})
		for _, key := range quiz.InOrder(m.Decision.Steps) {
			s := m.Decision.Steps[key]
			if s.Kind != quiz.TableStep {
				continue
			}
			var file bytes.Buffer
			if err := WriteDMN(&file, m.Quiz, key, s); err != nil {
				assert.ErrorIs(t, err, ErrTable)
				continue
			}
			back, err := ReadDMN(&file, m.Quiz)
			require.NoError(t, err)
			before, err := program.Compile(m.Quiz)
			require.NoError(t, err)
			in := quiztest.DrawAnswers(t, before)
			was := passage.OutcomeKey(before, passage.Walk(before, in))
			columns, rules := s.Columns, s.Rules
			s.Columns, s.Rules = back.Columns, back.Rules
			after, err := program.Compile(m.Quiz)
			require.NoError(t, err)
			assert.Equal(t, was, passage.OutcomeKey(after, passage.Walk(after, in)))
			s.Columns, s.Rules = columns, rules
		}
	})
}

// Two columns may ask for one subject; a CSV file can't say so.
func TestTwoColumnsForOneSubject(t *testing.T) {
	m, table := offers()
	first := quiz.InOrder(table.Columns)[0]
	table.Columns["again"] = &quiz.Column{Order: 99, Subject: table.Columns[first].Subject}
	var file bytes.Buffer
	require.NoError(t, WriteDMN(&file, m.Quiz, "step_a", table))
	back, err := ReadDMN(&file, m.Quiz)
	require.NoError(t, err)
	assert.Len(t, back.Columns, len(table.Columns))
	assert.ErrorIs(t, WriteCSV(&file, m.Quiz, table), ErrTable)
}

func TestTablesThatAreRefused(t *testing.T) {
	m, table := offers()
	var file bytes.Buffer
	require.NoError(t, WriteDMN(&file, m.Quiz, "step_a", table))
	for change, says := range map[string]string{
		`hitPolicy="FIRST"=>hitPolicy="COLLECT"`:   "its hit policy is COLLECT; tables with UNIQUE, ANY and FIRST are taken",
		`<text>crop</text>=><text>plot</text>`:     `input 1 asks for "plot", which this quiz does not know; it knows crop, acres`,
		`"visit"=>"party"`:                         `rule 2: "party" is no outcome of this quiz; they are none, visit, call`,
		`<text>[0..2]</text>=><text>]0..2[</text>`: "rule 3, input 2",
		`</definitions>=>`:                         "it is no DMN file",
		`decisionTable=>relation`:                  "there is no decision table in it",
	} {
		old, fresh, _ := strings.Cut(change, "=>")
		text := strings.NewReplacer("&#34;"+strings.Trim(old, `"`)+"&#34;", "&#34;"+strings.Trim(fresh, `"`)+"&#34;", old, fresh).
			Replace(file.String())
		require.NotEqual(t, file.String(), text, change)
		_, err := ReadDMN(strings.NewReader(text), m.Quiz)
		assert.ErrorIs(t, err, ErrTable, change)
		assert.ErrorContains(t, err, says, change)
	}
	for text, says := range map[string]string{
		"crop,outcome\nplums,visit\n":       `row 1, column "crop": "plums" can't be read as a cell`,
		"crop,outcome\napples,party\n":      `row 1: "party" is no outcome`,
		"plot,outcome\napples,visit\n":      `the column "plot" is not one of`,
		"crop,outcome\napples,visit,more\n": "line 2 has 3 columns",
	} {
		_, err := ReadCSV(strings.NewReader(text), m.Quiz)
		assert.ErrorIs(t, err, ErrTable, text)
		assert.ErrorContains(t, err, says, text)
	}
}
