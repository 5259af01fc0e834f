package edit

import (
	"maps"
	"os"
	"regexp"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/core/starter"
)

// Every use of a key follows it: the quiz means what it meant, under other names.
func TestRenamed(t *testing.T) {
	kept, err := os.ReadFile("../quiz/testdata/2026-11-24.json")
	require.NoError(t, err)
	q, err := quiz.Read(kept)
	require.NoError(t, err)
	q.Contact = &quiz.Contact{Place: quiz.AfterResult, Text: "Dear {first_name}",
		Fields: map[string]*quiz.Question{"first_name": {Kind: quiz.Name, Label: "Name"}}}
	words := quiz.Translations{}
	for _, text := range q.Texts() {
		words[text.At] = quiz.Translated{Text: "Auf Deutsch: " + text.Words, Of: text.Words}
	}
	q.Translations = map[string]quiz.Translations{"de": words}
	document := q.Write()
	var paths []quiz.Pointer
	for key := range q.Questions {
		paths = append(paths, quiz.At("questions", key))
	}
	for key := range q.Scales {
		paths = append(paths, quiz.At("scales", key))
	}
	for key := range q.Contact.Fields {
		paths = append(paths, quiz.At("contact", "fields", key))
	}
	require.Greater(t, len(paths), 10)
	for _, path := range paths {
		list, key := path.Split()
		patch, made, err := Patch(Rename{Path: path, Key: "quite_another"}, document)
		require.NoError(t, err)
		assert.Equal(t, list.Join("quite_another"), made)
		c, err := Apply(document, patch)
		require.NoError(t, err, path)
		assert.Equal(t, "Renamed {"+key+"} to {quite_another}", c.Sentence)
		assert.Len(t, c.Problems, len(q.Check()), path)
		assert.NotContains(t, c.After.Filled(c.Document), key, path)
		left := regexp.MustCompile(`"(answer|scale|to|question)": ?"`+key+`"`).FindAllString(string(c.Document), -1)
		assert.Empty(t, left, path)
		missing, old := c.After.Gaps("de")
		assert.Zero(t, missing+old, path)
		back, err := Apply(c.Document, c.Inverse)
		require.NoError(t, err)
		assert.Equal(t, string(document), string(back.Document))
	}
	for _, wrong := range []Rename{{Path: paths[0], Key: paths[1].Key()}, {Path: paths[0], Key: paths[0].Key()},
		{Path: "/outcomes/x", Key: "y"}, {Path: "/questions/gone", Key: "y"}} {
		_, _, err := Patch(wrong, document)
		assert.ErrorIs(t, err, ErrAct, wrong)
	}
	patch, _, err := Patch(Rename{Path: paths[0], Key: "Not a key!"}, document)
	require.NoError(t, err)
	_, err = Apply(document, patch)
	var refused *Refused
	assert.ErrorAs(t, err, &refused)
}

// Keys are the first telling words. Common practice, no source.
func TestKeysOfWords(t *testing.T) {
	for label, want := range map[string]string{
		"How many hives?": "hives", "How many hives did you have last year?": "hives",
		"What do you grow?": "grow", "How large is the planted area, in hectares?": "large",
		"Who decides about it?": "decides",
		"Why?":                  "", "": "", "Äpfel oder Birnen?": "pfel", "Is it in or out": "", "Age": "age",
		"The sky at night": "sky_night_2",
	} {
		assert.Equal(t, want, wordsKey(label, map[string]any{"night": true, "sky_night": true}), label)
	}
	q := &quiz.Quiz{Questions: map[string]*quiz.Question{"hives": {Label: "How many hives?"},
		"question_3": {Label: "How many hives?"}, "own": {Label: "How many hives?"}, "hives_2": {Label: "How many hives?"}}}
	for key, want := range map[string]bool{"hives": true, "question_3": true, "own": false, "hives_2": true,
		"gone": false} {
		assert.Equal(t, want, Follows(q, key, map[string]bool{}), key)
	}
	assert.False(t, Follows(q, "hives", map[string]bool{"hives": true}), "a fill-in names it")
}

// How answers decide is laid out in one act, with nothing of another way left over.
func TestLaidOut(t *testing.T) {
	blank, err := starter.Make("blank", "Bees", "")
	require.NoError(t, err)
	for way, scales := range map[string][]string{ByPoints: {"points"}, ByRight: {"right"},
		ByKeywords: {"to_good_fit", "to_not_now"}, ByCloseness: {"to_good_fit", "to_not_now"}} {
		for _, before := range []string{"", ByPoints, ByKeywords, ByRight, ByCloseness} {
			document := blank.Write()
			for _, kind := range []string{before, way} {
				if kind == "" {
					continue
				}
				patch, _, err := Patch(Lay{Kind: kind}, document)
				require.NoError(t, err)
				c, err := Apply(document, patch)
				require.NoError(t, err)
				document = c.Document
			}
			q, err := quiz.Read(document)
			require.NoError(t, err)
			assert.Equal(t, scales, slices.Sorted(maps.Keys(q.Scales)), "%s after %s", way, before)
			assert.Len(t, q.Decision.Steps, 1)
			for _, p := range q.Check() {
				assert.Contains(t, string(p.Pointer), "/questions/", "nothing but the words is missing: %s", p)
			}
		}
	}
	// Closeness comes beside what weighs, and takes in outcomes that have come since.
	q := quiztest.New("walk", "plan")
	q.Scale("need", quiz.Sum)
	q.Ask("crop", quiz.Single, "apples need=1", "nothing")
	q.Bands("need", "walk", "1=plan")
	document := q.Write()
	for range 2 {
		patch, _, err := Patch(Lay{Kind: ByCloseness}, document)
		require.NoError(t, err)
		c, err := Apply(document, patch)
		require.NoError(t, err)
		document = c.Document
		_, _, err = Patch(Lay{Kind: ByPoints}, document)
		require.ErrorIs(t, err, ErrAct)
	}
	after, err := quiz.Read(document)
	require.NoError(t, err)
	assert.Equal(t, []string{"need", "to_plan", "to_walk"}, slices.Sorted(maps.Keys(after.Scales)))
	assert.Len(t, after.Decision.Steps, 2)
}

// A right answer counts where right answers are counted.
func TestMarked(t *testing.T) {
	blank, err := starter.Make("blank", "Bees", "")
	require.NoError(t, err)
	document := blank.Write()
	for i, act := range []Act{Lay{Kind: ByRight}, Mark{Path: "/questions/question_1/answers/answer_1"},
		Mark{Path: "/questions/question_1/answers/answer_1"}} {
		patch, _, err := Patch(act, document)
		require.NoError(t, err)
		c, err := Apply(document, patch)
		require.NoError(t, err)
		document = c.Document
		a := c.After.Questions["question_1"].Answers["answer_1"]
		assert.Equal(t, i == 1, a.Right)
		assert.Equal(t, i >= 1, a.Adds["right"] == decimal.One, "a mark counts 1; taken away, it leaves what is there")
	}
	typed, err := Apply(document, []byte(`[{"op":"add","path":"/questions/question_1/answers/answer_1/adds/right","value":10}]`))
	require.NoError(t, err)
	document = typed.Document
	for range 2 {
		patch, _, err := Patch(Mark{Path: "/questions/question_1/answers/answer_1"}, document)
		require.NoError(t, err)
		c, err := Apply(document, patch)
		require.NoError(t, err)
		document = c.Document
		assert.Equal(t, 10*decimal.One, c.After.Questions["question_1"].Answers["answer_1"].Adds["right"],
			"a number that somebody typed stays")
	}
}
