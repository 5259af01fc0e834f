package store

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/program"
)

func rehearsalsAreKept(t *testing.T, s *Store) {
	d, ctx := s.Definitions, t.Context()
	z := withOrchard(t, s)
	walk, err := d.NewWalk(ctx, Walk{QuizID: z.ID, Visitor: "{}"})
	require.NoError(t, err)
	walk.Type(map[string]program.Typed{"crop": {Values: []string{"apples"}}})
	walk.Be(program.Visitor{Country: "IE"})
	require.NoError(t, d.KeepWalk(ctx, walk))
	again, err := d.Walk(ctx, walk.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"apples"}, again.Typed()["crop"].Values)
	assert.Equal(t, "IE", again.Facts().Country)
	_, err = d.Walk(ctx, "another")
	assert.ErrorIs(t, err, ErrNotFound)

	hand, err := d.NewHand(ctx, Hand{QuizID: z.ID, Ends: time.Now().Add(time.Hour)})
	require.NoError(t, err)
	by, err := d.HandOf(ctx, hand.Token)
	require.NoError(t, err)
	assert.True(t, by.Open(time.Now()))
	assert.False(t, by.Open(time.Now().Add(2*time.Hour)), "it ends by itself")
	require.NoError(t, d.AddRemark(ctx, Remark{QuizID: z.ID, HandID: hand.ID, Pointer: "/questions/crop",
		Name: "Una", Words: "Plums, too?"}))
	remarks, err := d.Remarks(ctx, z.ID)
	require.NoError(t, err)
	require.Len(t, remarks, 1)
	open, err := d.OpenRemarks(ctx, z.ID)
	require.NoError(t, err)
	assert.Equal(t, 1, open)
	assert.ErrorIs(t, d.AnswerRemark(ctx, z.ID+1, remarks[0].ID, "", true, 1), ErrNotFound, "of another quiz")
	require.NoError(t, d.AnswerRemark(ctx, z.ID, remarks[0].ID, "Added", true, 1))
	remarks, err = d.RemarksOf(ctx, hand.ID)
	require.NoError(t, err)
	assert.Equal(t, "Added", remarks[0].Answer)
	open, err = d.OpenRemarks(ctx, z.ID)
	require.NoError(t, err)
	assert.Zero(t, open)
	assert.ErrorIs(t, d.Withdraw(ctx, z.ID+1, hand.ID), ErrNotFound)
	require.NoError(t, d.Withdraw(ctx, z.ID, hand.ID))
	by, err = d.HandOf(ctx, hand.Token)
	require.NoError(t, err)
	assert.False(t, by.Open(time.Now()))
	hands, err := d.Hands(ctx, z.ID)
	require.NoError(t, err)
	assert.Len(t, hands, 1)
}

// The edit that broke a rehearsal is found however many came after it, and found anew when it
// is undone or the rehearsal holds in between.
func theEditThatBrokeIsFound(t *testing.T, s *Store) {
	d, ctx := s.Definitions, t.Context()
	z := withOrchard(t, s)
	change := func(patch string) {
		t.Helper()
		var err error
		z, _, err = d.Edit(ctx, z.ID, z.Revision, []byte(patch), 1)
		require.NoError(t, err)
	}
	by := func(keys ...string) map[string]Edit {
		t.Helper()
		found, err := d.BrokenBy(ctx, z, keys)
		require.NoError(t, err)
		return found
	}
	change(`[{"op":"add","path":"/rehearsals/one","value":{"order":1,"name":"One","outcome":"not_yet"}}]`)
	otherwise := `[{"op":"replace","path":"/decision/steps/bands/lowest","value":%q}]`
	change(fmt.Sprintf(otherwise, "plan"))
	broke := z.Done
	for range 5 {
		assert.Equal(t, broke, by("one")["one"].Number)
		change(fmt.Sprintf(`[{"op":"replace","path":"/title","value":"Title %d"}]`, z.Done))
	}
	assert.Equal(t, broke, by("one")["one"].Number)
	change(fmt.Sprintf(otherwise, "not_yet"))
	assert.Empty(t, by(), "it holds")
	change(fmt.Sprintf(otherwise, "walk"))
	assert.Equal(t, z.Done, by("one")["one"].Number, "it was broken again")
	var err error
	z, _, err = d.Undo(ctx, z.ID, z.Revision)
	require.NoError(t, err)
	assert.Empty(t, by())
	change(`[{"op":"add","path":"/rehearsals/two","value":{"order":2,"name":"Two","outcome":"walk"}}]`)
	assert.Empty(t, by("two"), "it never held")
}
