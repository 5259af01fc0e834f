package store

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/program"
)

// What is no workspace, is damaged or comes from the future is refused at the start, and
// left as it is.
func TestWhatIsNotOpened(t *testing.T) {
	folder := t.TempDir()
	make := func(name string, change func(file string)) string {
		file := filepath.Join(folder, name)
		s := open(t, file)
		for range 40 {
			withOrchard(t, s)
		}
		require.NoError(t, s.Close())
		change(file)
		return file
	}
	text := filepath.Join(folder, "notes.txt")
	require.NoError(t, os.WriteFile(text, []byte("buy more jars, and a second smoker"), 0o644))
	other := filepath.Join(folder, "other.db")
	{
		s := open(t, other)
		require.NoError(t, raw(s).Exec("DROP TABLE migrations").Error)
		require.NoError(t, s.Close())
	}
	for file, why := range map[string]error{
		text:  ErrNoFile,
		other: ErrNoFile,
		make("future.db", func(file string) {
			s := open(t, file)
			require.NoError(t, raw(s).Exec("INSERT INTO migrations VALUES ('2031-01-01-moons')").Error)
			require.NoError(t, s.Close())
		}): ErrNewer,
		make("damaged.db", func(file string) {
			f, err := os.OpenFile(file, os.O_RDWR, 0)
			require.NoError(t, err)
			for page := int64(3); page < 60; page++ {
				_, err = f.WriteAt([]byte("no page of a database begins in this way"), page*4096)
				require.NoError(t, err)
			}
			require.NoError(t, f.Close())
		}): ErrDamaged,
	} {
		before, err := os.ReadFile(file)
		require.NoError(t, err)
		_, err = Open(file)
		assert.ErrorIs(t, err, why)
		after, err := os.ReadFile(file)
		require.NoError(t, err)
		assert.Equal(t, before, after)
	}
}

// The file alone is the workspace, its owner's alone, and of one server at a time.
func TestTheFileOfAWorkspace(t *testing.T) {
	file := filepath.Join(t.TempDir(), "w.db")
	s := open(t, file)
	z := withOrchard(t, s)
	require.NoError(t, s.Serving("process 7 at http://127.0.0.1:1"))
	other := open(t, file)
	err := other.Serving("process 8")
	assert.ErrorIs(t, err, ErrServed)
	assert.ErrorContains(t, err, "process 7 at http://127.0.0.1:1")
	require.NoError(t, other.Close())
	r, err := s.Definitions.Release(t.Context(), z.ID, z.Revision, 1)
	require.NoError(t, err)
	_, err = s.Responses.Finish(
		t.Context(),
		Begin("", r, z.Slug, program.Visitor{}),
		given,
		answered(),
	) // by the connection of the writer
	require.NoError(t, err)
	require.NoError(t, s.Close())
	left, err := filepath.Glob(file + "*")
	require.NoError(t, err)
	assert.Equal(t, []string{file}, left)
	info, err := os.Stat(file)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	s = open(t, file)
	require.NoError(t, s.Serving("process 9"))
	_, err = s.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
}

// A copy of a workspace in use is whole, and takes the place of another that nobody serves.
func TestBackupAndRestore(t *testing.T) {
	folder := t.TempDir()
	file, copied := filepath.Join(folder, "w.db"), filepath.Join(folder, "copy.db")
	s := open(t, file)
	require.NoError(t, s.Serving("this test"))
	z := withOrchard(t, s)
	require.NoError(t, Backup(t.Context(), file, copied))
	assert.ErrorContains(t, Backup(t.Context(), file, copied), "is there already")
	_, _, err := s.Definitions.Edit(t.Context(), z.ID, z.Revision, set("/title", `"Later"`), 1)
	require.NoError(t, err)

	_, err = Restore(t.Context(), copied, file)
	assert.ErrorIs(t, err, ErrServed)
	require.NoError(t, s.Close())
	before, err := Restore(t.Context(), copied, file)
	require.NoError(t, err)
	s = open(t, file)
	restored, err := s.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, z.Title, restored.Title)
	put := open(t, before)
	kept, err := put.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, "Later", kept.Title)

	_, err = Restore(t.Context(), filepath.Join(folder, "none.db"), file)
	assert.Error(t, err)
	require.NoError(t, os.WriteFile(copied, []byte("SQLite format 3\x00 and nothing more"), 0o600))
	_, err = Restore(t.Context(), copied, filepath.Join(folder, "new.db"))
	assert.ErrorIs(t, err, ErrDamaged)
}

