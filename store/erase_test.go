package store

import (
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/program"
)

// What is deleted is gone from every table and from the file; a trace says that it was, and
// numbers go on.
func TestResponsesAreDeleted(t *testing.T) {
	s, r := released(t)
	for _, name := range []string{"Ann", "Ben", "ann", "Cem"} {
		one := answered()
		one.Contacts = []Contact{{Field: "name", Value: name}, {Field: "mail", Value: name + "-quince@example.org"}}
		one.Consents = []Consent{{Field: "ok", Words: "You may write"}}
		_, err := s.Responses.Finish(t.Context(), Begin("", r, "quiz", program.Visitor{}), given, one)
		require.NoError(t, err)
	}
	ben, err := s.Responses.Response(t.Context(), r.QuizID, 2)
	require.NoError(t, err)
	require.NoError(t, s.Responses.DeleteResponse(t.Context(), r.QuizID, 2, 7))
	assert.ErrorIs(t, s.Responses.DeleteResponse(t.Context(), r.QuizID, 2, 7), ErrNotFound)
	_, err = s.Responses.Response(t.Context(), r.QuizID, 2)
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.Responses.Passage(t.Context(), ben.Passage)
	assert.ErrorIs(t, err, ErrNotFound)
	n, err := s.Responses.ErasePerson(t.Context(), " ANN ", 7)
	require.NoError(t, err)
	assert.Equal(t, 2, n)
	for table, want := range map[string]int64{"responses": 1, "contacts": 2, "consents": 1, "passages": 0, "erasures": 3} {
		var rows int64
		require.NoError(t, raw(s).Table(table).Count(&rows).Error)
		assert.Equal(t, want, rows, table)
	}
	counts, err := s.Responses.Outcomes(t.Context(), r.QuizID)
	require.NoError(t, err)
	assert.Equal(t, 1, counts[0].Count)
	all, err := s.Responses.Answered(t.Context(), r.QuizID)
	require.NoError(t, err)
	assert.Equal(t, 1, all)
	kept, err := s.Responses.Finish(t.Context(), Begin("", r, "quiz", program.Visitor{}), given, answered())
	require.NoError(t, err)
	assert.Equal(t, 5, kept.Number)
	require.NoError(t, s.Close())
	data, err := os.ReadFile(s.file)
	require.NoError(t, err)
	assert.NotContains(t, string(data), "Ben-quince")
	assert.Contains(t, string(data), "Cem-quince")
}

// A quiz that was put away is gone for good after its time, with all that belongs to it and
// nothing else; before that it comes back whole.
func TestDeletedQuizzesGoForGood(t *testing.T) {
	s, r := released(t)
	other := withOrchard(t, s)
	for range 3 {
		one := answered()
		one.Contacts = []Contact{{Field: "name", Value: "Ann"}}
		_, err := s.Responses.Finish(t.Context(), Begin("", r, "quiz", program.Visitor{}), given, one)
		require.NoError(t, err)
	}
	begun, err := s.Responses.Start(t.Context(), r, "quiz", program.Visitor{})
	require.NoError(t, err)
	require.NoError(
		t,
		s.Responses.Book(
			t.Context(),
			Booking{Calendar: "visits", Start: time.Now().UTC(), Minutes: 30, Response: ResponseNumber(begun.ID)},
			1, 0,
		),
	)
	require.NoError(t, s.Definitions.DeleteQuiz(t.Context(), r.QuizID))
	n, err := s.ForgetDeleted(t.Context(), time.Now().AddDate(0, 0, -30))
	require.NoError(t, err)
	assert.Zero(t, n)
	require.NoError(t, s.Definitions.RestoreQuiz(t.Context(), r.QuizID))
	_, err = s.Responses.Response(t.Context(), r.QuizID, 3)
	require.NoError(t, err)
	require.NoError(t, s.Definitions.DeleteQuiz(t.Context(), r.QuizID))
	n, err = s.ForgetDeleted(t.Context(), time.Now().Add(time.Minute))
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	for table, want := range map[string]int64{"quizzes": 1, "releases": 0, "responses": 0, "contacts": 0,
		"passages": 0, "outcome_counts": 0, "edits": 0, "bookings": 0, "erasures": 1} {
		var rows int64
		require.NoError(t, raw(s).Table(table).Count(&rows).Error)
		assert.Equal(t, want, rows, table)
	}
	assert.ErrorIs(t, s.Definitions.RestoreQuiz(t.Context(), r.QuizID), ErrNotFound)
	_, err = s.Definitions.Quiz(t.Context(), other.ID)
	require.NoError(t, err)
}
