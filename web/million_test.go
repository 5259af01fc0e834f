package web_test

import (
	"flag"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"omphalos/web"
)

var (
	few     = flag.String("few", "", "workspace of a demo with 64 responses to its season quiz")
	million = flag.String("million", "", "workspace of a demo with many of them, see make bench-million")
)

// season is the number of the demo's quiz that has the many responses.
const season = 5

// BenchmarkMillion edits the sheet, and looks at the responses, of a quiz with a million and
// of the same with 64.
func BenchmarkMillion(b *testing.B) {
	if *million == "" {
		b.Skip("only make bench-million has so many")
	}
	quiet(b)
	for _, of := range []struct{ name, file string }{{"few", *few}, {"million", *million}} {
		a := openFile(b, of.file, web.Options{}, func(h http.Handler) http.Handler { return h })
		require.NoError(b, a.store.Responses.Index(b.Context()), "as it is when it begins to serve")
		c := a.client(b).signIn()
		at := fmt.Sprintf("/studio/quizzes/%d", season)
		weight := 0
		for _, mode := range []string{"possible", "observed"} {
			b.Run(of.name+"/an edit, "+mode, func(b *testing.B) {
				r, page := c.get(at)
				require.Contains(b, page, "What would our bees bring you")
				mark := r.Header.Get("ETag")
				for b.Loop() {
					weight = weight%9 + 1
					patch := fmt.Sprintf(
						`[{"op":"add","path":"/questions/crop/answers/apples/adds/promise","value":%d}]`,
						weight,
					)
					request, err := http.NewRequestWithContext(
						b.Context(),
						http.MethodPatch,
						c.app.URL+at+"/draft",
						strings.NewReader(patch),
					)
					require.NoError(b, err)
					request.Header.Set("If-Match", mark)
					request.Header.Set("Content-Type", "application/json")
					request.AddCookie(&http.Cookie{Name: "odds", Value: mode})
					answer, err := c.Do(request)
					require.NoError(b, err)
					require.Equal(b, http.StatusOK, answer.StatusCode)
					_, err = io.Copy(io.Discard, answer.Body)
					require.NoError(b, err)
					require.NoError(b, answer.Body.Close())
					mark = answer.Header.Get("ETag")
				}
			})
		}
		for _, path := range []string{"/studio", at + "/learn", at + "/learn?source=letter",
			at + "/learn?source=letter&answer.crop=apples&score.promise=10..20",
			at + "/learn?sort=-score.promise&source=letter", at + "/learn?source=letter&vs=others",
			at + "/learn/50", at + "/learn/measures",
			at + "/learn/replay", at + "/learn/replay?most=all&run=yes", "/studio/leads",
			"/studio/leads?state=won&sort=-reach"} {
			b.Run(of.name+path, func(b *testing.B) {
				var times []time.Duration
				for b.Loop() {
					began := time.Now()
					r, _ := c.get(path)
					require.Equal(b, http.StatusOK, r.StatusCode)
					times = append(times, time.Since(began))
				}
				slices.Sort(times)
				b.ReportMetric(float64(times[len(times)*95/100].Milliseconds()), "p95-ms")
			})
		}
		b.Run(of.name+"/all as CSV", func(b *testing.B) {
			for b.Loop() {
				r, err := c.Get(c.app.URL + at + "/learn/responses.csv")
				require.NoError(b, err)
				n, err := io.Copy(io.Discard, r.Body)
				require.NoError(b, err)
				b.SetBytes(n)
				require.NoError(b, r.Body.Close())
			}
		})
	}
}
