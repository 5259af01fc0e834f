package quiz_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// sound is a quiz without problems that has something of everything.
func sound() quiztest.Maker {
	m := quiztest.New("a", "b")
	m.Scale("points", quiz.Sum)
	m.Scale("share", quiz.Percent)
	m.Scale("both", quiz.Formula).Formula = "points + area"
	m.Ask("crop", quiz.Single, "apples points=1", "pears")
	m.Ask("topics", quiz.Several, "price", "care").Picks = &quiz.Picks{Max: 2}
	m.Ask("habits", quiz.Grid, "never", "often").Rows = map[string]*quiz.Row{"mow": {Label: "mow"}}
	m.Ask("area", quiz.Number)
	m.Ask("when", quiz.Date)
	m.Ask("place", quiz.Location).Table = "yards"
	m.Bands("points", "a", "3=b")
	m.Contact = &quiz.Contact{
		Place:  quiz.AfterResult,
		Fields: map[string]*quiz.Question{"mail": {Kind: quiz.Email, Label: "E-mail"}},
	}
	return m
}

// Each thing that can be wrong is found at its place and said in words; what is
// wrong in itself is kept out of drafts.
func TestCheck(t *testing.T) {
	require.Empty(t, sound().Check())
	for _, c := range []struct {
		at, value string // what is put where
		pointer   string
		says      string
		refused   bool
	}{
		{"/title", `""`, "/title", "has no title", false},
		{"/title", `"` + strings.Repeat("x", 201) + `"`, "/title", "has 201 characters; at most 200 fit", true},
		{"/questions", `{}`, "/questions", "asks nothing yet", false},
		{"/pace", `"slow"`, "/pace", `is "slow", and must be one of: question, section, page`, true},
		{"/settings", `{"language":"klingonese"}`, "/settings/language", "not a language tag", true},
		{"/settings", `{"frames":["https://example.org/page"]}`, "/settings/frames", "without a path", true},
		{"/settings", `{"frames":["https://*"]}`, "/settings/frames", "is not the beginning of an address", true},
		{"/settings", `{"frames":["javascript:alert"]}`, "/settings/frames", "is not the beginning of an address", true},
		{"/look", `{"ink":"red"}`, "/look/ink", "not a colour such as", true},
		{"/look", `{"logo":{"source":"javascript:1"}}`, "/look/logo/source", "must start with https://", true},
		{"/questions/Crop", `{"order":1,"section":"main","kind":"shorttext","label":"x"}`, "/questions/Crop",
			"must start with a small letter", true},
		{"/questions/outcome", `{"order":1,"section":"main","kind":"shorttext","label":"x"}`,
			"/questions/outcome", "has a meaning of its own", true},
		{"/questions/points", `{"order":1,"section":"main","kind":"shorttext","label":"x"}`, "/scales/points",
			"is a question's, too", true},
		{"/questions/crop/kind", `"riddle"`, "/questions/crop/kind", "no kind of question", true},
		{"/questions/crop/section", `"gone"`, "/questions/crop/section", "does not exist", false},
		{"/questions/crop/label", `" "`, "/questions/crop/label", "has no words yet", false},
		{"/questions/crop/help", `"{weather}"`, "/questions/crop/help", "{weather} stands for nothing", false},
		{"/questions/crop/answers", `{}`, "/questions/crop/answers", "has no answers yet", false},
		{"/questions/crop/limits", `{"low":1}`, "/questions/crop/limits", "has no limits", true},
		{"/questions/area/answers", `{"x":{"order":1,"label":"x"}}`, "/questions/area/answers", "lists no answers", true},
		{"/questions/crop/answers/apples/adds", `{"gone":1}`, "/questions/crop/answers/apples/adds/gone",
			"does not exist", false},
		{"/questions/crop/answers/apples/adds", `{"both":1}`, "/questions/crop/answers/apples/adds/both",
			"nothing can be added to it", false},
		{"/questions/crop/answers/apples/adds", `{"points":2000000000}`,
			"/questions/crop/answers/apples/adds/points", "a thousand million", true},
		{"/questions/area/then", `{"x":{"order":1,"go":"question","to":"crop"}}`, "/questions/area/then/x/to",
			"only goes forward", false},
		{"/questions/crop/answers/apples/then", `{"go":"question","to":"gone"}`,
			"/questions/crop/answers/apples/then/to", "does not exist", false},
		{"/questions/crop/answers/apples/then", `{"go":"section","to":"main"}`,
			"/questions/crop/answers/apples/then/to", "only goes forward", false},
		{"/questions/crop/answers/apples/then", `{"go":"part"}`, "/questions/crop/answers/apples/then/to",
			"no outcome yet", false},
		{"/questions/crop/answers/apples/then", `{"go":"away"}`, "/questions/crop/answers/apples/then/go",
			"must be one of", true},
		{"/questions/topics/picks", `{"min":3}`, "/questions/topics/picks/min", "asks for 3 picks of 2", false},
		{"/questions/topics/picks", `{"min":2,"max":1}`, "/questions/topics/picks", "can't both be", true},
		{"/questions/topics/cap", `{"points":0}`, "/questions/topics/cap/points", "more than 0", true},
		{"/questions/habits/rows", `{}`, "/questions/habits/rows", "has no rows yet", false},
		{"/questions/habits/rows/mow/adds", `{"gone":{"points":1}}`, "/questions/habits/rows/mow/adds/gone",
			"has no column", false},
		{"/questions/area/limits", `{"low":5,"high":1}`, "/questions/area/limits", "is above the highest", true},
		{"/questions/area/limits", `{"low":"2026-01-01"}`, "/questions/area/limits/low", "must be a number", true},
		{"/questions/area/weigh", `{"points":{}}`, "/questions/area/weigh/points", "a factor or brackets", false},
		{"/questions/area/weigh", `{"points":{"factor":1,"reversed":true}}`, "/questions/area/weigh/points",
			"needs its lowest and its highest", false},
		{"/questions/area/weigh", `{"share":{"factor":1}}`, "/questions/area/weigh/share",
			"needs the lowest and the highest", false},
		{"/questions/area/weigh", `{"points":{"brackets":{"a":{"from":1,"adds":1},"b":{"from":1,"adds":2}}}}`,
			"/questions/area/weigh/points/brackets/b", "start at the same place", true},
		{"/questions/when/weigh", `{"points":{"factor":1}}`, "/questions/when/weigh/points/factor",
			"weighs by brackets", true},
		{"/questions/place/table", `""`, "/questions/place/table", "needs its table", false},
		{"/questions/crop/showWhen", `{"answer":"area","op":"is answered"}`, "/questions/crop/showWhen/answer",
			"is not asked before", false},
		{"/questions/area/showWhen", `{"answer":"mail","op":"is answered"}`, "/questions/area/showWhen/answer",
			"part of the contact section", false},
		{"/questions/area/showWhen", `{"outcome":true,"op":"is","value":"a"}`,
			"/questions/area/showWhen/outcome", "not known here yet", true},
		{"/questions/area/showWhen", `{"answer":"habits","op":"is answered"}`,
			"/questions/area/showWhen/answer", "by a row", false},
		{"/questions/area/showWhen", `{"answer":"crop","op":"at least","value":1}`,
			"/questions/area/showWhen/op", "does not fit answers that are chosen", false},
		{"/questions/area/showWhen", `{"answer":"crop","op":"is","value":"plums"}`,
			"/questions/area/showWhen/value", `has no answer "plums"`, false},
		{"/questions/area/showWhen", `{"scale":"points","op":"at least","value":"many"}`,
			"/questions/area/showWhen/value", "is not a number", true},
		{"/questions/area/showWhen", `{"scale":"points","op":"between","value":[1]}`,
			"/questions/area/showWhen/value", "needs two ends", true},
		{"/questions/area/showWhen", `{"visitor":"shoe","op":"is","value":"9"}`,
			"/questions/area/showWhen/visitor", "no fact of a visitor", true},
		{"/questions/area/showWhen", `{"all":[],"any":[]}`, "/questions/area/showWhen", "one of them at a time", true},
		{"/questions/area/showWhen", `{"all":[]}`, "/questions/area/showWhen/all", "nothing in it yet", false},
		{"/questions/area/showWhen", `{"answer":"crop","op":"is"}`, "/questions/area/showWhen",
			"nothing to compare with yet", false},
		{"/questions/area/showWhen", strings.Repeat(`{"all":[`, 25) + `{"scale":"points","op":"is","value":1}` +
			strings.Repeat("]}", 25), "/questions/area/showWhen" + strings.Repeat("/all/0", 21), "at most 20 deep", true},
		{"/scales/points/name", `""`, "/scales/points/name", "has no name", false},
		{"/scales/points/decimals", `5`, "/scales/points/decimals", "0 to 4 decimals", true},
		{"/scales/points/kind", `"money"`, "/scales/points/currency", "not a currency code", true},
		{"/scales/points/kind", `"pull"`, "/scales/points/outcome", "of no outcome", false},
		{"/scales/both/formula", `"points +"`, "/scales/both/formula", "at character 8", false},
		{"/scales/both/formula", `"both * 2"`, "/scales/both/formula", "needs its own value", false},
		{"/decision/otherwise", `""`, "/decision/otherwise", "say which outcome", false},
		{"/decision/steps/step_a/scale", `"gone"`, "/decision/steps/step_a/scale", "does not exist", false},
		{"/decision/steps/step_a/cuts/x", `{"at":3}`, "/decision/steps/step_a/cuts/x/at", "two cuts at 3", true},
		{"/decision/steps/x", `{"order":9,"kind":"rule","when":{"scale":"points","op":"is","value":1}}`,
			"/decision/steps/x/outcome", "no outcome yet", false},
		{"/decision/steps/x", `{"order":9,"kind":"leader","contenders":{"points":{"order":1,"outcome":"a"}}}`,
			"/decision/steps/x/contenders", "at least two", false},
		{"/decision/steps/x",
			`{"order":9,"kind":"table","rules":{"r":{"order":1,"outcome":"a","cells":{"gone":{"op":"is","value":"x"}}}}}`, "/decision/steps/x/rules/r/cells/gone", "no column", false},
		{"/contact/fields/area", `{"order":1,"kind":"name","label":"x"}`, "/contact/fields/area",
			"is a question's, too", true},
		{"/contact/fields/x", `{"order":1,"kind":"single","label":"x"}`, "/contact/fields/x/kind",
			"must be name, email", true},
		{"/contact/privacy", `"privacy.html"`, "/contact/privacy", "must start with https://", true},
		{"/outcomes/a/landings", `{}`, "/outcomes/a/landings", "lands nowhere", false},
		{"/outcomes/a/landings/page/when", `{"scale":"points","op":"is","value":1}`,
			"/outcomes/a/landings/page/when", "must have no condition", false},
		{"/outcomes/a/landings/page", `{"order":1,"kind":"redirect"}`, "/outcomes/a/landings/page/address",
			"has no address yet", false},
		{"/outcomes/a/landings/page", `{"order":1,"kind":"redirect","address":"ftp://x.example"}`,
			"/outcomes/a/landings/page/address", "must start with https://", true},
		{"/outcomes/a/landings/page", `{"order":1,"kind":"redirect","address":"https://x.example/{weather}"}`,
			"/outcomes/a/landings/page/address", "stands for nothing", false},
		{"/outcomes/a/landings/page", `{"order":1,"kind":"redirect","address":"https://x.example","after":31}`,
			"/outcomes/a/landings/page/after", "0 to 30 seconds", true},
		{"/outcomes/a/landings/page", `{"order":1,"kind":"products"}`, "/outcomes/a/landings/page/products",
			"no products yet", false},
		{"/outcomes/a/landings/page/blocks", `{"x":{"order":1,"kind":"bill","scale":"points"}}`,
			"/outcomes/a/landings/page/blocks/x/scale", "kind money", false},
		{"/outcomes/a/showScore", `"gone"`, "/outcomes/a/showScore", "does not exist", false},
	} {
		q, err := quiz.Read(put(t, sound().Write(), c.at, c.value))
		require.NoError(t, err, "%s = %s", c.at, c.value)
		var found []quiz.Problem
		for _, p := range q.Check() {
			if p.Pointer == quiz.Pointer(c.pointer) && strings.Contains(p.Message, c.says) {
				found = append(found, p)
			}
		}
		if assert.Len(t, found, 1, "%s = %s gives %v", c.at, c.value, q.Check()) {
			assert.Equal(t, c.refused, found[0].Refuse, "%s = %s", c.at, c.value)
			assert.NotEmpty(t, found[0].Code)
		}
	}
}

// put returns the document with a value at a pointer.
func put(t *testing.T, document []byte, pointer, value string) []byte {
	t.Helper()
	var tree map[string]any
	require.NoError(t, json.Unmarshal(document, &tree))
	here := tree
	parts := strings.Split(pointer, "/")[1:]
	for _, part := range parts[:len(parts)-1] {
		if here[part] == nil {
			here[part] = map[string]any{}
		}
		here = here[part].(map[string]any)
	}
	here[parts[len(parts)-1]] = json.RawMessage(value)
	data, err := json.Marshal(tree)
	require.NoError(t, err)
	return data
}
