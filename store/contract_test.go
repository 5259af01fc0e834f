package store

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/png"
	"math"
	"math/rand/v2"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/interchange/bundle"
	"omphalos/store/tally"
)

// The contract is what any engine has to keep: whoever brings another runs it with that.
func TestSQLiteKeepsTheContract(t *testing.T) {
	contract(t, func(t *testing.T) *Store { return open(t, filepath.Join(t.TempDir(), "w.db")) })
}

func contract(t *testing.T, empty func(*testing.T) *Store) {
	for name, keeps := range map[string]func(*testing.T, *Store){
		"quizzes":           quizzesAreKept,
		"releases":          releasesAreKept,
		"tables":            tablesAreKept,
		"pictures":          picturesAreKept,
		"passages":          passagesAreKept,
		"streams":           streamsAreKept,
		"leads":             leadsAreKept,
		"deliveries":        deliveriesAreKept,
		"lists":             listsAreKept,
		"access":            accessIsBounded,
		"responses":         responsesAreKept,
		"figures":           figuresAreRight,
		"appointments":      appointmentsAreKept,
		"calendars":         calendarsAreKept,
		"people":            peopleAreKept,
		"rehearsals":        rehearsalsAreKept,
		"what broke":        theEditThatBrokeIsFound,
		"earlier releases":  releasesComeBack,
		"earlier addresses": addressesLeadOn,
		"a full quiz":       fullIsFull,
		"takers":            takersAreTold,
		"taking along":      quizzesAreTakenAlong,
		"invitations":       invitationsAreKept,
		"workspaces":        workspacesAreApart,
		"a time that ended": nothingAfterItsTime,
	} {
		t.Run(name, func(t *testing.T) { keeps(t, empty(t)) })
	}
}

// scoped are the tables of which every row belongs to a workspace.
var scoped = regexp.MustCompile(
	"(?i)(FROM|INTO|UPDATE|JOIN)\\s+[`\"]?(quizzes|edits|releases|responses|contacts|consents|passages|partings|outcome_counts|erasures|segments|leads|products|signposts|signpost_changes|places|calendars|bookings|pictures|members|walks|hands|remarks|addresses|links|invitations|departures|sights|views|presses|lead_responses|lead_keys|lead_events|settings|deliveries|receivers|lists|subscriptions|unsubscribed|access_tokens)\\b",
)

// A watch sees that no statement reaches beyond a workspace.
type watch struct {
	logger.Interface
	t testing.TB
}

func (w watch) Trace(_ context.Context, _ time.Time, statement func() (string, int64), _ error) {
	if sql, _ := statement(); scoped.MatchString(sql) && !strings.Contains(sql, "workspace_id") {
		w.t.Errorf("a statement without a workspace: %s", sql)
	}
}

// watched has every statement looked at.
func watched(t testing.TB, s *Store) *Store {
	s.main.Config.Logger, s.writer.Config.Logger = watch{logger.Discard, t}, watch{logger.Discard, t}
	return s
}

// raw is the database for what a test looks up by itself.
func raw(s *Store) *gorm.DB { return s.main.Session(&gorm.Session{Logger: logger.Discard}) }

// A statement that was made for no workspace does not run.
func TestNoStatementWithoutAWorkspace(t *testing.T) {
	s, _ := released(t)
	bare := raw(s)
	var list []Quiz
	assert.ErrorIs(t, bare.Find(&list).Error, errNoWorkspace)
	assert.ErrorIs(t, bare.Create(&Place{Table: "t", Key: "k"}).Error, errNoWorkspace)
	assert.ErrorIs(t, bare.Model(&Quiz{}).Where("id = 1").Update("title", "x").Error, errNoWorkspace)
	assert.ErrorIs(t, bare.Where("id = 1").Delete(&Quiz{}).Error, errNoWorkspace)
	assert.ErrorIs(t, bare.Unscoped().Where("id = 1").Delete(&Quiz{}).Error, errNoWorkspace)
	var n int64
	assert.ErrorIs(t, bare.Model(&Response{}).Count(&n).Error, errNoWorkspace)
	other := within(t.Context(), s.main, 7)
	require.NoError(t, other.Where("id = 1").Or("id > 0").Find(&list).Error)
	assert.Empty(t, list, "whatever else is asked")
	gone := other.Where("id = 1").Or("id > 0").Delete(&Quiz{})
	require.NoError(t, gone.Error)
	assert.Zero(t, gone.RowsAffected)
}

