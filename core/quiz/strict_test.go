package quiz_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// What RFC 8259 leaves to its readers is settled: refused, with its place.
func TestReadingTakesNoLiberties(t *testing.T) {
	m := quiztest.New("only")
	m.Ask("crop", quiz.Single, "apples", "pears")
	document := string(m.Write())
	_, err := quiz.Read([]byte("\ufeff" + document))
	require.NoError(t, err, "a byte order mark is passed over")
	for name, one := range map[string]struct{ from, to, pointer, says string }{
		"a key twice": {`"label": "apples"`, `"label": "apples", "label": "plums"`,
			"/questions/crop/answers/apples/label", `the key "label" is there twice`},
		"a question twice": {`"scales": {}`, `"scales": {"a/b": 1, "a/b": 2}`, "/scales/a~1b", "is there twice"},
		"Latin-1": {`"label": "apples"`, "\"label\": \"\xe4pfel\"",
			"/questions/crop/answers/apples/label", "is not UTF-8"},
		"NUL":            {`"label": "apples"`, `"label": "ap\u0000les"`, "/questions/crop/answers/apples/label", "NUL"},
		"half a pair":    {`"label": "apples"`, `"label": "ap\ud83dles"`, "/questions/crop/answers/apples/label", `\ud83d`},
		"the other half": {`"label": "apples"`, `"label": "ap\udc1dles"`, "/questions/crop/answers/apples/label", `\udc1d`},
		"a version": {quiz.Format, "omphalos/quiz@2", "/format",
			`is "omphalos/quiz@2"; the versions that can be read are: omphalos/quiz@1`},
		"too deep": {`"scales": {}`, `"scales": ` + strings.Repeat("[", 200) + strings.Repeat("]", 200), "",
			"is nested more than 100 deep"},
		"an early end": {document[len(document)-3:], "", "", "it ends too early"},
	} {
		changed := strings.Replace(document, one.from, one.to, 1)
		require.NotEqual(t, document, changed, name)
		_, err := quiz.Read([]byte(changed))
		var p quiz.Problem
		require.ErrorAs(t, err, &p, name)
		assert.Contains(t, p.Message, one.says, name)
		if one.pointer != "" {
			assert.Equal(t, quiz.Pointer(one.pointer), p.Pointer, name)
		}
	}
	_, err = quiz.Read(
		[]byte(strings.Replace(document, `"label": "apples"`, `"label": "\ud83d\udc1d \\u0000 bees"`, 1)),
	)
	assert.NoError(t, err, "a whole pair, and a backslash before what is no escape")
}
