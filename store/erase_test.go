package store

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/passage"
)

// What is deleted is gone from every table and from the file; a trace says that it was, and
// numbers go on.
func TestResponsesAreDeleted(t *testing.T) {
	s, r := released(t)
	for _, name := range []string{"Ann", "Ben", "ann", "Cem"} {
		one := answered()
		one.Contacts = []Contact{{Field: "name", Value: name}, {Field: "mail", Value: name + "-quince@example.org"}}
		one.Consents = []Consent{{Field: "ok", Words: "You may write"}}
		_, err := s.Finish(Begin("", r, "quiz", passage.Visitor{}), given, one)
		require.NoError(t, err)
	}
	ben, err := s.Response(r.QuizID, 2)
	require.NoError(t, err)
	require.NoError(t, s.DeleteResponse(t.Context(), r.QuizID, 2, 7))
	assert.ErrorIs(t, s.DeleteResponse(t.Context(), r.QuizID, 2, 7), ErrNotFound)
	_, err = s.Response(r.QuizID, 2)
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.Passage(ben.Passage)
	assert.ErrorIs(t, err, ErrNotFound)
	n, err := s.ErasePerson(t.Context(), " ANN ", 7)
	require.NoError(t, err)
	assert.Equal(t, 2, n)
	for table, want := range map[string]int64{"responses": 1, "contacts": 2, "consents": 1, "passages": 1, "erasures": 3} {
		var rows int64
		require.NoError(t, s.db.Table(table).Count(&rows).Error)
		assert.Equal(t, want, rows, table)
	}
	counts, err := s.Outcomes(r.QuizID)
	require.NoError(t, err)
	assert.Equal(t, 1, counts[0].Count)
	all, err := s.Answered(r.QuizID)
	require.NoError(t, err)
	assert.Equal(t, 1, all)
	kept, err := s.Finish(Begin("", r, "quiz", passage.Visitor{}), given, answered())
	require.NoError(t, err)
	assert.Equal(t, 5, kept.Number)
	require.NoError(t, s.Close())
	data, err := os.ReadFile(s.file)
	require.NoError(t, err)
	assert.NotContains(t, string(data), "Ben-quince")
	assert.Contains(t, string(data), "Cem-quince")
}
