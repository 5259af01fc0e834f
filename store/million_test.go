package store

import (
	"flag"
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"omphalos/store/tally"
)

var (
	few     = flag.String("few", "", "workspace of a demo with 64 responses to its season quiz")
	million = flag.String("million", "", "workspace of a demo with many of them, see make bench-million")
)

// season is the number of the demo's quiz that has the many responses.
const season = 5

// BenchmarkResponses measures what is asked of a million responses, each beside the same of
// 64. make bench-million makes both and runs it.
func BenchmarkResponses(b *testing.B) {
	if *million == "" {
		b.Skip("only make bench-million has so many")
	}
	filters := []tally.Part{
		{Of: tally.Property{Kind: tally.Answer, Key: "crop"}, Values: []string{"apples", "pears"}},
		{Of: tally.Property{Kind: tally.Source}, Values: []string{"letter"}},
		{Of: tally.Property{Kind: tally.Score, Key: "promise"}, From: 12_000_000, To: 24_000_000},
	}
	byScore := tally.Order{By: tally.Property{Kind: tally.Score, Key: "promise"}, Falling: true}
	byCountry := tally.Order{By: tally.Property{Kind: tally.Country}}
	for _, of := range []struct{ name, file string }{{"few", *few}, {"million", *million}} {
		s, err := Open(of.file)
		require.NoError(b, err)
		defer s.Close()
		rs := s.Responses
		all, err := rs.Answered(b.Context(), season)
		require.NoError(b, err)
		info, err := os.Stat(of.file)
		require.NoError(b, err)
		page := func(by tally.Order, after tally.Mark) error {
			list, _, err := rs.Find(b.Context(), season, filters, by, after, 50)
			require.True(b, len(list) > 0 || of.name == "few")
			return err
		}
		for _, ask := range []struct {
			what string
			ask  func() error
		}{
			{"first of all: the tally is read", func() error {
				rs.indexes.forget(season)
				return rs.Tally(b.Context(), season, func(*tally.Tally) {})
			}},
			{"how many", func() error { return errOf(rs.Answered(b.Context(), season)) }},
			{"by outcome", func() error { return errOf(rs.Outcomes(b.Context(), season)) }},
			{"list of quizzes", func() error { return errOf(s.Definitions.Quizzes(b.Context())) }},
			{"newest 2048", func() error { return errOf(rs.Newest(b.Context(), season, 2048)) }},
			{"one", func() error { return errOf(rs.Response(b.Context(), season, all/2)) }},
			{"all answers under three filters", func() error {
				return rs.Tally(b.Context(), season, func(t *tally.Tally) {
					slice := t.Slice(filters...)
					require.NotZero(b, slice.Count())
					slice.SplitAll(tally.Answer)
				})
			}},
			{"answers by outcome", func() error {
				return rs.Tally(b.Context(), season, func(t *tally.Tally) {
					t.Slice().Cross(tally.Property{Kind: tally.Answer, Key: "crop"}, tally.Property{Kind: tally.Outcome})
				})
			}},
			{"days", func() error {
				return rs.Tally(b.Context(), season, func(t *tally.Tally) {
					t.Slice().Values(tally.Property{Kind: tally.Finished}, 86_400)
				})
			}},
			{"page by number, three filters", func() error { return page(tally.Order{Falling: true}, 0) }},
			{"page by score, three filters", func() error { return page(byScore, 0) }},
			{"page by score after the middle", func() error { return page(byScore, tally.Mark(all/2)) }},
			{"page by country after the middle", func() error { return page(byCountry, tally.Mark(all/2)) }},
		} {
			b.Run(of.name+"/"+ask.what, func(b *testing.B) {
				for b.Loop() {
					require.NoError(b, ask.ask())
				}
			})
		}
		b.Run(of.name+"/reading all", func(b *testing.B) {
			n := 0
			for b.Loop() {
				require.NoError(b, rs.EachOf(b.Context(), season, nil, func(*Response) error {
					n++
					return nil
				}, func() error { return nil }))
			}
			b.ReportMetric(float64(n)/b.Elapsed().Seconds(), "responses/s")
			b.ReportMetric(float64(info.Size())/float64(all), "bytes/response")
		})
		require.NoError(b, rs.Tally(b.Context(), season, func(t *tally.Tally) {
			b.Logf("%s: the tally takes %.1f MB of memory", of.name, float64(t.Size())/1e6)
		}))
	}
}