// asked makes a quiz with a question of each kind that is counted in a way of its own.
func asked(title string) *quiz.Quiz {
	m := quiztest.New("fit", "not")
	m.Ask("crop", quiz.Several, "apples", "pears", "plums")
	m.Ask("want", quiz.Single, "yes", "no")
	m.Ask("trees", quiz.Number)
	q, err := quiz.Read(m.Write())
	if err != nil {
		panic(err)
	}
	q.Title = title
	return q
}

func add(t *testing.T, s *Store, q *quiz.Quiz) (*Quiz, *Release) {
	t.Helper()
	z, err := s.Definitions.AddQuiz(t.Context(), q)
	require.NoError(t, err)
	r, err := s.Definitions.Release(t.Context(), z.ID, z.Revision, 1)
	require.NoError(t, err)
	return z, r
}

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

func passagesAreKept(t *testing.T, s *Store) {
	z, r := add(t, s, asked("Bees"))
	rs := s.Responses
	begun, err := rs.Start(t.Context(), r, z.Slug, program.Visitor{Country: "IE"})
	require.NoError(t, err)
	typed := map[string]program.Typed{"want": {Values: []string{"yes"}}}
	require.NoError(t, rs.SaveTyped(t.Context(), begun, typed))
	s.passages.Clear()
	back, err := rs.Passage(t.Context(), begun.ID)
	require.NoError(t, err)
	assert.Equal(t, typed, back.Typed())
	assert.Equal(t, "IE", back.Facts().Country)
	assert.Equal(t, begun.Device, back.Device)
	one := &Response{End: "decided", Outcome: "fit", Answers: []ResponseAnswer{{Question: "want", Answer: "yes"}}}
	back.Framed = true
	_, err = rs.Finish(t.Context(), back, typed, one)
	require.NoError(t, err)
	require.NoError(
		t,
		rs.AddContact(
			t.Context(),
			back,
			typed,
			[]Contact{{Field: "mail", Value: "ann@example.org"}},
			[]Consent{{Field: "ok", Words: "Write to me"}},
			nil,
		),
	)
	require.NoError(
		t,
		rs.AddContact(t.Context(), back, typed, []Contact{{Field: "mail", Value: "other@example.org"}}, nil, nil),
		"what is there stays",
	)
	s.passages.Clear()
	back, err = rs.Passage(t.Context(), begun.ID)
	require.NoError(t, err)
	assert.True(t, back.Finished && back.Framed)
	assert.Equal(t, begun.Device, back.Device)
	assert.Equal(t, z.Slug, back.Slug)
	whole, err := rs.Response(t.Context(), z.ID, 1)
	require.NoError(t, err)
	require.Len(t, whole.Contacts, 1)
	assert.Equal(t, "ann@example.org", whole.Contacts[0].Value)
	assert.Equal(t, "Write to me", whole.Consents[0].Words)

	for range 2 {
		parted, err := rs.Start(t.Context(), r, z.Slug, program.Visitor{})
		require.NoError(t, err)
		require.NoError(t, rs.Part(t.Context(), parted))
		_, err = rs.Passage(t.Context(), parted.ID)
		assert.ErrorIs(t, err, ErrNotFound)
	}
	parted, err := rs.Partings(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, 2, parted)
	_, err = rs.Passage(t.Context(), Token())
	assert.ErrorIs(t, err, ErrNotFound)
}

