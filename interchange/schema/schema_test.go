package schema

import (
	"bytes"
	"encoding/json"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/program"
	"omphalos/core/quiz"
)

// around is a quiz that the fragments of docs/format.md are put into: it has
// what they name.
const around = `{"format":"omphalos/quiz@1","title":"t","sections":{"main":{"order":1}},
"questions":{
 "crop":{"order":1,"section":"main","kind":"single","label":"c","answers":{"apples":{"order":1,"label":"a"},"pears":{"order":2,"label":"p"}}},
 "topics":{"order":2,"section":"main","kind":"several","label":"t","answers":{"price":{"order":1,"label":"p"},"care":{"order":2,"label":"c"}}},
 "habits":{"order":3,"section":"main","kind":"grid","label":"h","answers":{"often":{"order":1,"label":"o"}},"rows":{"mow":{"order":1,"label":"m"}}},
 "area":{"order":4,"section":"main","kind":"number","label":"a"},
 "words":{"order":5,"section":"main","kind":"longtext","label":"w"}},
"scales":{"points":{"order":1,"name":"Points","kind":"points"},"honey":{"order":2,"name":"Honey","kind":"keyword"},"price":{"order":3,"name":"Price","kind":"money","currency":"EUR"}},
"decision":{"steps":{},"otherwise":"a"},
"outcomes":{"a":{"order":1,"name":"A","landings":{"page":{"order":1,"kind":"page"}}},"b":{"order":2,"name":"B","landings":{"page":{"order":1,"kind":"page"}}}}}`

// put returns a quiz that holds the fragment.
func put(t *testing.T, what, fragment string) []byte {
	t.Helper()
	if what == "quiz" {
		return []byte(fragment)
	}
	var whole map[string]any
	require.NoError(t, json.Unmarshal([]byte(around), &whole))
	in := func(path ...string) map[string]any {
		here := whole
		for _, p := range path {
			here = here[p].(map[string]any)
		}
		return here
	}
	value := json.RawMessage(fragment)
	switch what {
	case "question":
		in("questions")["example"] = value
	case "scale":
		in("scales")["example"] = value
	case "step":
		in("decision", "steps")["example"] = value
	case "landing":
		in("outcomes", "b", "landings")["page"] = value
	case "contact":
		whole["contact"] = value
	case "condition":
		whole["contact"] = map[string]any{"place": "after", "fields": map[string]any{}, "when": value}
	case "followup":
		whole["contact"] = map[string]any{"place": "before", "fields": map[string]any{
			"mail":  map[string]any{"order": 1, "kind": "email", "label": "m"},
			"agree": map[string]any{"order": 2, "kind": "consent", "label": "a"}}}
		whole["followUps"] = map[string]any{"example": value}
	case "rehearsal":
		whole["rehearsals"] = map[string]any{"r": value}
	case "look", "translations":
		whole[what] = value
	default:
		t.Fatalf("no place for a %s", what)
	}
	data, err := json.Marshal(whole)
	require.NoError(t, err)
	return data
}

func compiled(t *testing.T) *jsonschema.Schema {
	t.Helper()
	document, err := jsonschema.UnmarshalJSON(bytes.NewReader(Quiz()))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource(ID, document))
	s, err := c.Compile(ID)
	require.NoError(t, err)
	return s
}

func valid(t *testing.T, s *jsonschema.Schema, document []byte) error {
	t.Helper()
	value, err := jsonschema.UnmarshalJSON(bytes.NewReader(document))
	require.NoError(t, err)
	return s.Validate(value)
}

