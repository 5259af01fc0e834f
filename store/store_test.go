package store

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
)

func open(t *testing.T, file string) *Store {
	t.Helper()
	s, err := Open(file)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return watched(t, s)
}

func withOrchard(t *testing.T, s *Store) *Quiz {
	t.Helper()
	data, err := os.ReadFile("../cmd/omphalos/demo/orchard.json")
	require.NoError(t, err)
	q, err := quiz.Read(data)
	require.NoError(t, err)
	z, err := s.Definitions.AddQuiz(t.Context(), q)
	require.NoError(t, err)
	return z
}

func set(path, value string) []byte {
	return fmt.Appendf(nil, `[{"op":"add","path":%q,"value":%s}]`, path, value)
}

// Undo walks all the way back to the first document and redo all the way
// forth, from a workspace that was closed in between.
func TestHistoryIsWalkedAcrossRestarts(t *testing.T) {
	file := filepath.Join(t.TempDir(), "w.db")
	s := open(t, file)
	z := withOrchard(t, s)
	drafts := []string{z.Draft}
	for _, patch := range [][]byte{
		set("/questions/crop/answers/apples/adds/readiness", "9"),
		set("/title", `"First"`),
		set("/questions/crop/required", "false"),
		[]byte(`[{"op":"remove","path":"/questions/hives"}]`),
		set("/outcomes/walk/landings/booking/after", "2"),
	} {
		after, change, err := s.Definitions.Edit(t.Context(), z.ID, z.Revision, patch, 1)
		require.NoError(t, err)
		assert.NotEmpty(t, change.Sentence)
		z = after
		drafts = append(drafts, z.Draft)
	}
	require.NoError(t, s.Close())
	s = open(t, file)
	for i := len(drafts) - 2; i >= 0; i-- {
		after, _, err := s.Definitions.Undo(t.Context(), z.ID, z.Revision)
		require.NoError(t, err)
		assert.JSONEq(t, drafts[i], after.Draft)
		z = after
	}
	_, _, err := s.Definitions.Undo(t.Context(), z.ID, z.Revision)
	assert.ErrorIs(t, err, ErrNoUndo)
	for _, draft := range drafts[1:] {
		after, _, err := s.Definitions.Redo(t.Context(), z.ID, z.Revision)
		require.NoError(t, err)
		assert.JSONEq(t, draft, after.Draft)
		z = after
	}
	_, _, err = s.Definitions.Redo(t.Context(), z.ID, z.Revision)
	assert.ErrorIs(t, err, ErrNoRedo)
	_, _, err = s.Definitions.Edit(t.Context(), z.ID, z.Revision-1, set("/title", `"x"`), 1)
	assert.ErrorIs(t, err, ErrStale)
}

// Typing on in one text is one edit to undo; the sentence tells it.
func TestTypingIsOneEdit(t *testing.T) {
	s := open(t, filepath.Join(t.TempDir(), "w.db"))
	z := withOrchard(t, s)
	first := z.Draft
	for _, words := range []string{"W", "Wh", "Which crop?"} {
		after, _, err := s.Definitions.Edit(
			t.Context(),
			z.ID,
			z.Revision,
			set("/questions/crop/label", fmt.Sprintf("%q", words)),
			1,
		)
		require.NoError(t, err)
		z = after
	}
	undo, redo, err := s.Definitions.History(t.Context(), z)
	require.NoError(t, err)
	assert.Equal(t, "Words of “Which crop?” are now “Which crop?”", undo)
	assert.Empty(t, redo)
	z, _, err = s.Definitions.Undo(t.Context(), z.ID, z.Revision)
	require.NoError(t, err)
	assert.JSONEq(t, first, z.Draft)
}

func TestAWorkspaceIsKeptSafely(t *testing.T) {
	s := open(t, filepath.Join(t.TempDir(), "a folder with spaces?", "..", "w.db"))
	for pragma, want := range map[string]string{"journal_mode": "wal", "synchronous": "2", "foreign_keys": "1"} {
		var got string
		require.NoError(t, raw(s).Raw("PRAGMA "+pragma).Scan(&got).Error)
		assert.Equal(t, want, got, pragma)
	}
	require.NoError(t, s.People.PutUser(t.Context(), "Ann@Example.org", "Ann", "ten letters"))
	_, err := s.People.SignIn(t.Context(), "ann@example.org ", "ten letters")
	require.NoError(t, err)
	_, err = s.People.SignIn(t.Context(), "ann@example.org", "ten lettres")
	assert.ErrorIs(t, err, ErrSignIn)
	_, err = s.People.SignIn(t.Context(), "nobody@example.org", "ten letters")
	assert.ErrorIs(t, err, ErrSignIn)
	assert.ErrorIs(t, s.People.PutUser(t.Context(), "b@example.org", "", "short"), ErrPassword)
	var u User
	require.NoError(t, raw(s).First(&u).Error)
	assert.True(t, strings.HasPrefix(u.Password, "$argon2id$v=19$m=19456,t=2,p=1$"))
}

// An edit that changes nothing leaves nothing to undo; choosing from a list twice in
// a row is two edits, however quick.
func TestWhatIsAnEdit(t *testing.T) {
	s := open(t, filepath.Join(t.TempDir(), "w.db"))
	z := withOrchard(t, s)
	z, _, err := s.Definitions.Edit(t.Context(), z.ID, z.Revision, set("/title", fmt.Sprintf("%q", z.Title)), 1)
	require.NoError(t, err)
	undo, _, err := s.Definitions.History(t.Context(), z)
	require.NoError(t, err)
	assert.Empty(t, undo)
	for _, kind := range []string{"dropdown", "pictures"} {
		z, _, err = s.Definitions.Edit(
			t.Context(),
			z.ID,
			z.Revision,
			set("/questions/crop/kind", fmt.Sprintf("%q", kind)),
			1,
		)
		require.NoError(t, err)
	}
	z, _, err = s.Definitions.Undo(t.Context(), z.ID, z.Revision)
	require.NoError(t, err)
	assert.Contains(t, z.Draft, `"dropdown"`)
}

// A copy has a title of its own, and leaves the other's draft as it was read.
func TestCopying(t *testing.T) {
	s := open(t, filepath.Join(t.TempDir(), "w.db"))
	z := withOrchard(t, s)
	before, err := z.Document()
	require.NoError(t, err)
	twin, err := s.Definitions.CopyQuiz(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, before.Title+" (copy)", twin.Title)
	after, err := z.Document()
	require.NoError(t, err)
	assert.Equal(t, z.Title, after.Title)
}

// A closed workspace is one file: what was written ahead is in it.
func TestAClosedWorkspaceIsOneFile(t *testing.T) {
	file := filepath.Join(t.TempDir(), "w.db")
	s := open(t, file)
	withOrchard(t, s)
	require.NoError(t, s.Close())
	left, err := filepath.Glob(file + "*")
	require.NoError(t, err)
	assert.Equal(t, []string{file}, left)
	require.NoError(t, s.Close(), "closing again is no harm")
}
