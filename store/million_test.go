package store

import (
	"flag"
	"os"
	"testing"

	"github.com/stretchr/testify/require"
)

var million = flag.String("million", "", "workspace of a demo with many responses, see make bench-million")

// What is asked of many responses, each beside the same of the 64 of a usual demo in
// -few. make bench-million makes both and runs it.
var few = flag.String("few", "", "workspace of a usual demo")

func BenchmarkResponses(b *testing.B) {
	if *million == "" {
		b.Skip("only make bench-million has so many")
	}
	for name, file := range map[string]string{"few": *few, "million": *million} {
		s, err := Open(file)
		require.NoError(b, err)
		defer s.Close()
		all, err := s.Responses.Answered(b.Context(), 1)
		require.NoError(b, err)
		info, err := os.Stat(file)
		require.NoError(b, err)
		for what, ask := range map[string]func() error{
			"how many":      func() error { _, err := s.Responses.Answered(b.Context(), 1); return err },
			"by outcome":    func() error { _, err := s.Responses.Outcomes(b.Context(), 1); return err },
			"quizzes":       func() error { _, err := s.Definitions.Quizzes(b.Context()); return err },
			"newest 2048":   func() error { _, err := s.Responses.Newest(b.Context(), 1, 2048); return err },
			"first page":    func() error { _, err := s.Responses.List(b.Context(), 1, Page{}, 51); return err },
			"a page within": func() error { _, err := s.Responses.List(b.Context(), 1, Page{Before: all/2 + 1}, 51); return err },
			"one":           func() error { _, err := s.Responses.Response(b.Context(), 1, all/2); return err },
		} {
			b.Run(name+"/"+what, func(b *testing.B) {
				for b.Loop() {
					require.NoError(b, ask())
				}
			})
		}
		b.Run(name+"/reading all", func(b *testing.B) {
			n := 0
			for b.Loop() {
				require.NoError(b, s.Responses.Each(b.Context(), 1, func(*Response) bool { n++; return true }))
			}
			b.ReportMetric(float64(n)/b.Elapsed().Seconds(), "responses/s")
			b.ReportMetric(float64(info.Size())/float64(all), "bytes/response")
		})
	}
}
