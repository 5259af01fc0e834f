package store

import (
	"compress/gzip"
	"database/sql"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// form returns the columns of each table and the indexes, by name.
func form(t *testing.T, s *Store) map[string][]string {
	t.Helper()
	var tables []string
	require.NoError(
		t,
		raw(s).Raw("SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%'").Scan(&tables).
			Error,
	)
	got := map[string][]string{}
	for _, table := range tables {
		var columns []struct {
			Name, Type string
			Pk         int
		}
		require.NoError(
			t,
			raw(s).Raw("SELECT name, lower(type) AS type, pk FROM pragma_table_info(?) ORDER BY name", table).
				Scan(&columns).
				Error,
		)
		for _, c := range columns {
			got[table] = append(got[table], fmt.Sprint(c.Name, " ", c.Type, " ", c.Pk))
		}
		var indexes []string
		require.NoError(
			t,
			raw(
				s,
			).Raw("SELECT name FROM sqlite_schema WHERE type = 'index' AND tbl_name = ? AND sql IS NOT "+
				"NULL ORDER BY name", table).
				Scan(&indexes).
				Error,
		)
		got[table] = append(got[table], indexes...)
	}
	return got
}

// unpacked unpacks a kept workspace into a file of its own.
func unpacked(t *testing.T, name string) string {
	t.Helper()
	packed, err := os.Open(name)
	require.NoError(t, err)
	defer packed.Close()
	unpacked, err := gzip.NewReader(packed)
	require.NoError(t, err)
	data, err := io.ReadAll(unpacked)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "w.db")
	require.NoError(t, os.WriteFile(file, data, 0o600))
	return file
}

// A workspace of every form that was released opens, is of today's form afterwards, and is
// whole: drafts and releases are read, responses explained, the user signs in.
func TestEveryReleasedFormComesForward(t *testing.T) {
	fresh := form(t, open(t, filepath.Join(t.TempDir(), "fresh.db")))
	files, err := filepath.Glob("testdata/*.db.gz")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for _, name := range files {
		t.Run(strings.TrimSuffix(filepath.Base(name), ".db.gz"), func(t *testing.T) {
			file := unpacked(t, name)
			s := open(t, file)
			assert.Equal(t, fresh, form(t, s))
			_, err = s.People.SignIn(t.Context(), "marketer@quillbrook.example", "hives-for-hire")
			require.NoError(t, err)
			list, err := s.Definitions.Quizzes(t.Context())
			require.NoError(t, err)
			responses := 0
			for _, z := range list {
				whole, err := s.Definitions.Quiz(t.Context(), z.ID)
				require.NoError(t, err)
				q, err := whole.Document()
				require.NoError(t, err)
				outline, err := z.Outline()
				require.NoError(t, err)
				assert.Len(t, outline.Outcomes, len(q.Outcomes))
				assert.GreaterOrEqual(t, z.Differs, 0)
				releases, err := s.Definitions.Releases(t.Context(), z.ID)
				require.NoError(t, err)
				for _, r := range releases {
					q, err := r.Read()
					require.NoError(t, err)
					_, err = program.CompileReleased(q)
					require.NoError(t, err)
				}
				all, err := s.Responses.List(t.Context(), z.ID, Page{}, 1000)
				require.NoError(t, err)
				counted := 0
				for _, o := range z.Counts {
					counted += o.Count
				}
				assert.Equal(t, len(all), counted, "figures")
				responses += len(all)
				for _, one := range all {
					whole, err := s.Responses.Response(t.Context(), z.ID, one.Number)
					require.NoError(t, err)
					release, err := s.Definitions.ReleaseByID(t.Context(), whole.ReleaseID)
					require.NoError(t, err)
					q, err := release.Read()
					require.NoError(t, err)
					p, err := program.CompileReleased(q)
					require.NoError(t, err)
					in, err := whole.Input(p)
					require.NoError(t, err)
					assert.Equal(t, whole.Outcome, passage.Explain(p, in).Outcome)
					begun, err := s.Responses.Passage(t.Context(), whole.Passage)
					require.NoError(t, err)
					assert.NotEmpty(t, begun.Typed())
				}
			}
			assert.Equal(t, 64, responses)
			_, err = s.Definitions.CopyQuiz(t.Context(), list[0].ID)
			require.NoError(t, err)
		})
	}
}

