package tally

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var (
	crop   = Property{Kind: Answer, Key: "crop"}
	source = Property{Kind: Source}
	points = Property{Kind: Score, Key: "points"}
)

// drawn makes entries whose numbers lie in several segments, some at their borders.
func drawn(t *rapid.T) []Entry {
	var list []Entry
	number := 0
	for range rapid.IntRange(0, 60).Draw(t, "entries") {
		number += rapid.SampledFrom([]int{1, 1, 2, 40, 65_535 - number%65_536, 65_536}).Draw(t, "on")
		if number == 0 {
			number = 1
		}
		if len(list) > 0 && number <= list[len(list)-1].Number {
			number = list[len(list)-1].Number + 1
		}
		e := Entry{Number: number}
		for _, value := range rapid.SliceOfNDistinct(rapid.SampledFrom([]string{"apples", "pears", "plums"}), 0,
			3, rapid.ID).Draw(t, "crops") {
			e.Sets = append(e.Sets, Member{crop, value})
		}
		e.Set(Source, rapid.SampledFrom([]string{"", "fair", "letter"}).Draw(t, "source"))
		if rapid.Bool().Draw(t, "scored") {
			e.Values = append(e.Values, Value{points, rapid.Int64Range(-3, 3).Draw(t, "points")})
		}
		list = append(list, e)
	}
	return list
}

func filled(list []Entry) *Tally {
	t := New()
	for i := range list {
		t.Add(&list[i])
	}
	return t
}

func (e *Entry) has(of Property, value string) bool {
	return slices.Contains(e.Sets, Member{of, value})
}

func (e *Entry) value(of Property) (int64, bool) {
	for _, v := range e.Values {
		if v.Of == of {
			return v.Value, true
		}
	}
	return 0, false
}

func (e *Entry) fits(p Part) bool {
	fits := slices.ContainsFunc(p.Values, func(v string) bool { return e.has(p.Of, v) })
	if p.Of.Kind.Column() {
		v, has := e.value(p.Of)
		fits = has && p.From <= v && v <= p.To
	}
	return fits != p.Not
}

var parts = rapid.Custom(func(t *rapid.T) Part {
	p := Part{
		Of:  rapid.SampledFrom([]Property{crop, source, points, {Kind: Medium}}).Draw(t, "of"),
		Not: rapid.Bool().Draw(t, "not"),
	}
	if p.Of.Kind.Column() {
		p.From = rapid.Int64Range(-4, 4).Draw(t, "from")
		p.To = p.From + rapid.Int64Range(0, 4).Draw(t, "more")
	} else {
		p.Values = rapid.SliceOfN(rapid.SampledFrom([]string{"apples", "pears", "plums", "fair", "letter"}), 1,
			3).Draw(t, "values")
	}
	return p
})

