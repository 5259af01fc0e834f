package learn

import (
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store/slice"
	"omphalos/store/tally"
)

func bins(pairs ...int64) (list []tally.Bin) {
	for i := 0; i < len(pairs); i += 2 {
		list = append(list, tally.Bin{Value: pairs[i] * int64(decimal.One), Count: int(pairs[i+1])})
	}
	return list
}

// Ranges cover every number that was given, each once, and are about as many as fit.
func TestRangesOfNumbers(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		unit := rapid.SampledFrom([]int64{1, 1000, int64(decimal.One)}).Draw(t, "unit")
		values := rapid.SliceOfNDistinct(rapid.Int64Range(-50_000, 50_000), 1, 40, rapid.ID).Draw(t, "values")
		var of []tally.Bin
		low, high := values[0], values[0]
		for _, v := range values {
			low, high = min(low, v), max(high, v)
			of = append(of, tally.Bin{Value: v * unit, Count: 1})
		}
		of[0].Value, of[len(of)-1].Value = low*unit, high*unit // the least first
		spans := spansOf(&quiz.Question{Kind: quiz.Number}, of)
		assert.LessOrEqual(t, len(spans), 2*mostSpans+2)
		for _, b := range of {
			in := 0
			for _, s := range spans {
				in += within([]tally.Bin{b}, s)
			}
			assert.Equal(t, 1, in, "%d is in one of %v", b.Value, spans)
		}
	})
	huge := []tally.Bin{{Value: int64(decimal.Min), Count: 1}, {Value: int64(decimal.Max), Count: 1}}
	spans := spansOf(&quiz.Question{Kind: quiz.Number}, huge)
	assert.LessOrEqual(t, len(spans), 2*mostSpans+2, "the largest numbers there are")
	assert.Equal(t, "0 to 4", spansOf(&quiz.Question{Kind: quiz.Number}, bins(2, 1, 39, 1))[0].label)
	assert.Equal(t, "2", spansOf(&quiz.Question{Kind: quiz.Number}, bins(2, 1, 9, 1))[0].label)
	assert.Len(t, spansOf(&quiz.Question{Kind: quiz.Rating}, bins(5, 1)), 11, "every point of a rating")
	day := func(s string) int64 { d, _ := quiz.ParseDay(s); return int64(d / decimal.One) }
	months := spansOf(&quiz.Question{Kind: quiz.Date}, bins(day("2026-01-31"), 1, day("2026-03-01"), 1))
	assert.Equal(t, []string{"January 2026", "February 2026", "March 2026"},
		[]string{months[0].label, months[1].label, months[2].label})
	assert.Equal(t, "2026-02-28", quiz.DayText(months[1].to))

	limited := &quiz.Question{Kind: quiz.Number, Limits: &quiz.Limits{Low: quiz.NumberBound(decimal.One),
		High: quiz.NumberBound(38 * decimal.One)}}
	within := spansOf(limited, bins(1, 1, 38, 1))
	assert.Equal(t, []string{"1 to 4", "35 to 38"}, []string{within[0].label, within[len(within)-1].label})
	assert.Equal(t, "0 to 4", spansOf(limited, bins(0, 1, 38, 1))[0].label, "an earlier release took it")
}

// Days are shown however long ago they are; a typo of a year or two stands aside.
func TestRangesOfDays(t *testing.T) {
	day := func(s string) int64 { d, _ := quiz.ParseDay(s); return int64(d / decimal.One) }
	labels := func(pairs ...int64) (list []string) {
		all := bins(pairs...)
		spans := spansOf(&quiz.Question{Kind: quiz.Date}, all)
		for _, b := range all {
			in := 0
			for _, s := range spans {
				in += within([]tally.Bin{b}, s)
			}
			assert.Equal(t, b.Count, in, "%d of %v", b.Value, spans)
		}
		for _, s := range spans {
			list = append(list, s.label)
		}
		return list
	}
	assert.Equal(t, []string{"before 2026-01-01", "January 2026", "February 2026", "after 2026-02-28"},
		labels(day("1026-01-05"), 1, day("2026-01-05"), 120, day("2026-02-05"), 180, day("2206-01-05"), 1))
	years := labels(day("1941-05-05"), 3, day("1960-01-01"), 30, day("1989-12-31"), 30, day("2008-02-29"), 3)
	assert.Equal(t, []string{"1940 to 1949", "2000 to 2009"}, []string{years[0], years[len(years)-1]})
	assert.Equal(t, []string{"October to December 1968", "January to March 1969"},
		labels(day("1968-11-05"), 3, day("1969-01-01"), 3, day("1973-01-01"), 3)[:2], "before the epoch")
	assert.Len(t, labels(day("2020-01-01"), 1, day("2026-12-31"), 1), 7, "years")
}

// What the address says is what its own links say, whatever stands in it.
func TestTheAddressOfASlice(t *testing.T) {
	q, none := &quiz.Quiz{}, slice.TableOf(nil, nil, time.UTC)
	read := func(query url.Values) *sentence {
		s, _ := sentenceAt("/learn", q, nil, nil, query, none, slice.DaysIn(time.UTC)) // what is wrong is another test's
		return s
	}
	rapid.Check(t, func(t *rapid.T) {
		query := url.Values{}
		for range rapid.IntRange(0, 6).Draw(t, "fields") {
			field := rapid.SampledFrom([]string{"outcome", "source", "answer.crop", "answer.pests.mites",
				"score.need", "amount.hives", "from", "to", "last", "other", "score", ""}).Draw(t, "field")
			query.Add(field,
				rapid.OneOf(rapid.SampledFrom([]string{"", "1..2", "2026-01-02", "x&y=z", "3..", "a..b"}),
					rapid.String()).Draw(t, "value"))
		}
		s := read(query)
		address, err := url.Parse(s.at(s.clone()))
		assert.NoError(t, err)
		again := read(address.Query())
		assert.Equal(t, s.Asked, again.Asked)
		assert.Equal(t, s.Parts, again.Parts)
		twice, err := url.Parse(s.with("outcome", "walk"))
		assert.NoError(t, err)
		back := read(twice.Query())
		address, err = url.Parse(back.with("outcome", "walk"))
		assert.NoError(t, err)
		assert.ElementsMatch(t, s.Asked["outcome"], read(address.Query()).Asked["outcome"], "a second press takes the first back")
		s.chips()
		s.days.Words(s.Asked)
	})
}

// Scores are drawn in the colours of what they lead to.
func TestBandsOfAScale(t *testing.T) {
	q := &quiz.Quiz{
		Outcomes: map[string]*quiz.Outcome{"a": {Order: 1}, "b": {Order: 2}, "c": {Order: 3}},
		Decision: quiz.Decision{Steps: map[string]*quiz.Step{
			"off": {Order: 1, Kind: quiz.BandsStep, Scale: "need", Off: true, Lowest: "c"},
			"bands": {Order: 2, Kind: quiz.BandsStep, Scale: "need", Lowest: "c",
				Cuts: map[string]*quiz.Cut{"y": {At: 14 * decimal.One, Outcome: "a"}, "x": {At: 8 * decimal.One}}},
		}},
	}
	bands := bandsOf(q, "need")
	var classes []string
	for _, score := range []decimal.Decimal{-5 * decimal.One, 8*decimal.One - 1, 8 * decimal.One,
		14 * decimal.One, 99 * decimal.One} {
		classes = append(classes, bands[bandAt(bands, score)].class)
	}
	assert.Equal(t, []string{"to-2", "to-2", "those", "to-0", "to-0"}, classes)
	assert.Equal(t, "those", bandsOf(q, "other")[0].class)
}
