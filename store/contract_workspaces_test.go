package store

import (
	"fmt"
	"omphalos/core/odds"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/program"
	"omphalos/store/tally"
)

func peopleAreKept(t *testing.T, s *Store) {
	ps := s.People
	require.NoError(t, ps.PutUser(t.Context(), "Ann@example.org", "Ann", "two bees and a hive"))
	require.NoError(t, ps.PutUser(t.Context(), "ann@example.org", "", "three bees and a hive"))
	ann, err := ps.SignIn(t.Context(), "ann@example.org", "three bees and a hive")
	require.NoError(t, err)
	assert.Equal(t, []any{"Ann", 1}, []any{ann.Name, ann.Changes})
	same, err := ps.User(t.Context(), ann.ID)
	require.NoError(t, err)
	assert.Equal(t, ann.Email, same.Email)
	list, err := ps.Users(t.Context())
	require.NoError(t, err)
	assert.Len(t, list, 1)
	sessions := ps.Sessions(t.Context())
	require.NoError(t, sessions.Commit("a", []byte("data"), time.Now().Add(time.Hour)))
	require.NoError(t, sessions.Commit("b", []byte("old"), time.Now().Add(-time.Hour)))
	data, there, err := sessions.Find("a")
	require.NoError(t, err)
	assert.Equal(t, []any{"data", true}, []any{string(data), there})
	_, there, err = sessions.Find("b")
	require.NoError(t, err)
	assert.False(t, there)
	require.NoError(t, sessions.Delete("a"))
	_, there, _ = sessions.Find("a")
	assert.False(t, there)
}

