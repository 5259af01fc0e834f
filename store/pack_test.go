package store

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
)

// What is packed comes back, whatever it is; what is no packed value is refused.
func TestPackedAnswersComeBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		scores := make([]ResponseScore, rapid.IntRange(0, 5).Draw(t, "scores"))
		for i := range scores {
			scores[i] = ResponseScore{rapid.String().Draw(t, "scale"), decimal.Decimal(rapid.Int64().Draw(t, "score"))}
		}
		answers := make([]ResponseAnswer, rapid.IntRange(0, 20).Draw(t, "answers"))
		for i := range answers {
			answers[i] = ResponseAnswer{
				rapid.String().Draw(t, "question"),
				rapid.String().Draw(t, "row"),
				rapid.String().Draw(t, "answer"),
				rapid.String().Draw(t, "words"),
			}
		}
		var asked []Stop
		for i := range answers {
			answers[i].Question = fmt.Sprint(i, answers[i].Question)
			for k := range rapid.IntRange(0, 2).Draw(t, "skipped before") {
				asked = append(asked, Stop{fmt.Sprint("skipped", i, k), rapid.IntRange(-1, 1800).Draw(t, "seconds")})
			}
			asked = append(asked, Stop{answers[i].Question, rapid.IntRange(-1, 1800).Draw(t, "seconds")})
		}
		packed := pack(scores, answers, asked)
		s, a, stops, err := unpack(packed)
		require.NoError(t, err)
		assert.True(t, slices.Equal(scores, s) && slices.Equal(answers, a) && slices.Equal(asked, stops))
		if len(packed) > 4 {
			_, _, _, err = unpack(packed[:rapid.IntRange(1, len(packed)-1).Draw(t, "cut")])
			assert.ErrorIs(t, err, errPacked)
		}
	})
	_, _, _, err := unpack([]byte{9})
	assert.ErrorIs(t, err, errPacked)
}

// Both versions, as they are on disks.
func TestThePackedForm(t *testing.T) {
	kept := "\x01\x01\x06points\x80\x89\x7a\x02\x04crop\x00\x06apples\x00\x04rows\x01r\x01e\x03own"
	scores, answers, asked, err := unpack([]byte(kept))
	require.NoError(t, err)
	assert.Equal(t, []ResponseScore{{"points", decimal.One}}, scores)
	assert.Equal(
		t,
		[]ResponseAnswer{
			{Question: "crop", Answer: "apples"},
			{Question: "rows", Row: "r", Answer: "e", WriteIn: "own"},
		},
		answers,
	)
	assert.Equal(t, []Stop{{"crop", -1}, {"rows", -1}}, asked)
	now := "\x02" + kept[1:] + "\x08\x00\x01\x04soon\x01\x03"
	again, same, asked, err := unpack([]byte(now))
	require.NoError(t, err)
	assert.Equal(t, scores, again)
	assert.Equal(t, answers, same)
	assert.Equal(t, []Stop{{"crop", 7}, {"soon", 2}, {"rows", -1}}, asked)
	assert.Equal(t, now, string(pack(scores, answers, asked)))
}

func FuzzUnpack(f *testing.F) {
	f.Add(pack([]ResponseScore{{"points", decimal.One}}, []ResponseAnswer{{"crop", "", "apples", ""}},
		[]Stop{{"crop", 3}, {"soon", -1}}))
	f.Fuzz(func(t *testing.T, packed []byte) {
		scores, answers, asked, err := unpack(packed)
		if err == nil && len(packed) > 0 {
			again, _, _, err := unpack(pack(scores, answers, asked))
			require.NoError(t, err)
			assert.Equal(t, scores, again)
		}
	})
}
