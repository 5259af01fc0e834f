package store

import (
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
		packed := pack(scores, answers)
		s, a, err := unpack(packed)
		require.NoError(t, err)
		assert.True(t, slices.Equal(scores, s) && slices.Equal(answers, a))
		if len(packed) > 3 {
			_, _, err = unpack(packed[:rapid.IntRange(1, len(packed)-1).Draw(t, "cut")])
			assert.ErrorIs(t, err, errPacked)
		}
	})
	_, _, err := unpack([]byte{9})
	assert.ErrorIs(t, err, errPacked)
}

// The first version, as it is on disks.
func TestThePackedForm(t *testing.T) {
	kept := "\x01\x01\x06points\x80\x89\x7a\x02\x04crop\x00\x06apples\x00\x04rows\x01r\x01e\x03own"
	scores, answers, err := unpack([]byte(kept))
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
	assert.Equal(t, kept, string(pack(scores, answers)))
}

func FuzzUnpack(f *testing.F) {
	f.Add(pack([]ResponseScore{{"points", decimal.One}}, []ResponseAnswer{{"crop", "", "apples", ""}}))
	f.Fuzz(func(t *testing.T, packed []byte) {
		scores, answers, err := unpack(packed)
		if err == nil && len(packed) > 0 {
			again, _, err := unpack(pack(scores, answers))
			require.NoError(t, err)
			assert.Equal(t, scores, again)
		}
	})
}
