package edit

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
)

// A patch that stays in one question does the same as one that is applied to all the
// document: it is made one of the latter by a test of the title, which holds.
func TestAnEditWithinAQuestionIsAnEditOfTheDocument(t *testing.T) {
	t.Parallel()
	document := orchard(t)
	q, err := quiz.Read(document)
	require.NoError(t, err)
	tests, err := json.Marshal(Op{Op: "test", Path: "/title", Value: q.Title})
	require.NoError(t, err)
	var tree any
	require.NoError(t, json.Unmarshal(document, &tree))
	questions, _ := quiz.Pointer("/questions").In(tree)
	kept, refused := 0, 0
	for _, patch := range everyPatch("/questions", questions) {
		one, err := Apply(document, []byte("["+patch+"]"))
		all, wrong := Apply(document, []byte("["+string(tests)+","+patch+"]"))
		if wrong != nil {
			require.Error(t, err, patch)
			refused++
			if r, is := wrong.(*Refused); is {
				require.Equal(t, r, err, patch)
				continue
			}
			require.ErrorIs(t, err, ErrTarget, patch)
			continue
		}
		kept++
		require.NoError(t, err, patch)
		require.Equal(t, string(all.Document), string(one.Document), patch)
		require.Equal(t, all.Problems, one.Problems, patch)
		require.JSONEq(t, string(all.Inverse), string(one.Inverse), patch)
		back, err := Apply(one.Document, one.Inverse)
		require.NoError(t, err, patch)
		require.Equal(t, string(q.Write()), string(back.Document), "back from "+patch)
	}
	assert.Greater(t, kept, 300)
	assert.Greater(t, refused, 500)
	after, err := quiz.Read(document)
	require.NoError(t, err)
	assert.Equal(t, after, q, "what was there before is as it was")
}

// everyPatch lists operations at and below a place: each value taken away, made another, and
// brought elsewhere.
func everyPatch(at quiz.Pointer, value any) []string {
	var list []string
	object, _ := value.(map[string]any)
	for i, key := range slices.Sorted(maps.Keys(object)) {
		inside := at.Join(key)
		list = append(list, everyPatch(inside, object[key])...)
		if len(inside.Keys()) < 3 {
			continue
		}
		path := strconv.Quote(string(inside))
		list = append(list, `{"op":"remove","path":`+path+`}`, `{"op":"remove","path":`+strconv.Quote(string(inside)+"x")+`}`)
		for _, other := range []string{`"other"`, `7`, `-0.25`, `null`, `true`, `{}`, `[]`, `{"a":1,"a":2}`, `"\u0000"`} {
			op := []string{"add", "replace"}[i%2]
			list = append(list, fmt.Sprintf(`{"op":%q,"path":%s,"value":%s}`, op, path, other))
		}
		for _, op := range []string{"copy", "move"} {
			to := strconv.Quote(string(at.Join("fresh")))
			list = append(list, fmt.Sprintf(`{"op":%q,"from":%s,"path":%s}`, op, path, to))
		}
	}
	return list
}