// Every example of docs/format.md is read, valid under the schema, without
// problems, and compiles; every kind of question, step, scale and landing has one.
func TestExamplesOfTheFormat(t *testing.T) {
	page, err := os.ReadFile("../../docs/format.md")
	require.NoError(t, err)
	s := compiled(t)
	shown := map[string]bool{}
	for _, m := range regexp.MustCompile("(?s)```json (\\w+)\n(.*?)```").FindAllStringSubmatch(string(page), -1) {
		document := put(t, m[1], m[2])
		q, err := quiz.Read(document)
		require.NoError(t, err, m[2])
		assert.NoError(t, valid(t, s, document), m[2])
		assert.Empty(t, q.Check(), m[2])
		_, err = program.Compile(q)
		assert.NoError(t, err, m[2])

		written := q.Write()
		again, err := quiz.Read(written)
		require.NoError(t, err)
		assert.Equal(t, q, again, "reading and writing again is the identity")
		assert.NoError(t, valid(t, s, written))
		var kind struct{ Kind, Method string }
		require.NoError(t, json.Unmarshal([]byte(m[2]), &kind))
		shown[m[1]+" "+kind.Kind] = true
		shown[m[1]+" "+kind.Method] = true
	}
	for _, k := range quiz.Kinds {
		assert.True(t, shown["question "+string(k)], "no example of %s", k)
	}
	for _, k := range []string{"step rule", "step table", "step bands", "step leader", "scale points",
		"scale keyword", "scale pull", "scale money", "scale mean", "scale percent", "scale formula",
		"landing page", "landing products", "landing redirect", "condition ", "contact ", "followup mail",
		"followup notice", "followup list", "followup call", "followup conversion", "rehearsal ", "look ",
		"translations ", "quiz "} {
		assert.True(t, shown[k], "no example of %s", k)
	}
}

// What the reader refuses for its form, the schema refuses too, and the reader
// says where.
func TestRefusedForms(t *testing.T) {
	s := compiled(t)
	for name, c := range map[string]struct{ old, new, at, says string }{
		"unknown field": {`"kind":"single"`, `"kind":"single","colour":"red"`, "/questions/crop/colour",
			"does not know"},
		"a near miss": {`"label":"c"`, `"labels":"c","label":"c"`, "/questions/crop/labels", `"label" is meant`},
		"text for a number": {`"order":4`, `"order":"4"`, "/questions/area/order",
			`is the text "4", and must be a number`},
		"number for text":    {`"title":"t"`, `"title":7`, "/title", "is 7, and must be text"},
		"list for an object": {`"steps":{}`, `"steps":[]`, "/decision/steps", "is a list, and must be an object"},
		"null":               {`"steps":{}`, `"steps":null`, "/decision/steps", "is null"},
		"a missing field":    {`"kind":"number",`, ``, "/questions/area", `needs the field "kind"`},
		"missing at the top": {`"title":"t",`, ``, "", `needs the field "title"`},
		"a foreign format":   {`omphalos/quiz@1`, `omphalos/quiz@2`, "/format", `can be read are: omphalos/quiz@1`},
		"a bound that is none": {`"kind":"number"`, `"kind":"number","limits":{"low":true}`,
			"/questions/area/limits/low", ""},
		"a date that is none": {`"kind":"number"`, `"kind":"date","limits":{"low":"soon"}`,
			"/questions/area/limits/low", "is not a date"},
		"half a pick": {`"kind":"several"`, `"kind":"several","picks":{"min":1.5}`,
			"/questions/topics/picks/min", "must be a whole number"},
		"a flag in words": {`"kind":"several"`, `"kind":"several","required":"yes"`,
			"/questions/topics/required", "must be true or false"},
	} {
		document := strings.Replace(around, c.old, c.new, 1)
		require.NotEqual(t, around, document, name)
		_, err := quiz.Read([]byte(document))
		var p quiz.Problem
		if assert.ErrorAs(t, err, &p, name) {
			assert.Equal(t, quiz.Pointer(c.at), p.Pointer, name)
			assert.Contains(t, p.Message, c.says, name)
		}
		assert.Error(t, valid(t, s, []byte(document)), name)
	}
	_, err := quiz.Read([]byte("{\n\"format\": \"x\",\n,}"))
	assert.ErrorContains(t, err, "at line 3")
	_, err = quiz.Read([]byte(around + "{}"))
	assert.ErrorContains(t, err, "more after its end")
}