// Whatever is asked of a tally is what looking at each response says: filters, counts, bins,
// pages in every order; also when segments were written and read, and responses taken away.
func TestTheTallyIsWhatTheResponsesSay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		list := drawn(t)
		tally := filled(list)
		if len(list) > 0 && rapid.Bool().Draw(t, "kept") { // the last segment is open
			again := New()
			open := SegmentOf(tally.Last())
			for segment := range open {
				require.NoError(t, again.Load(segment, tally.Seal(segment)))
			}
			for i := range list {
				if SegmentOf(list[i].Number) == open {
					again.Add(&list[i])
				}
			}
			tally = again
		}
		for range rapid.IntRange(0, min(3, len(list))).Draw(t, "gone") {
			i := rapid.IntRange(0, len(list)-1).Draw(t, "which")
			tally.Remove(list[i].Number)
			list = slices.Delete(list, i, i+1)
		}
		require.Equal(t, len(list), tally.All())

		asked := rapid.SliceOfN(parts, 0, 3).Draw(t, "parts")
		slice := tally.Slice(asked...)
		var named []*Entry
		for i := range list {
			if !slices.ContainsFunc(asked, func(p Part) bool { return !list[i].fits(p) }) {
				named = append(named, &list[i])
			}
		}
		require.Equal(t, len(named), slice.Count())
		crops, bins, cross := map[string]int{}, map[int64]int{}, map[string]map[string]int{}
		for _, e := range named {
			for _, m := range e.Sets {
				if m.Of != crop {
					continue
				}
				crops[m.Value]++
				for _, s := range e.Sets {
					if s.Of == source {
						if cross[m.Value] == nil {
							cross[m.Value] = map[string]int{}
						}
						cross[m.Value][s.Value]++
					}
				}
			}
			if v, has := e.value(points); has {
				bins[(v+100)/2-50]++
			}
		}
		split := slice.Split(crop)
		assert.Len(t, split, len(crops))
		for _, c := range split {
			assert.Equal(t, crops[c.Value], c.Count)
		}
		assert.True(t, slices.IsSortedFunc(split, func(a, b Count) int { return b.Count - a.Count }))
		for value, row := range slice.Cross(crop, source) {
			assert.Equal(t, cross[value], row)
		}
		got := slice.Values(points, 2)
		assert.Len(t, got, len(bins))
		for _, b := range got {
			assert.Equal(t, bins[b.Value], b.Count)
		}

		by := Order{rapid.SampledFrom([]Property{{}, source, points}).Draw(t, "by"), rapid.Bool().Draw(t, "falling")}
		slices.SortFunc(named, func(a, b *Entry) int { return placing(a, b, by) })
		var all []int
		mark, most := Mark(0), rapid.IntRange(1, 7).Draw(t, "most")
		for {
			page := slice.Page(by, mark, most)
			require.LessOrEqual(t, len(page), most)
			all = append(all, page...)
			if len(page) < most {
				break
			}
			mark = Mark(page[len(page)-1])
		}
		require.Len(t, all, len(named))
		for i, e := range named {
			require.Equal(t, e.Number, all[i], "place %d by %v", i, by)
		}
	})
}

// placing is the order that Page promises.
func placing(a, b *Entry, by Order) int {
	turn := 1
	if by.Falling {
		turn = -1
	}
	key := func(e *Entry) (string, int64, bool) {
		for _, m := range e.Sets {
			if m.Of == by.By {
				return m.Value, 0, true
			}
		}
		v, has := e.value(by.By)
		return "", v, has
	}
	aText, aValue, aHas := key(a)
	bText, bValue, bHas := key(b)
	switch {
	case aHas && !bHas:
		return -1
	case bHas && !aHas:
		return 1
	}
	return cmp.Or(turn*cmp.Compare(aText, bText), turn*cmp.Compare(aValue, bValue), turn*(a.Number-b.Number))
}

// What everybody may write into an address takes no more memory than there is for it.
func TestFurtherValuesAreCountedTogether(t *testing.T) {
	tally := New()
	const many = mostValues + 100
	for n := 1; n <= many; n++ {
		e := Entry{Number: n}
		e.Set(Campaign, fmt.Sprint("c", n))
		tally.Add(&e)
	}
	split := tally.Slice().Split(Property{Kind: Campaign})
	assert.Equal(t, Count{Rest, 100}, split[0])
	assert.Len(t, split, mostValues+1)
}

// What is no segment is refused, whatever it is.
func FuzzLoad(f *testing.F) {
	tally := New()
	for n := 1; n < 5; n++ {
		e := Entry{Number: n, Values: []Value{{points, int64(n * n)}}}
		e.Set(Source, "fair")
		tally.Add(&e)
	}
	f.Add(tally.Seal(0))
	f.Fuzz(func(t *testing.T, kept []byte) {
		if err := New().Load(0, kept); err != nil {
			assert.ErrorIs(t, err, ErrSegment)
		}
	})
}

// many is a tally of a million responses with ten answers each.
func many(b *testing.B) *Tally {
	b.Helper()
	t := New()
	var e Entry
	for n := 1; n <= 1_000_000; n++ {
		e.Number, e.Sets, e.Values = n, e.Sets[:0], e.Values[:0]
		x := uint32(n) * 2654435761
		for q := range 10 {
			x = x*1664525 + 1013904223
			e.Sets = append(
				e.Sets,
				Member{Property{Kind: Answer, Key: "q" + string(rune('0'+q))}, string(rune('a' + x>>29))},
			)
		}
		e.Set(Source, string(rune('a'+x>>20&3)))
		e.Set(Outcome, string(rune('a'+x>>23&7)))
		e.Values = append(e.Values, Value{points, int64(x >> 24)})
		t.Add(&e)
		if n%segmentSize == segmentSize-1 {
			t.Seal(SegmentOf(n))
		}
	}
	return t
}

