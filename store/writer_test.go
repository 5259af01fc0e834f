package store

import (
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// released opens a workspace with one released quiz.
func released(t testing.TB) (*Store, *Release) {
	t.Helper()
	s, err := Open(filepath.Join(t.TempDir(), "omphalos.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	if _, timed := t.(*testing.B); !timed {
		watched(t, s)
	}
	_, r := releasedIn(t, s)
	return s, r
}

// releasedIn releases a quiz of one question.
func releasedIn(t testing.TB, s *Store) (*Quiz, *Release) {
	t.Helper()
	m := quiztest.New("fit")
	m.Ask("crop", quiz.Single, "a", "b")
	q, err := quiz.Read(m.Write())
	require.NoError(t, err)
	z, err := s.Definitions.AddQuiz(t.Context(), q)
	require.NoError(t, err)
	r, err := s.Definitions.Release(t.Context(), z.ID, z.Revision, 1)
	require.NoError(t, err)
	return z, r
}

// patience bounds what is waited for.
const patience = 20 * time.Second

var given = map[string]program.Typed{"crop": {Values: []string{"a"}}}

func answered() *Response {
	return &Response{
		End:     "decided",
		Outcome: "fit",
		Scores:  []ResponseScore{{Scale: "points", Millionths: decimal.One}},
		Answers: []ResponseAnswer{{Question: "crop", Answer: "a"}},
	}
}

// Respondents who finish at once, each several times, have a response each, numbered
// without a gap.
func TestManyFinishAtOnce(t *testing.T) {
	s, r := released(t)
	const people, times = 60, 4
	var wait sync.WaitGroup
	var numbers sync.Map
	for i := range people {
		p := Begin("", r, "quiz", program.Visitor{})
		for range times {
			wait.Go(func() {
				mine := *p
				if i%3 == 0 { // some are on disk before, some not
					assert.NoError(t, s.Responses.SaveTyped(t.Context(), &mine, given))
				}
				kept, err := s.Responses.Finish(t.Context(), &mine, given, answered())
				if assert.NoError(t, err) {
					before, there := numbers.LoadOrStore(p.ID, kept.Number)
					assert.True(t, !there || before == kept.Number, "one passage has one response")
				}
			})
		}
	}
	wait.Wait()
	list, err := s.Responses.List(t.Context(), r.QuizID, Page{}, 1000)
	require.NoError(t, err)
	require.Len(t, list, people)
	seen := map[int]bool{}
	for _, one := range list {
		seen[one.Number] = true
		require.Len(t, one.Scores, 1)
		whole, err := s.Responses.Response(t.Context(), r.QuizID, one.Number)
		require.NoError(t, err)
		assert.Len(t, whole.Answers, 1)
		p, err := s.Responses.Passage(t.Context(), one.Passage)
		require.NoError(t, err)
		assert.True(t, p.Finished)
	}
	for n := range people {
		assert.True(t, seen[n+1], "number %d", n+1)
	}
}

// A tab that comes late changes nothing of a passage that another one has finished.
func TestFinishedStaysAsItIs(t *testing.T) {
	s, r := released(t)
	begun, err := s.Responses.Start(t.Context(), r, "quiz", program.Visitor{})
	require.NoError(t, err)
	first, late := *begun, *begun
	kept, err := s.Responses.Finish(t.Context(), &first, given, answered())
	require.NoError(t, err)
	other := map[string]program.Typed{"crop": {Values: []string{"b"}}}
	require.NoError(t, s.Responses.SaveTyped(t.Context(), &late, other))
	late = *begun
	again, err := s.Responses.Finish(t.Context(), &late, other, answered())
	require.NoError(t, err)
	assert.Equal(t, kept.ID, again.ID)
	for _, forget := range []bool{false, true} {
		if forget {
			s.passages.Clear()
		}
		now, err := s.Responses.Passage(t.Context(), begun.ID)
		require.NoError(t, err)
		assert.True(t, now.Finished, "read from the disk: %t", forget)
		assert.Equal(t, given, now.Typed(), "read from the disk: %t", forget)
	}
}

// What one entry does wrong is not the others' loss.
func TestOneEntryAtFault(t *testing.T) {
	s, r := released(t)
	good, bad := Begin("", r, "quiz", program.Visitor{}), Begin("", r, "quiz", program.Visitor{})
	twice := answered()
	twice.Contacts = []Contact{{Field: "name", Value: "Ann"}, {Field: "name", Value: "Ben"}} // against the primary key
	group := []*entry{
		{passage: good.with(given, true), response: answered(), done: make(chan error, 1)},
		{passage: bad.with(given, true), response: twice, done: make(chan error, 1)},
	}
	for i, p := range []*Passage{good, bad} {
		group[i].response.Of(p)
	}
	require.Error(t, s.commit(group, false), "together they fail")
	_, err := s.Responses.ByPassage(t.Context(), good.ID)
	require.ErrorIs(t, err, ErrNotFound, "and nothing of them is there")

	var wait sync.WaitGroup
	var failed atomic.Int32
	for range 20 {
		wait.Go(func() {
			_, err := s.Responses.Finish(t.Context(), Begin("", r, "quiz", program.Visitor{}), given, answered())
			assert.NoError(t, err)
		})
		wait.Go(func() {
			wrong := answered()
			wrong.Contacts = []Contact{{Field: "name", Value: "Ann"}, {Field: "name", Value: "Ben"}}
			if _, err := s.Responses.Finish(t.Context(), Begin("", r, "quiz", program.Visitor{}), given, wrong); err != nil {
				failed.Add(1)
			}
		})
	}
	wait.Wait()
	assert.EqualValues(t, 20, failed.Load())
	list, err := s.Responses.List(t.Context(), r.QuizID, Page{}, 1000)
	require.NoError(t, err)
	assert.Len(t, list, 20)
}

// A workspace that can't be written to says so, keeps what it had, and goes on when it
// can be again: another process holds the lock, the disk is full, the file is read-only.
func TestWhenNothingCanBeWritten(t *testing.T) {
	for name, hinder := range map[string]struct{ begin, end string }{
		"full disk": {"PRAGMA max_page_count = 1", "PRAGMA max_page_count = 1073741823"},
		"read-only": {"PRAGMA query_only = on", "PRAGMA query_only = off"},
	} {
		t.Run(name, func(t *testing.T) {
			s, r := released(t)
			p, err := s.Responses.Start(t.Context(), r, "quiz", program.Visitor{})
			require.NoError(t, err)
			require.NoError(t, s.writer.Exec(hinder.begin).Error)
			long := answered()
			long.Answers[0].WriteIn = strings.Repeat("a", 400_000)
			_, err = s.Responses.Finish(t.Context(), p, given, long)
			require.Error(t, err)
			assert.False(t, p.Finished)
			_, err = s.Responses.ByPassage(t.Context(), p.ID)
			assert.ErrorIs(t, err, ErrNotFound, "nothing half-written")
			require.NoError(t, s.writer.Exec(hinder.end).Error)
			_, err = s.Responses.Finish(t.Context(), p, given, answered())
			require.NoError(t, err)
		})
	}
	t.Run("locked", func(t *testing.T) {
		s, r := released(t)
		p, err := s.Responses.Start(t.Context(), r, "quiz", program.Visitor{})
		require.NoError(t, err)
		db, err := s.main.DB()
		require.NoError(t, err)
		held, err := db.Conn(t.Context())
		require.NoError(t, err)
		_, err = held.ExecContext(t.Context(), "BEGIN IMMEDIATE")
		require.NoError(t, err)
		_, err = s.Responses.Finish(t.Context(), p, given, answered())
		require.Error(t, err)
		_, err = held.ExecContext(t.Context(), "ROLLBACK")
		require.NoError(t, err)
		require.NoError(t, held.Close())
		_, err = s.Responses.Finish(t.Context(), p, given, answered())
		require.NoError(t, err)
	})
}

// Where more waits than may, the next is turned away at once, and what waits is written.
func TestTheQueueIsBounded(t *testing.T) {
	s, r := released(t)
	hold, held := make(chan struct{}), make(chan struct{})
	var wait sync.WaitGroup
	wait.Go(func() {
		assert.NoError(
			t,
			s.Responses.write(
				t.Context(),
				&entry{
					passage: Begin("", r, "quiz", program.Visitor{}),
					gone:    true,
					alone:   func(*gorm.DB) error { close(held); <-hold; return nil },
				},
			),
		)
	})
	<-held
	var waiting, turned atomic.Int32
	for range longestQueue + 50 {
		wait.Go(func() {
			waiting.Add(1)
			if _, err := s.Responses.Finish(t.Context(), Begin("", r, "quiz", program.Visitor{}), given,
				answered()); err != nil {
				assert.ErrorIs(t, err, ErrBusy)
				turned.Add(1)
			}
		})
	}
	require.Eventually(t, func() bool { return turned.Load() == 50 }, patience, 1e6)
	close(hold)
	wait.Wait()
	list, err := s.Responses.List(t.Context(), r.QuizID, Page{}, 2*longestQueue)
	require.NoError(t, err)
	assert.Len(t, list, longestQueue, "all that waited")
}

// BenchmarkFinish finishes passages from 64 goroutines, beside one GORM insert each.
func BenchmarkFinish(b *testing.B) {
	finish := func(out ...Delivery) func(*testing.B) {
		return func(b *testing.B) {
			s, r := released(b)
			b.SetParallelism(32)
			b.RunParallel(func(pb *testing.PB) {
				for pb.Next() {
					one := answered()
					one.FollowUps = slices.Clone(out)
					if _, err := s.Responses.Finish(b.Context(), Begin("", r, "quiz", program.Visitor{}), given, one); err != nil {
						b.Fatal(err)
					}
				}
			})
		}
	}
	b.Run("store", finish())
	b.Run("with-a-call", finish(Delivery{FollowUp: "crm", Kind: quiz.CallFollowUp, Lane: "call/crm", About: "crm"}))
	b.Run("one-insert", func(b *testing.B) {
		db, err := gorm.Open(
			sqlite.Open(
				fmt.Sprintf(
					"file:%s?_journal_mode=WAL&_synchronous=FULL&_busy_timeout=5000",
					filepath.Join(b.TempDir(), "bare.db"),
				),
			),
			&gorm.Config{SkipDefaultTransaction: true, PrepareStmt: true},
		)
		require.NoError(b, err)
		type row struct {
			ID    uint
			Day   string
			Count int
		}
		require.NoError(b, db.AutoMigrate(&row{}))
		b.SetParallelism(32)
		b.RunParallel(func(pb *testing.PB) {
			for pb.Next() {
				if err := db.Create(&row{Day: "2026-11-24", Count: 1}).Error; err != nil {
					b.Fatal(err)
				}
			}
		})
	})
}
