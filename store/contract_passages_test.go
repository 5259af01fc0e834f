package store

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"omphalos/core/odds"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/store/tally"
)

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
		require.NoError(t, rs.ScreenOut(t.Context(), parted, odds.Screened{Place: "crop", Outcome: "later"}))
		_, err = rs.Passage(t.Context(), parted.ID)
		assert.ErrorIs(t, err, ErrNotFound)
	}
	screened, err := rs.Screened(t.Context(), z.ID, nil)
	require.NoError(t, err)
	assert.Equal(t, []odds.Screened{{Place: "crop", Outcome: "later", Count: 2}}, screened)
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
