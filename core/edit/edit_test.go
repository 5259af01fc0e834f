package edit

import (
	"encoding/json"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
)

// Examples of RFC 6902, appendix A, by their numbers; values from memory of
// the RFC. An empty result is an error.
func TestExamplesOfTheRFC(t *testing.T) {
	for _, c := range []struct{ section, document, patch, result string }{
		{"A.1 adding an object member", `{"foo":"bar"}`, `[{"op":"add","path":"/baz","value":"qux"}]`,
			`{"baz":"qux","foo":"bar"}`},
		{"A.2 adding an array element", `{"foo":["bar","baz"]}`, `[{"op":"add","path":"/foo/1","value":"qux"}]`,
			`{"foo":["bar","qux","baz"]}`},
		{"A.3 removing an object member", `{"baz":"qux","foo":"bar"}`, `[{"op":"remove","path":"/baz"}]`, `{"foo":"bar"}`},
		{"A.4 removing an array element", `{"foo":["bar","qux","baz"]}`, `[{"op":"remove","path":"/foo/1"}]`,
			`{"foo":["bar","baz"]}`},
		{"A.5 replacing a value", `{"baz":"qux","foo":"bar"}`, `[{"op":"replace","path":"/baz","value":"boo"}]`,
			`{"baz":"boo","foo":"bar"}`},
		{"A.6 moving a value", `{"foo":{"bar":"baz","waldo":"fred"},"qux":{"corge":"grault"}}`,
			`[{"op":"move","from":"/foo/waldo","path":"/qux/thud"}]`,
			`{"foo":{"bar":"baz"},"qux":{"corge":"grault","thud":"fred"}}`},
		{"A.7 moving an array element", `{"foo":["all","grass","cows","eat"]}`,
			`[{"op":"move","from":"/foo/1","path":"/foo/3"}]`, `{"foo":["all","cows","eat","grass"]}`},
		{"A.8 testing a value: success", `{"baz":"qux","foo":["a",2,"c"]}`,
			`[{"op":"test","path":"/baz","value":"qux"},{"op":"test","path":"/foo/1","value":2}]`,
			`{"baz":"qux","foo":["a",2,"c"]}`},
		{"A.9 testing a value: error", `{"baz":"qux"}`, `[{"op":"test","path":"/baz","value":"bar"}]`, ``},
		{"A.10 adding a nested member object", `{"foo":"bar"}`,
			`[{"op":"add","path":"/child","value":{"grandchild":{}}}]`, `{"foo":"bar","child":{"grandchild":{}}}`},
		{"A.11 ignoring unrecognized elements", `{"foo":"bar"}`,
			`[{"op":"add","path":"/baz","value":"qux","xyz":123}]`, `{"foo":"bar","baz":"qux"}`},
		{"A.12 adding to a nonexistent target", `{"foo":"bar"}`, `[{"op":"add","path":"/baz/bat","value":"qux"}]`, ``},
		{"A.14 ~ escape ordering", `{"/":9,"~1":10}`, `[{"op":"test","path":"/~01","value":10}]`, `{"/":9,"~1":10}`},
		{"A.15 comparing strings and numbers", `{"/":9,"~1":10}`, `[{"op":"test","path":"/~01","value":"10"}]`, ``},
		{"A.16 adding an array value", `{"foo":["bar"]}`,
			`[{"op":"add","path":"/foo/-","value":["abc","def"]}]`, `{"foo":["bar",["abc","def"]]}`},
	} {
		var result []byte
		r, err := readPatch([]byte(c.patch))
		if err == nil {
			result, err = r.applyTo([]byte(c.document), false)
		}
		if c.result == "" {
			assert.Error(t, err, c.section)
			continue
		}
		if assert.NoError(t, err, c.section) {
			assert.JSONEq(t, c.result, string(result), c.section)
		}
	}
}

func orchard(t *testing.T) []byte {
	t.Helper()
	data, err := os.ReadFile("../../cmd/omphalos/demo/orchard.json")
	require.NoError(t, err)
	q, err := quiz.Read(data)
	require.NoError(t, err)
	return q.Write()
}

func do(t *testing.T, document []byte, a Act) (*Change, quiz.Pointer) {
	t.Helper()
	patch, made, err := Patch(a, document)
	require.NoError(t, err)
	c, err := Apply(document, patch)
	require.NoError(t, err)
	back, err := Apply(c.Document, c.Inverse)
	require.NoError(t, err)
	assert.JSONEq(t, string(document), string(back.Document), "the inverse leads back")
	return c, made
}

