package slice_test

import (
	"bytes"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"math"
	"net/url"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/interchange/rows"
	"omphalos/store"
	"omphalos/store/slice"
	"omphalos/store/tally"
)

// A sentence is read field by field; what is not understood is told, and the rest stays.
func TestRead(t *testing.T) {
	releases := []store.Release{{ID: 41, Number: 2}, {ID: 40, Number: 1}}
	millions := func(n int64) int64 { return n * int64(decimal.One) }
	for query, due := range map[string]tally.Part{
		"outcome=walk&outcome=call": {Of: tally.Property{Kind: tally.Outcome}, Values: []string{"walk", "call"}},
		"release=2":                 {Of: tally.Property{Kind: tally.Release}, Values: []string{"41"}},
		"answer.pests.mites=often": {Of: tally.Property{Kind: tally.Answer, Key: "pests",
			Row: "mites"}, Values: []string{"often"}},
		"score.need=-2.5..18": {Of: tally.Property{Kind: tally.Score, Key: "need"},
			From: -2_500_000, To: millions(18)},
		"score.need=7": {Of: tally.Property{Kind: tally.Score, Key: "need"},
			From: millions(7), To: millions(7)},
		"amount.hives=3..": {Of: tally.Property{Kind: tally.Amount, Key: "hives"},
			From: millions(3), To: math.MaxInt64},
		"amount.since=1970-01-02..1970-01-11": {Of: tally.Property{Kind: tally.Amount, Key: "since"},
			From: millions(1), To: millions(10)},
		"from=1970-01-02": {Of: tally.Property{Kind: tally.Finished}, From: 86_400, To: math.MaxInt64},
		"from=1970-01-02T10:20:30": {Of: tally.Property{Kind: tally.Finished}, From: 86_400 +
			37_230, To: math.MaxInt64},
		"to=1970-01-02T00:00:05": {Of: tally.Property{Kind: tally.Finished}, From: math.MinInt64, To: 86_405},
		"to=1970-01-02&source=&from=": {Of: tally.Property{Kind: tally.Finished}, From: math.MinInt64,
			To: 2*86_400 - 1},
		"from=1970-01-02&to=1970-01-02&from=x": {Of: tally.Property{Kind: tally.Finished}, From: 86_400, To: 2*86_400 - 1},
	} {
		fields, err := url.ParseQuery(query)
		require.NoError(t, err)
		read, wrong := slice.Read(utc, releases, fields)
		assert.Empty(t, wrong, query)
		assert.Equal(t, []tally.Part{due}, read.All(), query)
	}
	for query, told := range map[string]string{
		"sorce=x": "sorce is no field", "score=3": "score is no field", "score.need=..": "no range",
		"score.need=a..b": "no range", "from=1.10.2026": "no day", "to=2026-02-30": "no day", "answer=x": "is no field",
	} {
		fields, err := url.ParseQuery(query + "&device=phone")
		require.NoError(t, err)
		read, wrong := slice.Read(utc, releases, fields)
		require.Len(t, wrong, 1, query)
		assert.Contains(t, wrong[0], told)
		assert.Equal(t, url.Values{"device": {"phone"}}, read.Asked)
	}
}

