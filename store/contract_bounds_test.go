package store

import (
	"errors"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store/tally"
)

// A quiz that takes so many responses takes exactly that many, however many come at once.
func fullIsFull(t *testing.T, s *Store) {
	ctx := t.Context()
	z := withOrchard(t, s)
	r, err := s.Definitions.Release(ctx, z.ID, z.Revision, 1)
	require.NoError(t, err)
	var taken, refused atomic.Int64
	var all sync.WaitGroup
	for range 200 {
		all.Go(func() {
			p := Begin("", r, z.Slug, program.Visitor{})
			_, err := s.Responses.FinishWithin(ctx, p, nil, &Response{Outcome: "walk", Landing: "booking"}, Bounds{Most: 70})
			switch {
			case err == nil:
				taken.Add(1)
			case errors.Is(err, ErrFull):
				refused.Add(1)
			default:
				t.Error(err)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, 70, taken.Load())
	assert.EqualValues(t, 130, refused.Load())
	n, err := s.Responses.Answered(ctx, z.ID)
	require.NoError(t, err)
	assert.Equal(t, 70, n)
}

// Who may take a quiz so many times takes it that many times, in however many tabs at once;
// of several the last one counts, or the first, in every figure.
func takersAreTold(t *testing.T, s *Store) {
	ctx := t.Context()
	z := withOrchard(t, s)
	r, err := s.Definitions.Release(ctx, z.ID, z.Revision, 1)
	require.NoError(t, err)
	finish := func(taker, outcome string, rule quiz.Repeats) error {
		_, err := s.Responses.FinishWithin(ctx, Begin("", r, z.Slug, program.Visitor{}), nil,
			&Response{Outcome: outcome, Landing: "booking"}, Bounds{Repeats: &rule, Taker: taker})
		return err
	}
	var refused atomic.Int64
	var all sync.WaitGroup
	for i := range 60 {
		all.Go(func() {
			if err := finish(fmt.Sprint("d", i%3), "walk",
				quiz.Repeats{Most: 4, Counts: quiz.LastCounts}); errors.Is(err, ErrRepeated) {
				refused.Add(1)
			} else if err != nil {
				t.Error(err)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, 60-3*4, refused.Load())
	counted := func(want map[string]int) {
		t.Helper()
		outcomes, err := s.Responses.Outcomes(ctx, z.ID)
		require.NoError(t, err)
		got, n := map[string]int{}, 0
		for _, o := range outcomes {
			got[o.Outcome] = o.Count
			n += o.Count
		}
		assert.Equal(t, want, got)
		newest, err := s.Responses.Newest(ctx, z.ID, 100)
		require.NoError(t, err)
		assert.Len(t, newest, n)
		require.NoError(t, s.Responses.Tally(ctx, z.ID, func(all *tally.Tally) { assert.Equal(t, n, all.Slice().Count()) }))
	}
	counted(map[string]int{"walk": 3})
	list, err := s.Responses.List(ctx, z.ID, Page{}, 100)
	require.NoError(t, err)
	assert.Len(t, list, 12, "all are kept")
	taken, err := s.Responses.Taken(ctx, z.ID, "d1")
	require.NoError(t, err)
	assert.Len(t, taken, 4)

	require.NoError(t, finish("e", "plan", quiz.Repeats{Counts: quiz.FirstCounts}))
	require.NoError(t, finish("e", "walk", quiz.Repeats{Counts: quiz.FirstCounts}))
	counted(map[string]int{"walk": 3, "plan": 1})
	require.NoError(t, finish("e", "walk", quiz.Repeats{Counts: quiz.LastCounts}))
	counted(map[string]int{"walk": 4})
	assert.ErrorIs(t, finish("e", "walk", quiz.Repeats{Days: 1}), ErrRepeated, "too soon")
	require.NoError(t, finish("", "plan", quiz.Repeats{Most: 1}), "who can't be told apart")
	require.NoError(t, finish("", "plan", quiz.Repeats{Most: 1}))
	counted(map[string]int{"walk": 4, "plan": 2})
	list, err = s.Responses.List(ctx, z.ID, Page{}, 100)
	require.NoError(t, err)
	for _, gone := range list {
		require.NoError(t, s.Responses.DeleteResponse(ctx, z.ID, gone.Number, 1))
	}
	counted(map[string]int{})
}

// People are invited once each, and it is known how far each has come.
func invitationsAreKept(t *testing.T, s *Store) {
	d, ctx := s.Definitions, t.Context()
	z := withOrchard(t, s)
	r, err := d.Release(ctx, z.ID, z.Revision, 1)
	require.NoError(t, err)
	people := []Invitation{{Name: "Una", Address: "una@example.org", Facts: `{"company":"Quill"}`},
		{Name: "Ben", Address: "ben@example.org"}, {Name: "By letter"}}
	n, err := d.Invite(ctx, z.ID, people)
	require.NoError(t, err)
	assert.Equal(t, 3, n)
	n, err = d.Invite(ctx, z.ID, []Invitation{{Name: "Una again", Address: "UNA@example.org"},
		{Name: "Cara", Address: "cara@example.org"}})
	require.NoError(t, err)
	assert.Equal(t, 1, n, "who is on the list stays")
	list, err := d.Invitations(ctx, z.ID, 0, 10)
	require.NoError(t, err)
	require.Len(t, list, 4)
	assert.Equal(t, "Quill", list[0].Columns()["company"])
	p := Begin("", r, z.Slug, program.Visitor{})
	require.NoError(t, s.Responses.SaveTyped(ctx, p, nil))
	require.NoError(t, d.Accept(ctx, list[0].ID, p.ID))
	list, err = d.Invitations(ctx, z.ID, 0, 1)
	require.NoError(t, err)
	assert.True(t, list[0].Begun && !list[0].Finished)
	_, err = s.Responses.Finish(ctx, p, nil, &Response{Outcome: "walk", Landing: "booking"})
	require.NoError(t, err)
	list, err = d.Invitations(ctx, z.ID, 0, 10)
	require.NoError(t, err)
	assert.True(t, list[0].Finished)
	assert.False(t, list[1].Begun)
	require.NoError(t, d.Uninvite(ctx, z.ID, list[1].ID))
	_, err = d.InvitationOf(ctx, list[1].Token)
	assert.ErrorIs(t, err, ErrNotFound)
	n, err = d.Invited(ctx, z.ID)
	require.NoError(t, err)
	assert.Equal(t, 3, n)
}