// What an earlier form has of people and of passages under way is there afterwards: contacts
// with their kinds, and a passage where it was left.
func TestPeopleAndPassagesComeForward(t *testing.T) {
	file := unpacked(t, "testdata/2026-11-25-outlines.db.gz")
	db, err := sql.Open("sqlite3", file)
	require.NoError(t, err)
	id, underway := 0, Token()
	require.NoError(t, db.QueryRow(
		"SELECT r.id FROM releases r JOIN quizzes z ON z.id = r.quiz_id WHERE z.slug LIKE '%day%'").Scan(&id))
	for _, statement := range []string{
		"UPDATE responses SET release_id = ?1 WHERE id = 3",
		"INSERT INTO contacts (response_id, field, value) VALUES (3, 'name', 'Ann')",
		"INSERT INTO contacts (response_id, field, value) VALUES (3, 'phone', '+35312345678')",
		"INSERT INTO passages (id, quiz_id, release_id, slug, answers, visitor, started, updated, " +
			"finished, device) SELECT '" + underway +
			"', quiz_id, ?1, 'day', '{\"see\":{\"values\":[\"honey\"]}}', '{}', started, updated, false, " +
			"'mine' FROM passages LIMIT 1",
	} {
		_, err := db.Exec(statement, id)
		require.NoError(t, err, statement)
	}
	require.NoError(t, db.Close())

	s := open(t, file)
	var contacts []Contact
	require.NoError(t, s.Responses.db(t.Context()).Order("field").Find(&contacts).Error)
	assert.Equal(t, []Contact{{First, 3, "name", quiz.Name, "Ann", contacts[0].QuizID, contacts[0].Number},
		{First, 3, "phone", quiz.Phone, "+35312345678", contacts[0].QuizID, contacts[0].Number}}, contacts)
	var theirs Response
	require.NoError(t, s.Responses.db(t.Context()).Take(&theirs, 3).Error)
	assert.Equal(t, []any{theirs.QuizID, theirs.Number}, []any{contacts[0].QuizID, contacts[0].Number})
	p, err := s.Responses.Passage(t.Context(), underway)
	require.NoError(t, err)
	assert.Equal(t, []any{"mine", false, "day"}, []any{p.Device, p.Finished, p.Slug})
	assert.Len(t, p.Typed(), 1)
	n, err := s.Responses.ErasePerson(t.Context(), "ann", 1)
	require.NoError(t, err)
	assert.Equal(t, 1, n)
}

// A calendar that a quiz names keeps the hours that every calendar had, and what was booked
// stays booked.
func TestCalendarsComeForward(t *testing.T) {
	file := filepath.Join(t.TempDir(), "w.db")
	s := open(t, file)
	m := quiztest.New("any")
	m.Ask("when", quiz.Appointment).Table = "visits"
	m.Quiz.Settings = &quiz.Settings{TimeZone: "Europe/Dublin"}
	z, err := s.Definitions.AddQuiz(t.Context(), m.Quiz)
	require.NoError(t, err)
	_, err = s.Definitions.Release(t.Context(), z.ID, z.Revision, 1)
	require.NoError(t, err)
	require.NoError(t, statements(
		"DROP TABLE calendars",
		"DROP TABLE bookings",
		"CREATE TABLE bookings (workspace_id integer NOT NULL, calendar text NOT NULL, start datetime "+
			"NOT NULL, response text, PRIMARY KEY (workspace_id, calendar, start)) WITHOUT ROWID",
		"CREATE INDEX bookings_response ON bookings (workspace_id, response)",
		"INSERT INTO bookings VALUES (1, 'visits', '2031-01-06 09:00:00+00:00', 'ann'), (1, 'visits', "+
			"'2031-01-06 09:30:00+00:00', 'ben')",
		"DELETE FROM migrations WHERE id = '2026-11-26-calendars'",
	)(raw(s)))
	require.NoError(t, s.Close())

	s = open(t, file)
	list, err := s.Definitions.Calendars(t.Context())
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "visits Europe/Dublin 9:00–12:00, 13:30–16:30 30 1", fmt.Sprint(list[0].Name, " ",
		list[0].Zone, " ", list[0].Hours[1], " ", list[0].Minutes, " ", list[0].Seats))
	_, err = list[0].Open()
	require.NoError(t, err)
	ann, err := s.Responses.BookingOf(t.Context(), "ann")
	require.NoError(t, err)
	assert.True(t, ann.Start.Equal(time.Date(2031, 1, 6, 9, 0, 0, 0, time.UTC)))
	ben, err := s.Responses.BookingOf(t.Context(), "ben")
	require.NoError(t, err)
	assert.NotEqual(t, ann.Token, ben.Token)
}