func TestActs(t *testing.T) {
	for _, c := range []struct {
		name     string
		act      Act
		sentence string
		check    func(t *testing.T, q *quiz.Quiz, made quiz.Pointer)
	}{
		{"a question behind another", Add{Path: "/questions", Beside: Beside{After: "crop"}},
			"Added the question {question_7}", func(t *testing.T, q *quiz.Quiz, made quiz.Pointer) {
				assert.EqualValues(t, "/questions/question_7", made)
				assert.Equal(t, []string{"crop", "question_7", "size"}, q.QuestionKeys()[:3])
				assert.Len(t, q.Questions["question_7"].Answers, 2)
			}},
		{"an answer first", Add{Path: "/questions/size/answers", Beside: Beside{Before: "small"}},
			"Added the answer {answer_4}", func(t *testing.T, q *quiz.Quiz, _ quiz.Pointer) {
				assert.Equal(t, []string{"answer_4", "small", "middle", "large"}, quiz.InOrder(q.Questions["size"].Answers))
			}},
		{"a moved outcome", Move{Path: "/outcomes/not_yet", Beside: Beside{Before: "walk"}},
			"Moved “Not this season”", func(t *testing.T, q *quiz.Quiz, _ quiz.Pointer) {
				assert.Equal(t, "A", q.Letter("not_yet"))
			}},
		{"a copied question", Copy{Path: "/questions/crop"}, "Added the question “What do you grow?”",
			func(t *testing.T, q *quiz.Quiz, _ quiz.Pointer) {
				twin := q.Questions[q.QuestionKeys()[1]]
				assert.Equal(t, q.Questions["crop"].Answers, twin.Answers)
			}},
		{"a deleted outcome opens its bands", Remove{Path: "/outcomes/not_yet"},
			"Deleted the outcome “Not this season”", func(t *testing.T, q *quiz.Quiz, _ quiz.Pointer) {
				assert.Empty(t, q.Decision.Otherwise)
				assert.Empty(t, q.Decision.Steps["bands"].Lowest)
			}},
		{"a cut above the others", Add{Path: "/decision/steps/bands/cuts"}, "Changed the decision",
			func(t *testing.T, q *quiz.Quiz, _ quiz.Pointer) {
				s := q.Decision.Steps["bands"]
				assert.Equal(t, "19", s.Cuts[s.CutKeys()[2]].At.String())
			}},
		{"a call to action", Add{Path: "/outcomes/walk/landings/booking/blocks"},
			"Added the block “Walk the rows together”", func(t *testing.T, q *quiz.Quiz, _ quiz.Pointer) {
				assert.Len(t, q.Outcomes["walk"].Landings["booking"].Blocks, 1)
			}},
	} {
		t.Run(c.name, func(t *testing.T) {
			change, made := do(t, orchard(t), c.act)
			assert.Equal(t, c.sentence, change.Sentence)
			c.check(t, change.After, made)
		})
	}
}

// Ten lines become ten answers, where they were pasted; numbers behind tabs weigh.
func TestLinesBecomeAnswers(t *testing.T) {
	c, _ := do(
		t,
		orchard(t),
		Lines{Path: "/questions/crop/answers", After: "apples", Label: "Figs\t+2,5\r\n\n Nuts \nVines\tmany"},
	)
	q := c.After.Questions["crop"]
	var labels []string
	for _, k := range quiz.InOrder(q.Answers) {
		labels = append(labels, q.Answers[k].Label)
	}
	assert.Equal(
		t,
		[]string{"Apples or pears", "Figs", "Nuts", "Vines", "Cherries or plums", "Berries", "Nothing that bees visit"},
		labels,
	)
	assert.Equal(t, "2.5", q.Answers["answer_5"].Adds["readiness"].String())
	assert.Empty(t, q.Answers["answer_7"].Adds, "what is no number weighs nothing")

	c, made := do(t, orchard(t), Add{Path: "/questions/crop/answers"})
	c, _ = do(t, c.Document, Lines{Path: "/questions/crop/answers", After: made.Key(), Label: "One\nTwo"})
	assert.Len(t, c.After.Questions["crop"].Answers, 6, "the empty answer takes the first line")
	_, _, err := Patch(Lines{Path: "/questions/crop/answers", Label: " \n"}, orchard(t))
	assert.ErrorIs(t, err, ErrAct)
}

