package learn

import (
	"net/url"
	"testing"

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
}

// What the address says is what its own links say, whatever stands in it.
func TestTheAddressOfASlice(t *testing.T) {
	q, none := &quiz.Quiz{}, slice.TableOf(nil, nil)
	read := func(query url.Values) *sentence {
		s, _ := sentenceAt("/learn", q, nil, nil, query, none) // what is wrong is another test's
		return s
	}
	rapid.Check(t, func(t *rapid.T) {
		query := url.Values{}
		for range rapid.IntRange(0, 6).Draw(t, "fields") {
			field := rapid.SampledFrom([]string{"outcome", "source", "answer.crop", "answer.pests.mites",
				"score.need", "amount.hives", "from", "to", "other", "score", ""}).Draw(t, "field")
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
		s.timeWords()
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