// Who sees a quiz, goes how far and leaves is counted, with where they came from; what is
// forgotten of them leaves that they were there.
func streamsAreKept(t *testing.T, s *Store) {
	z, r := add(t, s, asked("Bees"))
	rs := s.Responses
	letter := program.Visitor{Source: "letter", Device: "phone"}
	for range 3 {
		rs.See(r, &letter)
	}
	rs.See(r, &program.Visitor{Device: "desktop"})
	flow := func(parts ...tally.Part) Flow {
		f, err := rs.Flow(t.Context(), z.ID, parts)
		require.NoError(t, err)
		return f
	}
	assert.Equal(t, 4, flow().Seen)
	rs.See(r, &letter)
	ended, end := context.WithCancel(t.Context())
	end()
	assert.Error(t, rs.NoteSights(ended), "and nothing is lost")
	from := tally.Part{Of: tally.Property{Kind: tally.Source}, Values: []string{"letter"}}
	assert.Equal(t, 5, flow().Seen)
	assert.Equal(t, 4, flow(from).Seen)
	assert.Zero(t, flow(tally.Part{Of: tally.Property{Kind: tally.Release}, Values: []string{"0"}}).Seen)

	for i := range 3 * mostApart { // somebody writes whatever they like
		rs.See(r, &program.Visitor{Source: fmt.Sprint("made up ", i), Language: "en"})
	}
	assert.Equal(t, 5+3*mostApart, flow().Seen)
	var rows int64
	require.NoError(t, rs.db(t.Context()).Model(&Sight{}).Where("quiz_id = ?", z.ID).Count(&rows).Error)
	assert.LessOrEqual(t, rows, int64(mostApart+3), "and takes no more room")
	begun, err := rs.Start(t.Context(), r, z.Slug, letter)
	require.NoError(t, err)
	begun.Place = "want"
	began := now().Add(-40 * time.Second)
	begun.Stay([]string{"want", "soon"}, began)
	begun.Stay([]string{"soon"}, now().Add(-5*time.Hour)) // away meanwhile
	require.NoError(t, rs.SaveTyped(t.Context(), begun, nil))
	s.passages.Clear()
	back, err := rs.Passage(t.Context(), begun.ID)
	require.NoError(t, err)
	assert.Equal(t, []Stop{{"want", 20}, {"soon", 20}}, back.Stops())
	assert.Equal(t, 1, flow(from).Under)
	assert.Empty(t, flow().Left)
	old := now().Add(-48 * time.Hour)
	require.NoError(t, raw(s).Exec("UPDATE passages SET updated = ?, seconds = 75 WHERE id = ?", old, begun.ID).Error)
	rs.flows.forget(z.ID)
	left := map[string][]tally.Bin{"want": {{Value: 75, Count: 1}}}
	assert.Error(t, errOf(rs.Flow(ended, z.ID, nil)), "whoever went away meanwhile spoils nothing")
	assert.Equal(t, Flow{Seen: 4, Left: left}, flow(from), "nobody has gone on with it")
	n, err := rs.ForgetUnfinished(t.Context(), now().Add(-24*time.Hour))
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	assert.Equal(t, Flow{Seen: 4, Left: left}, flow(from), "nor is it known any more what was answered")
	days := tally.Part{Of: tally.Property{Kind: tally.Finished}, From: now().Add(-time.Hour).Unix(), To: math.MaxInt64}
	assert.Empty(t, flow(days).Left)
	assert.True(t, Tells(from.Of) && Tells(days.Of) && !Tells(tally.Property{Kind: tally.Outcome}))

	finished, err := rs.Start(t.Context(), r, z.Slug, letter)
	require.NoError(t, err)
	assert.Equal(t, 1, flow(from).Under, "what is written is followed")
	assert.Zero(t, flow(tally.Part{Of: tally.Property{Kind: tally.Device}, Values: []string{"desktop"}}).Under)
	require.NoError(t, rs.flowing(t.Context(), z.ID, func(x *flowing) { // half an hour goes by
		for id, one := range x.under {
			one.last = one.last.Add(-stillThere - time.Second)
			x.under[id] = one
		}
	}))
	assert.Equal(t, 1, len(flow(from).Left[""]), "has left")
	require.NoError(t, rs.SaveTyped(t.Context(), finished, nil))
	assert.Equal(t, Flow{Seen: 4, Under: 1, Left: left}, flow(from), "and has come back")
	finished.Stay([]string{"want"}, now().Add(-7*time.Second))
	one := &Response{End: "decided", Outcome: "fit",
		Answers: []ResponseAnswer{{Question: "want", Answer: "yes"}}, Asked: []Stop{{"want", -1}, {"soon", -1}}}
	_, err = rs.Finish(t.Context(), finished, nil, one)
	require.NoError(t, err)
	assert.Equal(t, Flow{Seen: 4, Left: left}, flow(from), "and has finished")
	whole, err := rs.Response(t.Context(), z.ID, 1)
	require.NoError(t, err)
	assert.Equal(t, []Stop{{"want", 7}, {"soon", -1}}, whole.Asked)
	require.NoError(t, rs.Tally(t.Context(), z.ID, func(all *tally.Tally) {
		assert.Equal(t, []tally.Bin{{Value: 7, Count: 1}},
			all.Slice().Values(tally.Property{Kind: tally.Spent, Key: "want"}, 1))
		assert.Equal(t, []tally.Count{{Value: "", Count: 1}},
			all.Slice().Split(tally.Property{Kind: tally.Asked, Key: "soon"}))
	}))
	require.NoError(t, rs.forgetQuiz(t.Context(), z.ID))
	assert.Zero(t, flow().Seen)
	assert.Empty(t, flow().Left)
}

