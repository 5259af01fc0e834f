package web_test

import (
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"runtime/debug"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/require"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"

	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// The pairs of benchmarks below are to be read together: what the application
// does, and what a bare Gin handler does that gives the same answer.

func serveOnce(b *testing.B, h http.Handler, r *http.Request, want int) *httptest.ResponseRecorder {
	w := httptest.NewRecorder()
	h.ServeHTTP(w, r)
	if w.Code != want {
		b.Fatalf("status %d, not %d: %s", w.Code, want, w.Body)
	}
	return w
}

func quiet(b *testing.B) {
	before := slog.Default()
	slog.SetDefault(slog.New(slog.NewTextHandler(io.Discard, &slog.HandlerOptions{Level: slog.LevelError})))
	b.Cleanup(func() { slog.SetDefault(before) })
}

func BenchmarkFirstPage(b *testing.B) {
	quiet(b)
	a := newApp(b)
	a.release(b, a.orchard(b))
	request := func() *http.Request {
		return httptest.NewRequest(http.MethodGet, "/q/is-your-orchard-ready-for-hired-bees", nil)
	}
	page := serveOnce(b, a.Config.Handler, request(), 200).Body.Bytes()
	bare := gin.New()
	bare.GET("/q/:slug", func(c *gin.Context) { c.Data(200, "text/html; charset=utf-8", page) })

	b.Run("application", func(b *testing.B) {
		for b.Loop() {
			serveOnce(b, a.Config.Handler, request(), 200)
		}
	})
	b.Run("constant", func(b *testing.B) {
		for b.Loop() {
			serveOnce(b, bare, request(), 200)
		}
	})
}

func BenchmarkFinish(b *testing.B) {
	quiet(b)
	form := url.Values{"asked": {"decides"}, "answer.decides": {"me"}, "go": {"on"}}.Encode()
	post := func(path string) *http.Request {
		r := httptest.NewRequest(http.MethodPost, path, strings.NewReader(form))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		return r
	}

	b.Run("application", func(b *testing.B) {
		a := newApp(b)
		release := a.release(b, a.orchard(b))
		typed := map[string]program.Typed{}
		for _, pair := range []string{"crop=apples", "size=large", "bloom=soon", "hives=some", "budget=ample"} {
			key, answer, _ := strings.Cut(pair, "=")
			typed[key] = program.Typed{Values: []string{answer}}
		}
		paths := make([]string, b.N)
		for i := range paths {
			p, err := a.store.Responses.Start(
				b.Context(),
				release,
				"is-your-orchard-ready-for-hired-bees",
				program.Visitor{},
			)
			require.NoError(b, err)
			require.NoError(b, a.store.Responses.SaveTyped(b.Context(), p, typed))
			paths[i] = "/p/" + p.ID + "/decides"
		}
		b.ResetTimer()
		for i := range b.N {
			serveOnce(b, a.Config.Handler, post(paths[i]), http.StatusFound)
		}
	})
	b.Run("one-insert", func(b *testing.B) {
		db, err := gorm.Open(
			sqlite.Open("file:"+filepath.Join(b.TempDir(), "bare.db")+"?_journal_mode=WAL&_synchronous=FULL"),
			&gorm.Config{SkipDefaultTransaction: true, PrepareStmt: true},
		)
		require.NoError(b, err)
		type finished struct {
			ID     uint
			Answer string
			At     time.Time
		}
		require.NoError(b, db.AutoMigrate(&finished{}))
		bare := gin.New()
		bare.POST("/p/:passage/:question", func(c *gin.Context) {
			if err := db.Create(&finished{Answer: c.PostForm("answer.decides"), At: time.Now()}).Error; err != nil {
				c.AbortWithStatus(500)
				return
			}
			c.Redirect(http.StatusFound, "/standin/booking")
		})
		for b.Loop() {
			serveOnce(b, bare, post("/p/x/decides"), http.StatusFound)
		}
	})
}

// BenchmarkEdit is one weight typed into the ledger of 40 questions with 8
// answers: from the request to the parts of the sheet that have changed.
func BenchmarkEdit(b *testing.B) {
	b.Run("plain", func(b *testing.B) { benchmarkEdit(b, quiztest.Forty()) })
	b.Run("with-50-rehearsals", func(b *testing.B) {
		m := quiztest.Forty()
		m.Rehearsals = map[string]*quiz.Rehearsal{}
		for i := range 50 {
			r := &quiz.Rehearsal{Order: float64(i), Name: fmt.Sprint("Rehearsal ", i),
				Answers: map[string]*quiz.Given{}, Outcome: "cold"}
			for q := range 40 {
				r.Answers[fmt.Sprintf("q%d", q)] = &quiz.Given{Values: []string{fmt.Sprintf("a%d", (i+q)%2)}}
			}
			m.Rehearsals[fmt.Sprintf("rehearsal_%d", i)] = r
		}
		benchmarkEdit(b, m)
	})
}

func benchmarkEdit(b *testing.B, m quiztest.Maker) {
	quiet(b)
	a := newApp(b)
	z := a.add(b, string(m.Write()))
	c := a.client(b).signIn()
	c.get("/studio/quizzes/1")
	revision, shown := z.Revision, ""
	for b.Loop() {
		patch := fmt.Sprintf(`[{"op":"add","path":"/questions/q7/answers/a3/adds/need","value":%d}]`, revision%7)
		r, err := http.NewRequest(http.MethodPatch, a.URL+"/studio/quizzes/1/draft", strings.NewReader(patch))
		require.NoError(b, err)
		r.Header.Set("If-Match", fmt.Sprintf(`"%d"`, revision))
		r.Header.Set("Shown", shown) // as the sheet does, which is sent what differs
		answer, text := c.send(r)
		if answer.StatusCode != http.StatusOK {
			b.Fatal(answer.StatusCode, text)
		}
		var update struct{ Shown string }
		require.NoError(b, json.Unmarshal([]byte(text), &update))
		shown = update.Shown
		revision++
	}
}

// BenchmarkEditSeen is the same as a marketer sees it: from leaving the cell in the
// browser until the expected score below the ledger is true again. The empty figure is
// that of asking for nothing at all from the same page, in turn: what the machine and the
// browser take for themselves.
func BenchmarkEditSeen(b *testing.B) {
	quiet(b)
	defer debug.SetGCPercent(debug.SetGCPercent(400)) // as omphalos serve sets it
	for _, questions := range []int{40, 100} {
		b.Run(fmt.Sprint(questions), func(b *testing.B) {
			a := newApp(b)
			a.add(b, string(quiztest.Many(questions).Write()))
			tab := a.newTab(b)
			tab.signIn()
			tab.open("/studio/quizzes/1")
			tab.run(`void (async () => {
				const times = [], empty = [], cell = () => document.querySelector('[data-path="/questions/q7/answers/a3/adds/need"]');
				const foot = () => [...document.querySelectorAll(".footcell.c0")].at(-1).textContent;
				for (let i = 0; i < 90; i++) {
					const before = foot(), from = performance.now();
					cell().focus();
					cell().value = String(2 + 4 * (i % 2));
					cell().dispatchEvent(new Event("change", { bubbles: true }));
					await new Promise((seen) => {
						const watch = new MutationObserver(() => { if (foot() !== before) { watch.disconnect(); seen(); } });
						watch.observe(document.body, { subtree: true, childList: true, characterData: true });
					});
					times.push(performance.now() - from);
					await new Promise((r) => setTimeout(r, 50)); // it is painted meanwhile
					const asked = performance.now();
					await (await fetch("/healthz")).text();
					empty.push(performance.now() - asked);
					await new Promise((r) => setTimeout(r, 50));
				}
				window.times = [times, empty].map((t) => t.slice(10).sort((a, b) => a - b));
			})()`)
			tab.untilWithin(4*patience, "all edits are seen", `!!window.times`)
			for i, times := range read[[][]float64](tab, `window.times`) {
				of := []string{"", "empty-"}[i]
				b.ReportMetric(times[len(times)/2], of+"ms-median")
				b.ReportMetric(times[len(times)*95/100], of+"ms-p95")
			}
			b.ReportMetric(0, "ns/op")
		})
	}
}

// BenchmarkOnePage is the page of a quiz of six questions, and the post that finishes it,
// from many respondents at once.
func BenchmarkOnePage(b *testing.B) {
	quiet(b)
	a := newApp(b)
	m := quiztest.New("low", "high")
	m.Pace = quiz.OnePage
	m.Scale("points", quiz.Sum)
	form := url.Values{"go": {"on"}}
	for i := range 6 {
		key := fmt.Sprintf("q%d", i)
		m.Ask(key, quiz.Single, "a points=1", "b points=2", "c points=3").Required = true
		form.Add("asked", key)
		form.Set("answer."+key, "b")
	}
	m.Bands("points", "low", "12=high")
	z := a.add(b, string(m.Write()))
	a.release(b, z)
	b.Run("page", func(b *testing.B) {
		b.RunParallel(func(pb *testing.PB) {
			for pb.Next() {
				serveOnce(b, a.Config.Handler, httptest.NewRequest(http.MethodGet, "/q/"+z.Slug, nil), 200)
			}
		})
	})
	b.Run("finish", func(b *testing.B) {
		b.SetParallelism(32)
		b.RunParallel(func(pb *testing.PB) {
			for pb.Next() {
				r := httptest.NewRequest(http.MethodPost, "/q/"+z.Slug, strings.NewReader(form.Encode()))
				r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
				serveOnce(b, a.Config.Handler, r, http.StatusSeeOther)
			}
		})
	})
}

// BenchmarkToTheNextQuestion is how long a respondent on a phone waits for the next question after
// a press, on a line with 400 ms there and back, 400 kbit/s, and a processor six times slower.
func BenchmarkToTheNextQuestion(b *testing.B) {
	quiet(b)
	a := newApp(b)
	m := quiztest.New("any")
	m.Settings = &quiz.Settings{TapStays: true}
	const questions = 40
	for i := range questions {
		m.Ask(fmt.Sprintf("q%d", i), quiz.Single, "a", "b", "c")
	}
	z := a.add(b, string(m.Write()))
	a.release(b, z)
	tab := a.newTabOf(b, 390, 844, true)
	tab.open("/q/" + z.Slug)
	slow := []*network.Conditions{{Latency: 400, DownloadThroughput: 400e3 / 8, UploadThroughput: 400e3 / 8}}
	_, err := chromedp.Call(tab.ctx, network.EmulateNetworkConditionsByRule,
		network.EmulateNetworkConditionsByRuleParams{MatchedNetworkConditions: slow})
	require.NoError(b, err)
	_, err = chromedp.Call(tab.ctx, emulation.SetCPUThrottlingRate, emulation.SetCPUThrottlingRateParams{Rate: 6})
	require.NoError(b, err)
	tab.run(`void (async () => {
		const times = [], at = () => document.querySelector("[data-question]")?.dataset.question;
		for (let i = 0; i < ` + fmt.Sprint(questions-1) + `; i++) {
			const before = at(), from = performance.now();
			document.querySelector("[name=go][value=on]").click();
			while (at() === before) await new Promise(requestAnimationFrame);
			times.push(performance.now() - from);
			await new Promise((r) => setTimeout(r, 100));
		}
		window.times = times.sort((a, b) => a - b);
	})()`)
	tab.untilWithin(4*patience, "all questions are seen", `!!window.times`)
	times := read[[]float64](tab, `window.times`)
	b.ReportMetric(times[len(times)/2], "ms-median")
	b.ReportMetric(times[len(times)*95/100], "ms-p95")
	b.ReportMetric(0, "ns/op")
}