// Questions move between sections, and out of one that goes; the last can't go.
func TestSections(t *testing.T) {
	c, made := do(t, orchard(t), Add{Path: "/sections", Label: "About you"})
	key := made.Key()
	c, _ = do(t, c.Document, Move{Path: "/questions/crop", Into: key})
	assert.Equal(t, "crop", c.After.QuestionKeys()[5])
	c, _ = do(t, c.Document, Remove{Path: made})
	assert.Equal(t, "main", c.After.Questions["crop"].Section)
	_, _, err := Patch(Remove{Path: "/sections/main"}, c.Document)
	assert.ErrorIs(t, err, ErrAct)
	_, _, err = Patch(Move{Path: "/questions/crop", Into: "gone"}, c.Document)
	assert.ErrorIs(t, err, ErrAct)
}

// A scale that goes takes along what was added to it.
func TestDeletingAScale(t *testing.T) {
	c, _ := do(t, orchard(t), Remove{Path: "/scales/readiness"})
	assert.Equal(t, "Deleted the scale Readiness", c.Sentence)
	for _, q := range c.After.Questions {
		for _, a := range q.Answers {
			assert.Empty(t, a.Adds)
		}
	}
}

// However often something is put into the same place, there is room for it.
func TestThereIsAlwaysRoomBetween(t *testing.T) {
	document := orchard(t)
	var last quiz.Pointer
	for range 80 {
		c, made := do(t, document, Add{Path: "/questions/crop/answers", Beside: Beside{After: "apples"}})
		keys := quiz.InOrder(c.After.Questions["crop"].Answers)
		assert.Equal(t, "apples", keys[0])
		assert.Equal(t, quiz.At("questions", "crop", "answers", keys[1]), made)
		if last != "" {
			assert.Equal(t, last, quiz.At("questions", "crop", "answers", keys[2]))
		}
		document, last = c.Document, made
	}
}

func TestSentencesOfEdits(t *testing.T) {
	for patch, want := range map[string]string{
		`[{"op":"add","path":"/questions/bloom/answers/soon/adds/readiness","value":8}]`: "Readiness of “In the next four weeks” +5 → +8",
		`[{"op":"remove","path":"/questions/hives/answers/enough/adds/readiness"}]`:      "Readiness of “Enough” −1 → none",
		`[{"op":"add","path":"/decision/steps/bands/cuts/hot/at","value":20}]`:           "Cut of Readiness 18 → 20",
		`[{"op":"add","path":"/outcomes/plan/headline","value":"Soon"}]`:                 "Headline of “Plan it with us” is now “Soon”",
		`[{"op":"add","path":"/questions/crop/required","value":false}]`:                 "“What do you grow?” may be passed by now",
		`[{"op":"add","path":"/questions/crop/required","value":true}]`:                  "“What do you grow?” must be answered now",
		`[{"op":"add","path":"/look","value":{"made":"night"}}]`:                         "Dressed in the look “night”",
		`[{"op":"add","path":"/look","value":{"owner":"Quillbrook"}}]`:                   "Changed the look",
		`[{"op":"add","path":"/title","value":"Bees"}]`:                                  "Title is now “Bees”",
	} {
		c, err := Apply(orchard(t), []byte(patch))
		require.NoError(t, err)
		assert.Equal(t, want, c.Sentence)
	}
}

func TestPatchesThatAreRefused(t *testing.T) {
	document := orchard(t)
	for patch, want := range map[string]error{
		`{}`: ErrPatch, `[{"op":"add"}`: ErrPatch, `[{"op":"grow","path":"/title"}]`: ErrPatch,
		`[{"op":"test","path":"/title","value":"other"}]`: ErrTarget,
	} {
		_, err := Apply(document, []byte(patch))
		assert.ErrorIs(t, err, want, patch)
	}
	var refused *Refused
	_, err := Apply(
		document,
		[]byte(`[{"op":"add","path":"/outcomes/walk/landings/booking/address","value":"ftp://x.example/"}]`),
	)
	require.ErrorAs(t, err, &refused)
	assert.EqualValues(t, "/outcomes/walk/landings/booking/address", refused.Problems[0].Pointer)
	_, err = ReadAct([]byte(`{"do": "fly", "path": "/questions"}`))
	assert.ErrorIs(t, err, ErrAct)
	_, err = ReadAct([]byte(`{"do": `))
	assert.Error(t, err)
	for _, a := range []Act{Add{Path: "/title"}, Copy{Path: "/questions/gone"}, Remove{Path: "/scales"}} {
		_, _, err := Patch(a, document)
		assert.ErrorIs(t, err, ErrAct)
	}
	op, err := json.Marshal(Op{Op: "add", Path: "/x", Value: false})
	require.NoError(t, err)
	assert.JSONEq(t, `{"op":"add","path":"/x","value":false}`, string(op))
}