// many keeps responses of which each says something else.
func many(t *testing.T, s *Store, r *Release, n int) []*Response {
	t.Helper()
	chance := rand.New(rand.NewPCG(1, 2))
	pick := func(of ...string) string { return of[chance.IntN(len(of))] }
	began := time.Date(2026, 3, 1, 9, 0, 0, 0, time.UTC)
	var list []*Response
	for i := range n {
		begun := Begin("", r, "bees", program.Visitor{Source: pick("", "fair", "letter"), Country: pick("IE", "GB")})
		one := &Response{
			End:     "decided",
			Outcome: pick("fit", "not"),
			Scores:  []ResponseScore{{"points", 1_000_000 * 5}},
			Answers: []ResponseAnswer{
				{Question: "want", Answer: pick("yes", "no")},
				{Question: "trees", Answer: fmt.Sprint(chance.IntN(40))},
			},
		}
		for _, crop := range []string{"apples", "pears", "plums"} {
			if chance.IntN(2) == 0 {
				one.Answers = append(one.Answers, ResponseAnswer{Question: "crop", Answer: crop})
			}
		}
		one.Of(begun)
		one.Started = began.Add(time.Duration(i) * time.Hour)
		one.Finished = one.Started.Add(time.Duration(30+chance.IntN(90)) * time.Second)
		list = append(list, one)
	}
	require.NoError(t, s.Responses.AddResponses(t.Context(), list))
	return list
}

