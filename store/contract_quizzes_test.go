package store

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func quizzesAreKept(t *testing.T, s *Store) {
	d := s.Definitions
	first, err := d.AddQuiz(t.Context(), asked("Ready for bees?"))
	require.NoError(t, err)
	second, err := d.AddQuiz(t.Context(), asked("Ready for bees?"))
	require.NoError(t, err)
	assert.Equal(t, []string{"ready-for-bees", "ready-for-bees-2"}, []string{first.Slug, second.Slug})
	z, _, err := d.Edit(t.Context(), first.ID, 1, set("/title", `"Bees?"`), 1)
	require.NoError(t, err)
	revision, released, err := d.Revision(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, []int{2, 0}, []int{revision, released})
	list, err := d.Quizzes(t.Context())
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, "Bees?", list[0].Title, "the newest change is first")
	drafts, err := d.Drafts(t.Context())
	require.NoError(t, err)
	assert.Len(t, drafts, 2)
	require.NoError(t, d.DeleteQuiz(t.Context(), z.ID))
	_, err = d.Quiz(t.Context(), z.ID)
	assert.ErrorIs(t, err, ErrNotFound)
	third, err := d.AddQuiz(t.Context(), asked("Ready for bees?"))
	require.NoError(t, err)
	assert.Equal(t, "ready-for-bees-3", third.Slug, "a deleted quiz keeps its address")
	require.NoError(t, d.RestoreQuiz(t.Context(), z.ID))
	back, err := d.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	assert.JSONEq(t, z.Draft, back.Draft)
	for _, gone := range []error{d.DeleteQuiz(t.Context(), 99), d.RestoreQuiz(t.Context(), 99)} {
		assert.ErrorIs(t, gone, ErrNotFound)
	}
	_, err = d.CopyQuiz(t.Context(), 99)
	assert.ErrorIs(t, err, ErrNotFound)
}

func releasesAreKept(t *testing.T, s *Store) {
	d := s.Definitions
	z, r := add(t, s, asked("Bees"))
	at, err := d.Public(t.Context(), z.Slug)
	require.NoError(t, err)
	assert.Equal(t, r.ID, at.ID)
	_, err = d.Release(t.Context(), z.ID, 99, 1)
	assert.ErrorIs(t, err, ErrStale)
	z, _, err = d.Edit(t.Context(), z.ID, z.Revision, set("/title", `"Other bees"`), 1)
	require.NoError(t, err)
	assert.Equal(t, 1, z.Changes())
	second, err := d.Release(t.Context(), z.ID, z.Revision, 1)
	require.NoError(t, err)
	at, err = d.Public(t.Context(), z.Slug)
	require.NoError(t, err)
	assert.Equal(t, second.ID, at.ID)
	list, err := d.Releases(t.Context(), z.ID)
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, 2, list[0].Number)
	first, err := d.ReleaseByID(t.Context(), r.ID)
	require.NoError(t, err)
	q, err := first.Read()
	require.NoError(t, err)
	assert.Equal(t, "Bees", q.Title, "a release stays as it was")
	z, _, err = d.Edit(t.Context(), z.ID, z.Revision, []byte(`[{"op":"remove","path":"/outcomes/fit"}]`), 1)
	require.NoError(t, err)
	_, err = d.Release(t.Context(), z.ID, z.Revision, 1)
	assert.ErrorIs(t, err, ErrUnfinished)
	require.NoError(t, d.DeleteQuiz(t.Context(), z.ID))
	_, err = d.Public(t.Context(), z.Slug)
	assert.ErrorIs(t, err, ErrNotFound)
}