// A question of another quiz comes along with what fits this one: weights on scales
// that are here, and nothing that leads elsewhere.
func TestReuse(t *testing.T) {
	from, err := quiz.Read(orchard(t))
	require.NoError(t, err)
	from.Questions["crop"].Answers["apples"].Then = &quiz.Then{Go: quiz.Decide}
	from.Questions["crop"].ShowWhen = &quiz.Condition{Subject: quiz.Subject{Scale: "readiness"}}
	patch, path, err := Reuse(orchard(t), from, "crop")
	require.NoError(t, err)
	c, err := Apply(orchard(t), patch)
	require.NoError(t, err)
	assert.EqualValues(t, "/questions/crop_7", path)
	q := c.After.Questions["crop_7"]
	assert.Equal(t, "4", q.Answers["apples"].Adds["readiness"].String())
	assert.Nil(t, q.Answers["apples"].Then)
	assert.Nil(t, q.ShowWhen)
	assert.Equal(t, "crop_7", c.After.QuestionKeys()[6], "it is the last")

	bare, err := Apply(
		orchard(t),
		[]byte(`[{"op":"replace","path":"/scales","value":{"other":{"order":1,"name":"Other","kind":"points"}}}]`),
	)
	require.NoError(t, err)
	patch, _, err = Reuse(bare.Document, from, "crop")
	require.NoError(t, err)
	c, err = Apply(bare.Document, patch)
	require.NoError(t, err)
	assert.Empty(t, c.After.Questions["crop_7"].Answers["apples"].Adds)
	_, _, err = Reuse(orchard(t), from, "gone")
	assert.ErrorIs(t, err, ErrAct)
}

// Several questions are moved, copied and deleted as a block, in order, as one edit.
func TestBlocks(t *testing.T) {
	before, err := quiz.Read(orchard(t))
	require.NoError(t, err)
	keys := before.QuestionKeys()
	block := []quiz.Pointer{quiz.At("questions", keys[0]), quiz.At("questions", keys[1])}

	c, _ := do(t, orchard(t), Move{Paths: block, Beside: Beside{After: keys[3]}})
	assert.Equal(t, []string{keys[2], keys[3], keys[0], keys[1]}, c.After.QuestionKeys()[:4])
	assert.Equal(t, "Moved 2 questions", c.Sentence)
	back, err := Apply(c.Document, c.Inverse)
	require.NoError(t, err)
	assert.Equal(t, keys, back.After.QuestionKeys())

	c, _ = do(t, orchard(t), Move{Paths: block[1:], Beside: Beside{Before: keys[0]}})
	assert.Equal(t, []string{keys[1], keys[0]}, c.After.QuestionKeys()[:2])

	c, made := do(t, orchard(t), Copy{Paths: block})
	now := c.After.QuestionKeys()
	require.Len(t, now, len(keys)+2)
	assert.Equal(t, keys[:2], now[:2])
	assert.EqualValues(t, made, "/questions/"+now[2])
	for i := range 2 {
		assert.Equal(t, c.After.Questions[keys[i]].Label, c.After.Questions[now[2+i]].Label)
	}
	assert.Equal(t, "Added 2 questions", c.Sentence)

	c, _ = do(t, orchard(t), Remove{Paths: block})
	assert.Equal(t, keys[2:], c.After.QuestionKeys())
	assert.Equal(t, "Deleted 2 questions", c.Sentence)

	several, err := ReadAct([]byte(`{"do": "turn", "paths": ["/questions/crop", "/questions/size"]}`))
	require.NoError(t, err)
	_, _, err = Patch(several, orchard(t))
	assert.ErrorIs(t, err, ErrAct)
}