func BenchmarkTally(b *testing.B) {
	t := many(b)
	asked := []Part{{Of: Property{Kind: Answer, Key: "q1"}, Values: []string{"a", "b", "c"}},
		{Of: Property{Kind: Source}, Values: []string{"a"}, Not: true}, {Of: points, From: 20, To: 200}}
	b.Run("all answers under three filters", func(b *testing.B) {
		for b.Loop() {
			t.Slice(asked...).SplitAll(Answer)
		}
	})
	b.Run("a page by score under three filters", func(b *testing.B) {
		for b.Loop() {
			t.Slice(asked...).Page(Order{points, true}, 700_000, 50)
		}
	})
	b.Run("bins of scores", func(b *testing.B) {
		for b.Loop() {
			t.Slice().Values(points, 1)
		}
	})
	b.ReportMetric(float64(t.Size()), "bytes")
}

// What comes later is counted like the rest, and is not in a segment that is kept: that would
// tell of the day on which it was written.
func TestMarksAreNotKept(t *testing.T) {
	var list []Entry
	for n := 1; n <= 70_000; n++ {
		list = append(list, Entry{Number: n, Sets: []Member{{crop, []string{"apples", "pears"}[n%2]}}})
	}
	all := filled(list)
	contact := Property{Kind: Contact}
	for n := 1; n <= 70_000; n += 10 {
		all.Mark(contact, "yes", n)
	}
	with := Part{Of: contact, Values: []string{"yes"}}
	assert.Equal(t, 7000, all.Slice(with).Count())
	assert.Equal(t, []Count{{"pears", 7000}}, all.Slice(with).Split(crop), "the odd ones")
	read := New()
	require.NoError(t, read.Load(0, all.Seal(0)))
	assert.Equal(t, 65_535, read.All())
	assert.Zero(t, read.Slice(with).Count())
	all.Remove(11)
	assert.Equal(t, 6999, all.Slice(with).Count())
}

// A tally in which things change is as one that was made of what they are now, and a sorted
// column gives the pages that sorting them all gives.
func TestPut(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		of, state := Property{Kind: Finished}, Property{Kind: State}
		changed, now := New(), map[int]Entry{}
		if rapid.Bool().Draw(t, "sorted from the beginning") {
			changed.Sort(of)
		}
		sparseOnce(t)
		for range rapid.IntRange(1, 60).Draw(t, "changes") {
			n := rapid.IntRange(1, 20).Draw(t, "number")
			if rapid.IntRange(0, 4).Draw(t, "gone") == 0 {
				changed.Remove(n)
				delete(now, n)
				continue
			}
			e := Entry{Number: n, Sets: []Member{{state, rapid.SampledFrom([]string{"new", "won"}).Draw(t, "state")}}}
			if rapid.Bool().Draw(t, "valued") {
				e.Values = []Value{{of, rapid.Int64Range(0, 6).Draw(t, "value")}}
			}
			changed.Put(&e)
			now[n] = e
		}
		changed.Sort(of)
		fresh := New()
		for _, n := range slices.Sorted(maps.Keys(now)) {
			e := now[n]
			fresh.Add(&e)
		}
		assert.Equal(t, fresh.All(), changed.All())
		for _, slice := range [][]Part{nil, {{Of: state, Values: []string{"won"}}}} {
			a, b := fresh.Slice(slice...), changed.Slice(slice...)
			assert.Equal(t, a.Split(state), b.Split(state))
			assert.ElementsMatch(t, a.Values(of, 1), b.Values(of, 1))
			for _, falling := range []bool{false, true} {
				order, after := Order{By: of, Falling: falling}, Mark(0)
				for range 4 {
					want := a.Page(order, after, 5)
					assert.Equal(t, want, b.Page(order, after, 5))
					if len(want) == 0 {
						break
					}
					after = Mark(want[len(want)-1])
				}
			}
		}
	})
}

// sparseOnce has a sorted column used however few there are.
func sparseOnce(t *rapid.T) {
	before := sparse
	sparse = 0
	t.Cleanup(func() { sparse = before })
}