// kept keeps a quiz of three releases, in which a question is asked in other ways, and
// responses to each.
func kept(t *testing.T) (*store.Store, *store.Quiz) {
	s, err := store.Open(filepath.Join(t.TempDir(), "w.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	m := quiztest.New("cold", "hot")
	m.Scale("need", quiz.Sum).Name = "Need"
	m.Ask("crop", quiz.Single, "apples need=3", "other need=1").Answers["other"].WriteIn = true
	m.Ask("tools", quiz.Several, "saw", "ladder")
	m.Ask("hives", quiz.Number)
	m.Ask("since", quiz.Date)
	m.Ask("mail", quiz.Email)
	m.Ask("say", quiz.ShortText)
	m.Bands("need", "cold", "2=hot")
	z, err := s.Definitions.AddQuiz(t.Context(), m.Quiz)
	require.NoError(t, err)
	release := func() uint {
		z, err = s.Definitions.Quiz(t.Context(), z.ID)
		require.NoError(t, err)
		r, err := s.Definitions.Release(t.Context(), z.ID, z.Revision, 1)
		require.NoError(t, err)
		return r.ID
	}
	edit := func(patch string) {
		_, _, err := s.Definitions.Edit(t.Context(), z.ID, z.Revision, []byte(patch), 1)
		require.NoError(t, err)
	}
	first := release()
	edit(`[{"op":"remove","path":"/questions/say"}]`)
	second := release()
	edit(`[{"op":"replace","path":"/questions/hives/kind","value":"shorttext"}]`)
	third := release()
	at := time.Date(2026, 6, 1, 12, 0, 0, 0, time.UTC)
	one := func(release uint, visitor string, answers ...store.ResponseAnswer) *store.Response {
		at = at.Add(time.Hour)
		return &store.Response{
			QuizID: z.ID, ReleaseID: release, Passage: store.PassageNumber(), Outcome: "hot",
			Started: at.Add(-90 * time.Second), Finished: at, Visitor: visitor,
			Scores: []store.ResponseScore{{Scale: "need", Millionths: 1_500_000}}, Answers: answers,
		}
	}
	with := one(second, `{"source":"a:b\u001f12:c"}`, store.ResponseAnswer{Question: "hives", Answer: "2.5"},
		store.ResponseAnswer{Question: "since", Answer: "2020-02-29"})
	with.Contacts = []store.Contact{{Field: "mail", Kind: quiz.Email, Value: "a@example.org"}}
	require.NoError(t, s.Responses.AddResponses(t.Context(), []*store.Response{
		one(first, `{}`, store.ResponseAnswer{Question: "crop", Answer: "other", WriteIn: "quince"},
			store.ResponseAnswer{Question: "say", Answer: "=1+1"}),
		with,
		one(third, `{"device":"phone"}`, store.ResponseAnswer{Question: "tools", Answer: "saw"},
			store.ResponseAnswer{Question: "tools", Answer: "ladder"},
			store.ResponseAnswer{Question: "hives", Answer: "some"}),
	}))
	return s, z
}

// out writes all of a slice as lines of JSON, and reads them.
func out(t *testing.T, s *store.Store, z *store.Quiz, query url.Values) (list []map[string]any) {
	releases, err := s.Definitions.Releases(t.Context(), z.ID)
	require.NoError(t, err)
	shown, err := releases[0].Read()
	require.NoError(t, err)
	read, wrong := slice.Read(slice.DaysIn(s.Responses.Zone()), releases, query)
	require.Empty(t, wrong)
	var file bytes.Buffer
	o := slice.Out{Responses: s.Responses, Quiz: z.ID, Shown: shown, Releases: releases, Slice: read, Format: rows.Lines}
	require.NoError(t, o.Write(t.Context(), &file, func(int) error { return nil }))
	for d := json.NewDecoder(&file); d.More(); {
		var row map[string]any
		require.NoError(t, d.Decode(&row))
		list = append(list, row)
	}
	return list
}

// Every answer goes out in its column, whatever else a later release asks there; what is
// written in stands beside its answer, and who somebody is among the contact.
func TestOut(t *testing.T) {
	s, z := kept(t)
	list := out(t, s, z, nil)
	require.Len(t, list, 3)
	for i, due := range []map[string]any{
		{"release": 1.0, "finished": "2026-06-01T14:00:00.000Z", "answer.crop": "other", "words.crop": "quince",
			"answer.say": "=1+1"},
		{"release": 2.0, "finished": "2026-06-01T13:00:00.000Z", "answer.hives": "2.5",
			"answer.since": "2020-02-29", "contact.mail": "a@example.org", "source": "a:b\x1f12:c"},
		{"release": 3.0, "finished": "2026-06-01T15:00:00.000Z", "answer.tools": []any{"saw", "ladder"},
			"answer.hives": "some", "device": "phone"},
	} {
		due["number"], due["seconds"], due["outcome"], due["score.need"] = float64(i+1), 90.0, "hot", 1.5
		assert.Equal(t, due, list[i])
	}
	assert.Len(t, out(t, s, z, url.Values{"release": {"1", "3"}}), 2)
	assert.Len(t, out(t, s, z, url.Values{"device": {"tablet"}}), 0)
	q, err := z.Document()
	require.NoError(t, err)
	releases, err := s.Definitions.Releases(t.Context(), z.ID)
	require.NoError(t, err)
	table := slice.NewTable(q, releases, time.UTC)
	kinds := map[string]rows.Kind{}
	for _, c := range table.Columns {
		kinds[c.Key] = c.Kind
	}
	assert.Equal(t, rows.Text, kinds["answer.hives"], "as it was asked for numbers and for words")
	assert.Equal(t, rows.Day, kinds["answer.since"])
	assert.True(t, table.Has(tally.Property{Kind: tally.Answer, Key: "say"}), "an earlier release asked it")
	assert.False(t, table.Has(tally.Property{Kind: tally.Score, Key: "pull"}))
	said := fmt.Sprint(slice.Questions(q).Rows)
	for _, words := range []string{"answer.crop", "apples", "words.crop", "contact.mail", "Need", "cold"} {
		assert.Contains(t, said, words)
	}
}

// Responses are read ahead of whoever takes them: one that fails, or goes away, ends it.
func TestOutEnds(t *testing.T) {
	s, z := kept(t)
	many := make([]*store.Response, 9000)
	for i := range many {
		many[i] = &store.Response{QuizID: z.ID, ReleaseID: 1, Passage: store.PassageNumber(), Outcome: "cold",
			Finished: time.Now(), Visitor: "{}"}
	}
	for some := range slices.Chunk(many, 1000) {
		require.NoError(t, s.Responses.AddResponses(t.Context(), some))
	}
	var numbers []int
	taken := 0
	require.NoError(t, s.Responses.EachOf(t.Context(), z.ID, nil, func(r *store.Response) error {
		numbers = append(numbers, r.Number)
		return nil
	}, func() error { taken++; return nil }))
	require.Len(t, numbers, 9003)
	assert.True(t, slices.IsSorted(numbers))
	assert.Equal(t, 5, taken)
	enough := fmt.Errorf("enough")
	assert.ErrorIs(t, s.Responses.EachOf(t.Context(), z.ID, nil, func(*store.Response) error {
		return nil
	}, func() error { return enough }), enough)
	assert.ErrorIs(t, s.Responses.EachOf(t.Context(), z.ID, nil, func(r *store.Response) error {
		if r.Number > 5000 {
			return enough
		}
		return nil
	}, func() error { return nil }), enough)
}

// The figures that go out are those of counting one by one.
func TestFigures(t *testing.T) {
	s, z := kept(t)
	q, err := z.Document()
	require.NoError(t, err)
	var sheet rows.Sheet
	require.NoError(t, s.Responses.Tally(t.Context(), z.ID, func(t *tally.Tally) { sheet = slice.Figures(slice.PoolOf(q, nil), t.Slice(), nil) }))
	found := map[string][]rows.Cell{}
	for _, row := range sheet.Rows {
		found[row[0].Text+"="+row[1].Text] = row[3:]
	}
	share := func(count, millionths int64) []rows.Cell {
		return []rows.Cell{rows.Counted(count), {Given: true, N: millionths}, {}}
	}
	assert.Equal(t, share(3, 1_000_000), found["outcome=hot"])
	assert.Equal(t, share(1, 1_000_000), found["answer.tools=saw"], "of one who answered, who gave two answers")
	assert.Equal(t, share(1, 1_000_000), found["answer.tools=ladder"])
	assert.Equal(t, []rows.Cell{rows.Counted(3), {}, {Given: true, N: 1_500_000}}, found["score.need="])
}

var million = flag.String("million", "", "workspace of a demo with many responses, see make bench-million")

// season is the number of the demo's quiz that has the many responses.
const season = 5

// BenchmarkOut writes a million responses in each format.
func BenchmarkOut(b *testing.B) {
	if *million == "" {
		b.Skip("only make bench-million has so many")
	}
	s, err := store.Open(*million)
	require.NoError(b, err)
	defer s.Close()
	releases, err := s.Definitions.Releases(b.Context(), season)
	require.NoError(b, err)
	shown, err := releases[0].Read()
	require.NoError(b, err)
	for _, f := range rows.Formats {
		b.Run(string(f), func(b *testing.B) {
			read, wrong := slice.Read(utc, releases, nil)
			require.Empty(b, wrong)
			out := slice.Out{Responses: s.Responses, Quiz: season, Shown: shown, Releases: releases, Slice: read, Format: f}
			written := 0
			for b.Loop() {
				require.NoError(b, out.Write(b.Context(), io.Discard, func(n int) error { written = n; return nil }))
			}
			b.ReportMetric(float64(written*b.N)/b.Elapsed().Seconds(), "rows/s")
		})
	}
}