func responsesAreKept(t *testing.T, s *Store) {
	z, r := add(t, s, asked("Bees"))
	rs := s.Responses
	list := many(t, s, r, 30)
	n := 0
	enough := errors.New("enough")
	assert.ErrorIs(t, rs.EachOf(t.Context(), z.ID, nil, func(one *Response) error {
		assert.Equal(t, n+1, one.Number)
		assert.Equal(t, list[n].Answers, one.Answers)
		assert.Equal(t, list[n].Source, one.Source)
		if n++; n == 20 {
			return enough
		}
		return nil
	}, func() error { return nil }), enough)
	assert.Equal(t, 20, n)
	n = 25
	require.NoError(t, rs.NewestOf(t.Context(), z.ID, nil, 5, func(one *Response) error {
		assert.Equal(t, n+1, one.Number)
		assert.Equal(t, list[n].Source, one.Facts().Source, "with what is known of the visitor")
		n++
		return nil
	}))
	assert.Equal(t, 30, n)
	last, err := rs.Last(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, 30, last)
	newest, err := rs.Newest(t.Context(), z.ID, 4)
	require.NoError(t, err)
	assert.Equal(t, []int{30, 29, 28, 27}, numbersOf(newest))
	for at, want := range map[Page][]int{{}: {30, 29, 28}, {Before: 10}: {9, 8, 7}, {After: 10}: {13, 12, 11}} {
		page, err := rs.List(t.Context(), z.ID, at, 3)
		require.NoError(t, err)
		assert.Equal(t, want, numbersOf(page), "%v", at)
	}
	counts, err := rs.Outcomes(t.Context(), z.ID)
	require.NoError(t, err)
	all := 0
	for _, c := range counts {
		all += c.Count
	}
	assert.Equal(t, 30, all)
	answered, err := rs.Answered(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Equal(t, 30, answered)
	listed, err := s.Definitions.Quizzes(t.Context())
	require.NoError(t, err)
	assert.Equal(t, 30, listed[0].Responses)
	q, err := r.Read()
	require.NoError(t, err)
	p, err := program.Compile(q)
	require.NoError(t, err)
	in, err := newest[0].Input(p)
	require.NoError(t, err)
	kept := Record(p, in, passage.NewWalker(p).Walk(in))
	reader := NewReader(p)
	for i := range newest {
		assert.Equal(t, reader.Input(&newest[i]), reader.Next(&newest[i]), "into memory that has held another")
	}
	assert.Equal(t, reader.Next(&newest[0]), in)
	assert.ElementsMatch(t, newest[0].Answers, kept.Answers)
}

func numbersOf(list []Response) (numbers []int) {
	for _, r := range list {
		numbers = append(numbers, r.Number)
	}
	return numbers
}

// figuresAreRight counts a second way, over the responses themselves, after each of what may
// happen to them: more come, one is deleted, a segment is damaged, all is forgotten.
func figuresAreRight(t *testing.T, s *Store) {
	z, r := add(t, s, asked("Bees"))
	rs := s.Responses
	many(t, s, r, 70)
	pears := tally.Part{Of: tally.Property{Kind: tally.Answer, Key: "crop"}, Values: []string{"pears"}}
	trees := tally.Part{Of: tally.Property{Kind: tally.Amount, Key: "trees"}, From: 10_000_000, To: 30_000_000}
	look := func(when string) {
		t.Helper()
		want, split := []int(nil), map[string]int{}
		require.NoError(t, rs.EachOf(t.Context(), z.ID, nil, func(one *Response) error {
			in, has := false, false
			for _, a := range one.Answers {
				in = in || a.Question == "crop" && a.Answer == "pears"
				has = has || a.Question == "trees" && len(a.Answer) == 2 && a.Answer <= "30"
			}
			if in && has {
				want = append(want, one.Number)
				split[one.Outcome]++
			}
			return nil
		}, func() error { return nil }))
		list, all, err := rs.Find(t.Context(), z.ID, []tally.Part{pears, trees}, tally.Order{}, 0, 1000)
		require.NoError(t, err)
		assert.Equal(t, want, numbersOf(list), when)
		assert.Equal(t, len(want), all, when)
		require.NoError(t, rs.Tally(t.Context(), z.ID, func(k *tally.Tally) {
			for _, c := range k.Slice(pears, trees).Split(tally.Property{Kind: tally.Outcome}) {
				assert.Equal(t, split[c.Value], c.Count, when)
			}
		}))
	}
	look("at first")
	many(t, s, r, 30)
	look("with more")
	require.NoError(t, rs.DeleteResponse(t.Context(), z.ID, 5, 1))
	look("without one")
	// As if 65,536 had come.
	require.NoError(
		t,
		rs.db(t.Context()).Model(&Response{}).Where("number > 60").
			UpdateColumn("number", gorm.Expr("number + 65536")).
			Error,
	)
	rs.indexes.forget(z.ID)
	look("in two segments")
	var kept []Segment
	require.NoError(t, rs.db(t.Context()).Find(&kept).Error)
	require.Len(t, kept, 1, "the first is whole")
	rs.indexes.forget(z.ID)
	look("read from its segment")
	require.NoError(
		t,
		rs.db(t.Context()).Model(&Segment{}).Where("segment = 0").UpdateColumn("data", []byte{7, 7}).Error,
	)
	rs.indexes.forget(z.ID)
	look("made anew")
	require.NoError(t, rs.DeleteResponse(t.Context(), z.ID, 6, 1))
	require.NoError(t, rs.db(t.Context()).Find(&kept).Error)
	assert.Empty(t, kept, "nothing is left of one that is deleted")
	look("without another")
	require.NoError(t, rs.Index(t.Context()))
	require.NoError(t, s.Definitions.DeleteQuiz(t.Context(), z.ID))
	n, err := s.ForgetDeleted(t.Context(), time.Now().Add(time.Hour))
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	look("gone")
}

func appointmentsAreKept(t *testing.T, s *Store) {
	rs, ctx := s.Responses, t.Context()
	at := time.Date(2026, 4, 1, 9, 0, 0, 0, time.UTC)
	book := func(who string, minutes, seats int) error {
		return rs.Book(ctx, Booking{Calendar: "visits", Start: at.Add(time.Duration(minutes) * time.Minute),
			Minutes: 30, Response: who}, seats, 0)
	}
	require.NoError(t, book("ann", 0, 1))
	assert.ErrorIs(t, book("ben", 0, 1), ErrTaken)
	assert.ErrorIs(t, book("ben", 15, 1), ErrTaken, "as long as hers lasts")
	first, err := rs.BookingOf(ctx, "ann")
	require.NoError(t, err)
	require.NoError(t, book("ann", 0, 1))
	again, err := rs.BookingOf(ctx, "ann")
	require.NoError(t, err)
	assert.Equal(t, first.Token, again.Token, "once more is the same appointment")
	require.NoError(t, book("ann", 60, 1))
	require.NoError(t, book("ben", 0, 1), "ann has another")
	list, err := rs.Bookings(ctx, "visits", at, at.Add(time.Hour))
	require.NoError(t, err)
	assert.Len(t, list, 1)
	mine, err := rs.BookingOf(ctx, "ann")
	require.NoError(t, err)
	assert.True(t, mine.Start.Equal(at.Add(time.Hour)))

	require.NoError(t, rs.Book(ctx, Booking{Calendar: "calls", Start: at, Minutes: 30, Response: "ann"}, 1, 0))
	assert.NoError(t, book("cat", 60, 1), "a passage has one appointment, whatever the calendar")
	require.NoError(t, book("dan", 60, 2))
	assert.ErrorIs(t, book("eve", 60, 2), ErrTaken, "two seats are two")
	cat, err := rs.BookingOf(ctx, "cat")
	require.NoError(t, err)
	by, err := rs.BookingBy(ctx, cat.Token)
	require.NoError(t, err)
	assert.Equal(t, "cat", by.Response)
	require.NoError(t, rs.GiveBack(ctx, cat.Token))
	_, err = rs.BookingBy(ctx, cat.Token)
	assert.ErrorIs(t, err, ErrNotFound)
	require.NoError(t, rs.Book(ctx, cat, 2, 0))
	again, err = rs.BookingOf(ctx, "cat")
	require.NoError(t, err)
	assert.Equal(t, cat.Token, again.Token, "with its link")
	require.NoError(t, rs.GiveBack(ctx, cat.Token))
	require.NoError(t, book("eve", 60, 2))
	assert.ErrorIs(t, rs.Book(ctx, cat, 2, 0), ErrTaken, "her seat is given")
	fay := Booking{Calendar: "visits", Start: at.Add(90 * time.Minute), Minutes: 30, Response: "fay"}
	assert.ErrorIs(t, rs.Book(ctx, fay, 2, 15*time.Minute), ErrTaken, "what is kept free behind the others")
	require.NoError(t, rs.Book(ctx, fay, 2, 0))
}

// A calendar gives what it offers, each seat once however many ask at the same time.
func calendarsAreKept(t *testing.T, s *Store) {
	d, ctx := s.Definitions, t.Context()
	diary := Diary{s}
	none, err := diary.Free(ctx, "visits", now(), now().AddDate(0, 0, 9))
	require.NoError(t, err)
	assert.Empty(t, none, "there is no such calendar")
	assert.Equal(t, time.UTC, diary.Zone(ctx, "visits"))
	c := NewCalendar("visits", "Europe/Dublin")
	c.Seats = 3
	for day := range c.Hours {
		c.Hours[day] = "0-24"
	}
	c.Off = "2030-01-02 – 2030-01-05"
	require.NoError(t, d.PutCalendar(ctx, c))
	kept, err := d.Calendar(ctx, "visits")
	require.NoError(t, err)
	assert.Equal(t, "2030-01-02 to 2030-01-05", kept.Off, "as it is read")
	assert.Equal(t, "0:00–24:00", kept.Hours[3])
	for what, wrong := range map[string]func(*Calendar){
		"it needs a name":         func(c *Calendar) { c.Name = " " },
		"is no time zone":         func(c *Calendar) { c.Zone = "Quillbrook" },
		"Tuesday: hours":          func(c *Calendar) { c.Hours[2] = "early" },
		"is not a date":           func(c *Calendar) { c.Off = "Christmas" },
		"from 5 minutes to 24 ho": func(c *Calendar) { c.Minutes = 0 },
	} {
		bad := NewCalendar("bad", "UTC")
		wrong(&bad)
		err := d.PutCalendar(ctx, bad)
		assert.ErrorIs(t, err, ErrCalendar, what)
		assert.ErrorContains(t, err, what)
	}

	free, err := diary.Free(ctx, "visits", now(), now().AddDate(0, 0, 9))
	require.NoError(t, err)
	require.NotEmpty(t, free)
	assert.Equal(t, "Europe/Dublin", free[0].Location().String())
	book := func(name string, at time.Time, who string) error {
		return diary.Book(ctx, Booking{Calendar: name, Start: at, Response: who})
	}
	var given atomic.Int32
	var asking sync.WaitGroup
	for i := range 12 {
		asking.Go(func() {
			if err := book("visits", free[0], fmt.Sprint("r", i)); err == nil {
				given.Add(1)
			} else {
				assert.ErrorIs(t, err, ErrTaken)
			}
		})
	}
	asking.Wait()
	assert.EqualValues(t, 3, given.Load())
	after, err := diary.Free(ctx, "visits", now(), now().AddDate(0, 0, 9))
	require.NoError(t, err)
	assert.NotContains(t, after, free[0])
	assert.ErrorIs(t, book("visits", free[1].Add(time.Minute), "late"), ErrTaken, "what is not offered can't be taken")
	assert.ErrorIs(t, book("visits", free[0].AddDate(-1, 0, 0), "late"), ErrTaken, "nor what is over")
	assert.ErrorIs(t, book("calls", free[1], "late"), ErrTaken, "nor what no calendar has")
	c.Lead = 48
	require.NoError(t, d.PutCalendar(ctx, c))
	assert.ErrorIs(t, book("visits", free[1], "late"), ErrTaken, "nor what is too soon by now")

	// What is booked stays, and blocks what overlaps it when the hours are others.
	c.Minutes, c.Lead = 20, 2
	require.NoError(t, d.PutCalendar(ctx, c))
	near, err := diary.Free(ctx, "visits", free[0].Add(-time.Hour), free[0].Add(time.Hour))
	require.NoError(t, err)
	require.NotEmpty(t, near)
	for _, at := range near {
		assert.True(t, at.Add(20*time.Minute).Compare(free[0]) <= 0 || at.Compare(free[0].Add(30*time.Minute)) >= 0, at)
	}
	require.NoError(t, d.RemoveCalendar(ctx, "visits"))
	list, err := d.Calendars(ctx)
	require.NoError(t, err)
	assert.Empty(t, list)
}

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
		require.NoError(t, rs.Part(t.Context(), taken))
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

// nothingAfterItsTime asks in vain when the time for an answer has passed.
func nothingAfterItsTime(t *testing.T, s *Store) {
	z, r := add(t, s, asked("Bees"))
	many(t, s, r, 3)
	ended, end := context.WithCancel(t.Context())
	end()
	for what, err := range map[string]error{
		"read":    errOf(s.Definitions.Quizzes(ended)),
		"write":   s.Definitions.PutProducts(ended, []Product{{Key: "hive", Name: "Hive"}}),
		"passage": errOf(s.Responses.Start(ended, r, z.Slug, program.Visitor{})),
		"figures": s.Responses.Tally(ended, z.ID, func(*tally.Tally) {}),
		"people":  errOf(s.People.Users(ended)),
	} {
		assert.ErrorIs(t, err, context.Canceled, what)
	}
}

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

// A quiz with its picture, sign, product and place goes from one workspace into another, to
// the byte; what is there already stays as it is.
func quizzesAreTakenAlong(t *testing.T, s *Store) {
	d, ctx := s.Definitions, t.Context()
	var drawn bytes.Buffer
	require.NoError(t, png.Encode(&drawn, image.NewRGBA(image.Rect(0, 0, 3, 2))))
	kept, err := d.AddPicture(ctx, Picture{Type: "image/png", Width: 3, Height: 2, Data: drawn.Bytes()})
	require.NoError(t, err)
	m := quiztest.New("lead")
	m.Ask("where", quiz.Location).Table = "yards"
	m.Questions["where"].Picture = &quiz.Picture{Source: "/pictures/" + kept.Name, Description: "A yard"}
	m.Outcomes["lead"].Landings = map[string]*quiz.Landing{
		"shop": {Order: 1, Kind: quiz.ProductsLanding,
			When: &quiz.Condition{Subject: quiz.Subject{Visitor: "country"}, Test: quiz.Test{Op: quiz.Is,
				Value: quiz.Words("IE")}},
			Products: &quiz.Products{Named: []quiz.Named{{Key: "hive"}}}},
		"sign": {Order: 2, Kind: quiz.RedirectLanding, Signpost: &quiz.Signpost{Table: "visits", Row: "all"}},
	}
	m.Ask("when", quiz.Appointment).Table = "visits"
	visits := NewCalendar("visits", "Europe/Dublin")
	visits.Hours[2], visits.Minutes = "9–12", 45
	require.NoError(t, d.PutCalendar(ctx, visits))
	require.NoError(t, d.PutCalendar(ctx, NewCalendar("others", "UTC")))
	m.Quiz.Rehearsals = map[string]*quiz.Rehearsal{"one": {Order: 1, Name: "One", Outcome: "lead"}}
	z, err := d.AddQuiz(ctx, m.Quiz)
	require.NoError(t, err)
	require.NoError(t, d.PutSignposts(ctx,
		[]Signpost{{Table: "visits", Row: "all", Address: "https://example.org/visit"},
			{Table: "others", Row: "x", Address: "https://example.org/x"}}, 1))
	require.NoError(t, d.PutProducts(ctx, []Product{{Key: "hive", Name: "A hive", Price: "12.50",
		Currency: "EUR"}, {Key: "jar", Name: "A jar"}}))
	require.NoError(t, d.PutPlaces(ctx, []Place{{Table: "yards", Key: "cork", Name: "Cork", Latitude: 51.9,
		Longitude: -8.5}}))
	packed, err := d.Pack(ctx, z)
	require.NoError(t, err)
	assert.Len(t, packed.Tables["signposts"], 1, "what it uses, and no more")
	assert.Len(t, packed.Tables["products"], 1)
	var file bytes.Buffer
	require.NoError(t, bundle.Write(&file, packed))

	other := open(t, filepath.Join(t.TempDir(), "other.db"))
	require.NoError(t, other.Definitions.PutSignposts(ctx,
		[]Signpost{{Table: "visits", Row: "all", Address: "https://example.org/ours"}}, 1))
	read, err := bundle.Read(file.Bytes())
	require.NoError(t, err)
	got, err := other.Definitions.Unpack(ctx, read)
	require.NoError(t, err)
	assert.Equal(t, z.Draft, got.Draft, "to the byte, its rehearsals too")
	at, err := other.Definitions.SignpostAt(ctx, "visits", "all")
	require.NoError(t, err)
	assert.Equal(t, "https://example.org/ours", at, "what was there stays")
	hours, err := other.Definitions.Calendars(ctx)
	require.NoError(t, err)
	require.Len(t, hours, 1, "that which it uses")
	assert.Equal(t, "9:00–12:00 45", fmt.Sprint(hours[0].Hours[2], " ", hours[0].Minutes))
	assert.Equal(t, "Cork", other.Definitions.PlaceName(ctx, "yards", "cork"))
	products, err := other.Definitions.Products(ctx)
	require.NoError(t, err)
	require.Len(t, products, 1)
	assert.Equal(t, "12.50 EUR", products[0].PriceText())
	picture, err := other.Definitions.Picture(ctx, kept.Name)
	require.NoError(t, err)
	assert.Equal(t, drawn.Bytes(), picture.Data)
	again, err := other.Definitions.Pack(ctx, got)
	require.NoError(t, err)
	assert.Equal(t, packed.Pictures, again.Pictures)

	read.Pictures = map[string][]byte{kept.Name: []byte("<svg onload='x'/>")}
	_, err = other.Definitions.Unpack(ctx, read)
	assert.ErrorIs(t, err, bundle.ErrBundle, "what is no picture is not kept")
	read.Document = []byte("{}")
	_, err = other.Definitions.Unpack(ctx, read)
	assert.ErrorAs(t, err, new(quiz.Problem))
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