func tablesAreKept(t *testing.T, s *Store) {
	d := s.Definitions
	hive := Product{Key: "hive", Name: "Hive", Price: "289,5", Currency: "eur", Tags: "wood, large", InStock: true}
	jar := Product{Key: "jar", Name: "Jar", Tags: "larger", InStock: true}
	require.NoError(t, d.PutProducts(t.Context(), []Product{hive, jar}))
	hive.Name = "Larch hive"
	require.NoError(t, d.PutProducts(t.Context(), []Product{hive}))
	list, err := d.Products(t.Context())
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, "289.50 EUR", list[1].PriceText())
	shown, err := d.Shown(t.Context(), []string{"jar"}, []string{"large"}, 0)
	require.NoError(t, err)
	require.Len(t, shown, 2)
	assert.Equal(t, []string{"jar", "hive"}, []string{shown[0].Key, shown[1].Key}, "a tag is a whole word of them")
	require.NoError(t, d.RemoveProduct(t.Context(), "jar"))
	shown, err = d.Shown(t.Context(), []string{"jar"}, nil, 0)
	require.NoError(t, err)
	assert.Empty(t, shown)
	require.NoError(t, d.RestoreProduct(t.Context(), "jar"))
	for what, wrong := range map[string]Product{"key": {Key: "A b", Name: "x"}, "name": {Key: "a"},
		"currency": {Key: "a", Name: "x", Price: "1"},
		"price":    {Key: "a", Name: "x", Price: "much", Currency: "EUR"}, "picture": {Key: "a", Name: "x",
			Picture: "//example.org/a.png"}} {
		assert.ErrorIs(t, d.PutProducts(t.Context(), []Product{jar, wrong}), ErrProduct, what)
	}
	assert.ErrorIs(t, d.PutProducts(t.Context(), []Product{jar, jar}), ErrProduct)

	up := []Signpost{
		{Table: "visits", Row: "IE", Address: "https://example.org/ie"},
		{Table: "visits", Row: "GB", Address: "https://example.org/gb"},
	}
	require.NoError(t, d.PutSignposts(t.Context(), up, 3))
	up[0].Address, up[1].Address = "https://example.org/ireland", ""
	require.NoError(t, d.PutSignposts(t.Context(), up, 3))
	address, err := d.Signpost(t.Context(), "visits", "IE")
	require.NoError(t, err)
	assert.Equal(t, "https://example.org/ireland", address)
	address, err = d.Signpost(t.Context(), "visits", "GB")
	require.NoError(t, err)
	assert.Empty(t, address)
	require.NoError(t, d.NoteUses(t.Context()))
	posts, err := d.Signposts(t.Context())
	require.NoError(t, err)
	require.Len(t, posts, 1)
	assert.NotNil(t, posts[0].Used)
	changes, err := d.SignpostChanges(t.Context(), 10)
	require.NoError(t, err)
	assert.Len(t, changes, 4)
	assert.ErrorIs(
		t,
		d.PutSignposts(t.Context(), []Signpost{{Table: "visits", Row: "x", Address: "nowhere"}}, 1),
		ErrSignpost,
	)
	assert.ErrorIs(t, d.PutSignposts(t.Context(), []Signpost{{Row: "x"}}, 1), ErrSignpost)

	require.NoError(
		t,
		d.PutPlaces(
			t.Context(),
			[]Place{{Table: "yards", Name: "River yard", Latitude: 52}, {Table: "yards", Key: "hill", Name: "Hill"}},
		),
	)
	yards, err := d.Places(t.Context(), "yards")
	require.NoError(t, err)
	require.Len(t, yards, 2)
	assert.Equal(t, "River yard", d.PlaceName(t.Context(), "yards", "river_yard"))
	tables, err := d.PlaceTables(t.Context())
	require.NoError(t, err)
	assert.Equal(t, []string{"yards"}, tables)
	require.NoError(t, d.RemovePlace(t.Context(), "yards", "hill"))
	for what, wrong := range map[string]Place{"name": {Table: "t"}, "key": {Table: "t", Name: "x", Key: "a b"},
		"point": {Table: "t", Name: "x", Latitude: 91}, "long": {Table: "t", Name: strings.Repeat("x", 201)}} {
		assert.ErrorIs(t, d.PutPlaces(t.Context(), []Place{wrong}), ErrPlace, what)
	}
}

func picturesAreKept(t *testing.T, s *Store) {
	d := s.Definitions
	first, err := d.AddPicture(t.Context(), Picture{Type: "image/png", Width: 3, Height: 2, Data: []byte("bees")})
	require.NoError(t, err)
	again, err := d.AddPicture(t.Context(), Picture{Type: "image/png", Width: 3, Height: 2, Data: []byte("bees")})
	require.NoError(t, err)
	assert.Equal(t, first.Name, again.Name)
	list, err := d.Pictures(t.Context(), 10)
	require.NoError(t, err)
	assert.Len(t, list, 1)
	whole, err := d.Picture(t.Context(), first.Name)
	require.NoError(t, err)
	assert.Equal(t, []byte("bees"), whole.Data)
	width, height, err := d.PictureSize(t.Context(), first.Name)
	require.NoError(t, err)
	assert.Equal(t, []int{3, 2}, []int{width, height})
	_, err = d.Picture(t.Context(), "none")
	assert.ErrorIs(t, err, ErrNotFound)
}