// What nobody has gone on with for long is forgotten; what is finished or young is not, and
// a finished passage holds nothing that its response has.
func TestForgettingUnfinishedPassages(t *testing.T) {
	s, r := released(t)
	old, err := s.Responses.Start(t.Context(), r, "quiz", program.Visitor{})
	require.NoError(t, err)
	finished, err := s.Responses.Start(t.Context(), r, "quiz", program.Visitor{})
	require.NoError(t, err)
	_, err = s.Responses.Finish(t.Context(), finished, given, answered())
	require.NoError(t, err)
	require.NoError(t, raw(s).Exec("UPDATE passages SET updated = ?", time.Now().UTC().AddDate(0, 0, -31)).Error)
	young, err := s.Responses.Start(t.Context(), r, "quiz", program.Visitor{})
	require.NoError(t, err)
	n, err := s.Responses.ForgetUnfinished(context.Background(), time.Now().AddDate(0, 0, -30))
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	_, err = s.Responses.Passage(t.Context(), old.ID)
	assert.ErrorIs(t, err, ErrNotFound)
	for _, id := range []string{young.ID, finished.ID} {
		_, err = s.Responses.Passage(t.Context(), id)
		assert.NoError(t, err)
	}
	var kept []string
	require.NoError(t, raw(s).Raw("SELECT id FROM passages").Scan(&kept).Error)
	assert.Equal(t, []string{young.ID}, kept, "a finished one is its response")
	s.passages.Clear()
	again, err := s.Responses.Passage(t.Context(), finished.ID)
	require.NoError(t, err)
	assert.Equal(t, given, again.Typed(), "from its response")
}

// A draft that is refused is refused without the workspace's lock, which somebody holds.
func TestRefusingNeedsNoLock(t *testing.T) {
	s, r := released(t)
	db, err := s.main.DB()
	require.NoError(t, err)
	held, err := db.Conn(t.Context())
	require.NoError(t, err)
	_, err = held.ExecContext(t.Context(), "BEGIN IMMEDIATE")
	require.NoError(t, err)
	defer held.Close()
	z, err := s.Definitions.Quiz(t.Context(), r.QuizID)
	require.NoError(t, err)
	began := time.Now()
	_, _, err = s.Definitions.Edit(t.Context(), z.ID, z.Revision, set("/questions/crop/showWhen/all/130000", `{}`), 1)
	assert.ErrorContains(t, err, "a list has at most")
	_, _, err = s.Definitions.Edit(t.Context(), z.ID, z.Revision, set("/questions/crop/kind", `"no kind"`), 1)
	assert.Error(t, err)
	assert.Less(t, time.Since(began), 4*time.Second, "the lock is waited for 5 s")
	ctx, stop := context.WithCancel(t.Context())
	stop()
	_, _, err = s.Definitions.Edit(ctx, z.ID, z.Revision, set("/title", `"Bees"`), 1)
	assert.ErrorIs(t, err, context.Canceled)
	_, err = held.ExecContext(t.Context(), "ROLLBACK")
	require.NoError(t, err)
}

// Users have an address that can be one, a password that is not tried first, and keep the
// name that they have.
func TestUsers(t *testing.T) {
	s := open(t, filepath.Join(t.TempDir(), "w.db"))
	for _, email := range []string{"", "ann", "ann@home", "Ann <ann@example.org>", "ann@example.org, ben@example.org"} {
		assert.ErrorIs(t, s.People.PutUser(t.Context(), email, "Ann", "hives-for-hire"), ErrEmail, email)
	}
	for _, password := range []string{"1234567890", "Qwertyuiop", "football12"} {
		assert.ErrorIs(t, s.People.PutUser(t.Context(), "ann@example.org", "Ann", password), ErrCommon, password)
	}
	require.NoError(t, s.People.PutUser(t.Context(), "ＡNN@Example.org", "Ann", "hives-for-hire"))
	require.NoError(t, s.People.PutUser(t.Context(), "ann@example.org", "", "smoke-and-honey"))
	u, err := s.People.SignIn(t.Context(), " Ann@EXAMPLE.org", "smoke-and-honey")
	require.NoError(t, err)
	assert.Equal(t, "Ann", u.Name)
	assert.Equal(t, 1, u.Changes)
	busy, stop := context.WithCancel(t.Context())
	stop()
	require.True(t, hashing.TryAcquire(hashesAtOnce))
	defer hashing.Release(hashesAtOnce)
	_, err = s.People.SignIn(busy, "ann@example.org", "smoke-and-honey")
	assert.ErrorIs(t, err, ErrBusy)
}

// Every statement asks for its workspace, which tells rows apart least of all: what is asked
// of responses goes by the index of what it names.
func TestResponsesAreFoundByWhatIsNamed(t *testing.T) {
	s, _ := released(t)
	fifty := "0" + strings.Repeat(", 1", 49)
	for where, index := range map[string]string{
		"quiz_id = 1 AND number IN (" + fifty + ")":  "response_number",
		"quiz_id = 1 AND number BETWEEN 1 AND 65535": "response_number",
		"passage = 'x'": "responses_passage",
		"id = 1":        "INTEGER PRIMARY KEY",
	} {
		var plan []struct{ Detail string }
		require.NoError(t, raw(s).Raw("EXPLAIN QUERY PLAN SELECT * FROM responses WHERE "+where+
			" AND workspace_id = 1").Scan(&plan).Error)
		require.Len(t, plan, 1)
		assert.Contains(t, plan[0].Detail, index, where)
	}
}