// workspacesAreApart puts the same into two workspaces of one file: each has its own, and
// nobody comes from one to the other by a number.
func workspacesAreApart(t *testing.T, s *Store) {
	other, err := s.AddWorkspace(t.Context(), " Second ")
	require.NoError(t, err)
	list, err := s.Workspaces(t.Context())
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, "Second", list[1].Name)
	same, err := s.In(t.Context(), WorkspaceID(list[1].ID))
	require.NoError(t, err)
	assert.Same(t, other, same)
	_, err = s.In(t.Context(), 99)
	assert.ErrorIs(t, err, ErrNotFound)

	var quizzes []*Quiz
	var releases []*Release
	var begun []*Passage
	for i, in := range []*Store{s, other} {
		watched(t, in)
		d := in.Definitions
		z, r := add(t, in, asked("Bees"))
		assert.Equal(t, "bees", z.Slug)
		quizzes, releases = append(quizzes, z), append(releases, r)
		many(t, in, r, 10+i)
		name := fmt.Sprint("of ", i)
		require.NoError(t, d.PutProducts(t.Context(), []Product{{Key: "hive", Name: name, InStock: true}}))
		require.NoError(
			t,
			d.PutSignposts(
				t.Context(),
				[]Signpost{{Table: "t", Row: "r", Address: fmt.Sprint("https://example.org/", i)}},
				1,
			),
		)
		require.NoError(t, d.PutPlaces(t.Context(), []Place{{Table: "t", Key: "k", Name: name}}))
		one := NewCalendar("c", "UTC")
		one.Minutes = 20 + i
		require.NoError(t, d.PutCalendar(t.Context(), one))
		_, err := d.AddPicture(t.Context(), Picture{Type: "image/png", Data: []byte("bees")})
		require.NoError(t, err)
		require.NoError(
			t,
			in.Responses.Book(t.Context(), Booking{Calendar: "c", Start: time.Unix(0, 0), Minutes: 30, Response: name}, 1, 0),
		)
		require.NoError(t, in.People.PutUser(t.Context(), "ann@example.org", name, "two bees and a hive"))
		p, err := in.Responses.Start(t.Context(), r, z.Slug, program.Visitor{})
		require.NoError(t, err)
		begun = append(begun, p)
	}
	require.NoError(t, other.People.PutUser(t.Context(), "ben@example.org", "", "two bees and a hive"))
	for i, in := range []*Store{s, other} {
		d, rs, name := in.Definitions, in.Responses, fmt.Sprint("of ", i)
		products, err := d.Products(t.Context())
		require.NoError(t, err)
		require.Len(t, products, 1)
		assert.Equal(t, name, products[0].Name)
		address, err := d.Signpost(t.Context(), "t", "r")
		require.NoError(t, err)
		assert.Equal(t, fmt.Sprint("https://example.org/", i), address)
		assert.Equal(t, name, d.PlaceName(t.Context(), "t", "k"))
		hours, err := d.Calendar(t.Context(), "c")
		require.NoError(t, err)
		assert.Equal(t, 20+i, hours.Minutes)
		booked, err := rs.BookingOf(t.Context(), name)
		require.NoError(t, err)
		assert.Equal(t, name, booked.Response)
		users, err := in.People.Users(t.Context())
		require.NoError(t, err)
		assert.Len(t, users, 1+i, "whoever is in both is one person")
		public, err := d.Public(t.Context(), "bees")
		require.NoError(t, err)
		assert.Equal(t, releases[i].ID, public.ID)

		theirs, release, passed := quizzes[1-i], releases[1-i], begun[1-i]
		for what, err := range map[string]error{
			"quiz":     errOf(d.Quiz(t.Context(), theirs.ID)),
			"delete":   d.DeleteQuiz(t.Context(), theirs.ID),
			"copy":     errOf(d.CopyQuiz(t.Context(), theirs.ID)),
			"release":  errOf(d.Release(t.Context(), theirs.ID, theirs.Revision, 1)),
			"read":     errOf(d.ReleaseByID(t.Context(), release.ID)),
			"response": errOf(rs.Response(t.Context(), theirs.ID, 1)),
			"erase":    rs.DeleteResponse(t.Context(), theirs.ID, 1, 1),
			"passage":  errOf(rs.Passage(t.Context(), passed.ID)),
			"typed":    rs.SaveTyped(t.Context(), passed, nil),
		} {
			assert.ErrorIs(t, err, ErrNotFound, what)
		}
		s.passages.Clear()
		assert.ErrorIs(t, errOf(rs.Passage(t.Context(), passed.ID)), ErrNotFound, "from the disk")
		taken := Begin(passed.ID, releases[i], "bees", program.Visitor{})
		mine := map[string]program.Typed{"want": {Values: []string{name}}}
		require.NoError(t, rs.SaveTyped(t.Context(), taken, mine), "a number that the other has, too")
		s.passages.Clear()
		kept, err := []*Store{s, other}[1-i].Responses.Passage(t.Context(), passed.ID)
		require.NoError(t, err)
		assert.NotEqual(t, mine, kept.Typed(), "leaves that one as it is")
		require.NoError(t, rs.ScreenOut(t.Context(), taken, odds.Screened{Place: "crop", Outcome: "later"}))
		_, _, err = d.Edit(t.Context(), theirs.ID, theirs.Revision, set("/title", `"Mine"`), 1)
		assert.ErrorIs(t, err, ErrNotFound)
		found, all, err := rs.Find(t.Context(), theirs.ID, nil, tally.Order{}, 0, 10)
		require.NoError(t, err)
		assert.True(t, len(found) == 0 && all == 0)
		all, err = rs.Answered(t.Context(), quizzes[i].ID)
		require.NoError(t, err)
		assert.Equal(t, 10+i, all)
	}
	n, err := s.Responses.ForgetUnfinished(t.Context(), time.Now().Add(time.Hour))
	require.NoError(t, err)
	assert.Equal(t, 1, n, "the other's is left")
	require.NoError(t, s.Definitions.DeleteQuiz(t.Context(), quizzes[0].ID))
	_, err = s.ForgetDeleted(t.Context(), time.Now().Add(time.Hour))
	require.NoError(t, err)
	assert.NoError(t, errOf(other.Responses.Response(t.Context(), quizzes[1].ID, 1)))
}

func errOf[T any](_ T, err error) error { return err }
