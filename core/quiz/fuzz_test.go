package quiz_test

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// FuzzRead: whatever is read is written as it was, can be checked, and without
// problems compiles and ends every passage.
func FuzzRead(f *testing.F) {
	orchard, err := os.ReadFile("../../cmd/omphalos/demo/orchard.json")
	require.NoError(f, err)
	f.Add(orchard)
	f.Add(
		[]byte(
			`{"format":"omphalos/quiz@1","title":"t","sections":{"s":{"order":1}},"questions":{"q":{"order":1,"section":"s","kind":"number","label":"n","limits":{"low":0,"high":9},"weigh":{"p":{"reversed":true,"brackets":{"a":{"from":3,"adds":-2}}}}}},"scales":{"p":{"order":1,"name":"P","kind":"points","method":"percent"}},"decision":{"otherwise":"o"},"outcomes":{"o":{"order":1,"name":"O","landings":{"l":{"order":1,"kind":"redirect","address":"https://a.example/{q}"}}}}}`,
		),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		q, err := quiz.Read(data)
		if err != nil {
			assert.NotEmpty(t, err.Error())
			return
		}
		written := q.Write()
		again, err := quiz.Read(written)
		require.NoError(t, err, "what was written is read: %s", written)
		require.Equal(t, string(written), string(again.Write()))
		if len(q.Check()) > 0 {
			return
		}
		p, err := program.Compile(q)
		require.NoError(t, err)
		r := passage.Walk(p, passage.Input{})
		require.NotEqual(t, program.Unfinished, r.End)
		require.NotEmpty(t, passage.OutcomeKey(p, r))
	})
}

// FuzzCondition: a condition that is read prints itself, and one without
// problems can be evaluated.
func FuzzCondition(f *testing.F) {
	for _, seed := range []string{
		`{"answer":"crop","op":"is","value":"apples"}`,
		`{"all":[{"scale":"points","op":"between","value":[1,2.5]},{"none":[{"visitor":"country","op":"is one of","value":["IE","FR"]}]}]}`,
		`{"answer":"grid","row":"a","op":"is skipped"}`,
		`{"answer":"when","op":"more than","value":"2026-04-30"}`, `{"outcome":true,"op":"is not","value":"a"}`,
		`{"answer":"words","op":"contains","value":"x"}`, `{"answer":"topics","op":"includes","value":["a","b"]}`,
	} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		m := quiztest.New("a", "b")
		m.Scale("points", quiz.Sum)
		m.Ask("crop", quiz.Single, "apples points=1", "pears")
		m.Ask("topics", quiz.Several, "a", "b")
		m.Ask("grid", quiz.Grid, "low", "high").Rows = map[string]*quiz.Row{"a": {Label: "A"}}
		m.Ask("when", quiz.Date)
		m.Ask("amount", quiz.Number)
		m.Ask("words", quiz.ShortText)
		written := m.Write()
		with := []byte(
			string(written[:len(written)-2]) + `,"contact":{"place":"after","fields":{},"when":` + string(data) + "}}",
		)
		q, err := quiz.Read(with)
		if err != nil {
			return
		}
		require.NotEmpty(t, q.Sentence(q.Contact.When))
		if len(q.Check()) > 0 {
			return
		}
		p, err := program.Compile(q)
		require.NoError(t, err)
		for _, answers := range [][]string{nil, {"crop=apples", "topics=a|b", "grid.a=low", "when=2026-05-01",
			"amount=2.5", "words=xyz", "visitor.country=IE"}} {
			in := quiztest.Input(t, p, answers...)
			require.Equal(t, passage.Walk(p, in).Contact, passage.Walk(p, in).Contact)
		}
	})
}