// A release is made public again under a number of its own, and brought back as the draft.
func releasesComeBack(t *testing.T, s *Store) {
	d, ctx := s.Definitions, t.Context()
	z := withOrchard(t, s)
	title := func(words string) {
		t.Helper()
		var err error
		z, _, err = d.Edit(ctx, z.ID, z.Revision,
			[]byte(fmt.Sprintf(`[{"op":"replace","path":"/title","value":%q}]`, words)), 1)
		require.NoError(t, err)
	}
	first, err := d.ReleaseIn(ctx, z.ID, z.Revision, 1, In{Note: "For spring", Ticked: []string{"A warning"}})
	require.NoError(t, err)
	was := z.Title
	title("Another")
	second, err := d.Release(ctx, z.ID, z.Revision, 1)
	require.NoError(t, err)
	third, err := d.ReleaseAgain(ctx, z.ID, first.Number, 2)
	require.NoError(t, err)
	assert.Equal(t, []int{3, 1}, []int{third.Number, third.Again})
	assert.Equal(t, first.Document, third.Document)
	_, err = d.ReleaseAgain(ctx, z.ID, third.Number, 2)
	assert.ErrorIs(t, err, ErrStale, "it is public already")
	_, err = d.ReleaseAgain(ctx, z.ID, 9, 2)
	assert.ErrorIs(t, err, ErrNotFound)
	public, err := d.Public(ctx, z.Slug)
	require.NoError(t, err)
	assert.Equal(t, third.ID, public.ID)
	z, err = d.Quiz(ctx, z.ID)
	require.NoError(t, err)
	assert.Equal(t, "Another", z.Title, "the draft stays")
	assert.Equal(t, 1, z.Changes(), "and differs from what is public now")
	kept, err := d.ReleaseNumber(ctx, z.ID, 1)
	require.NoError(t, err)
	assert.Equal(t, []string{"A warning"}, kept.Seen())
	assert.Equal(t, "For spring", kept.Note)

	_, err = d.BringBack(ctx, z.ID, z.Revision-1, first.Number, 1)
	assert.ErrorIs(t, err, ErrStale)
	z, err = d.BringBack(ctx, z.ID, z.Revision, first.Number, 1)
	require.NoError(t, err)
	assert.Equal(t, was, z.Title)
	assert.Zero(t, z.Changes())
	z, e, err := d.Undo(ctx, z.ID, z.Revision)
	require.NoError(t, err)
	assert.Equal(t, "Brought release 1 back as the draft", e.Sentence)
	assert.Equal(t, second.Document, z.Draft)
}

// A quiz moves to another address; the old one leads on, and nobody else gets it.
func addressesLeadOn(t *testing.T, s *Store) {
	d, ctx := s.Definitions, t.Context()
	z := withOrchard(t, s)
	other := withOrchard(t, s)
	old := z.Slug
	assert.ErrorIs(t, d.Move(ctx, z.ID, "Spring Quiz"), ErrSlug)
	assert.ErrorIs(t, d.Move(ctx, z.ID, ""), ErrSlug)
	assert.ErrorIs(t, d.Move(ctx, z.ID, other.Slug), ErrInUse)
	require.NoError(t, d.Move(ctx, z.ID, "spring"))
	require.NoError(t, d.Move(ctx, z.ID, "summer"))
	for _, before := range []string{old, "spring"} {
		to, err := d.MovedTo(ctx, before)
		require.NoError(t, err)
		assert.Equal(t, "summer", to, before)
	}
	_, err := d.MovedTo(ctx, "autumn")
	assert.ErrorIs(t, err, ErrNotFound)
	assert.ErrorIs(t, d.Move(ctx, other.ID, "spring"), ErrInUse, "it leads on")
	require.NoError(t, d.Move(ctx, z.ID, old), "it may have its own again")
	_, err = d.MovedTo(ctx, old)
	assert.ErrorIs(t, err, ErrNotFound, "it is there")
	list, err := d.Addresses(ctx, z.ID)
	require.NoError(t, err)
	assert.Len(t, list, 2)
	again := withOrchard(t, s)
	assert.NotEqual(t, "spring", again.Slug)
}
