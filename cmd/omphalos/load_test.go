package main

import (
	"flag"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/require"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"

	"omphalos/store"
)

var load = flag.Duration("load", 0, "how long each part of the load test takes; make load gives it")

// connections is how many ask at once.
const connections = 64

// bare serves what the application is measured against: a handler that writes a page's
// bytes, and one that makes one GORM insert for each request.
func bare(arguments string) {
	fields := strings.Fields(arguments) // address, file of the page, file of the database
	page, err := os.ReadFile(fields[1])
	if err != nil {
		panic(err)
	}
	db, err := gorm.Open(
		sqlite.Open("file:"+fields[2]+"?_journal_mode=WAL&_synchronous=FULL&_busy_timeout=5000"),
		&gorm.Config{SkipDefaultTransaction: true, PrepareStmt: true},
	)
	if err != nil {
		panic(err)
	}
	type finished struct {
		ID      uint
		Passage string `gorm:"uniqueIndex"`
		Answers string
		At      time.Time
	}
	if err := db.AutoMigrate(&finished{}); err != nil {
		panic(err)
	}
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.GET("/page", func(c *gin.Context) { c.Data(http.StatusOK, "text/html; charset=utf-8", page) })
	engine.POST("/finish", func(c *gin.Context) {
		if err := db.Create(&finished{Passage: c.PostForm("passage"), Answers: c.Request.PostForm.Encode(),
			At: time.Now()}).Error; err != nil {
			c.AbortWithStatus(http.StatusServiceUnavailable)
			return
		}
		c.Redirect(http.StatusSeeOther, "/page")
	})
	panic(engine.Run(fields[0]))
}

// rush asks over all connections for a while and tells what came of it.
func rush(t *testing.T, what string, p *process, want int, request func() string) (perSecond float64) {
	t.Helper()
	var mu sync.Mutex
	var times []time.Duration
	refused := map[int]int{}
	var wait sync.WaitGroup
	begin := time.Now()
	for range connections {
		wait.Go(func() {
			l, err := dial(p.address)
			if err != nil {
				t.Error(err)
				return
			}
			defer l.Close()
			var mine []time.Duration
			for time.Since(begin) < *load {
				asked := time.Now()
				status, _, err := l.ask(request())
				if err != nil {
					t.Error(err)
					return
				}
				if status == want {
					mine = append(mine, time.Since(asked))
				} else {
					mu.Lock()
					refused[status]++
					mu.Unlock()
				}
			}
			mu.Lock()
			times = append(times, mine...)
			mu.Unlock()
		})
	}
	wait.Wait()
	took := time.Since(begin)
	slices.Sort(times)
	require.NotEmpty(t, times, what)
	at := func(part float64) time.Duration {
		return times[int(part*float64(len(times)-1))].Round(10 * time.Microsecond)
	}
	perSecond = float64(len(times)) / took.Seconds()
	fmt.Printf(
		"%-44s %8.0f /s   p50 %-9v p95 %-9v p99 %-9v most memory %s",
		what,
		perSecond,
		at(.5),
		at(.95),
		at(.99),
		p.memory(),
	)
	for status, n := range refused {
		fmt.Printf("   %d× %d", n, status)
	}
	fmt.Println()
	return perSecond
}

// TestLoad measures pages and finished passages under a rush of visitors, each beside a
// bare handler, in one run. Time is told, not asserted. make load runs it.
func TestLoad(t *testing.T) {
	if *load == 0 {
		t.Skip("only make load measures")
	}
	w := newWorkplace(t)
	ours := w.serve(t, freeAddress(t))
	l, err := dial(ours.address)
	require.NoError(t, err)
	page := filepath.Join(t.TempDir(), "page.html")
	r, err := http.Get("http://" + ours.address + "/q/" + w.opening)
	require.NoError(t, err)
	defer r.Body.Close()
	file, err := os.Create(page)
	require.NoError(t, err)
	_, err = file.ReadFrom(r.Body)
	require.NoError(t, err)
	require.NoError(t, file.Close())
	require.NoError(t, l.Close())
	address := freeAddress(t)
	theirs := begin(t, fmt.Sprintf("bare %s %s %s", address, page, filepath.Join(t.TempDir(), "bare.db")), address)

	opening := func(path string) func() string { return func() string { return getRequest(path) } }
	finish := func(path string) func() string {
		return func() string { return postRequest(path, filledIn(store.PassageNumber())) }
	}
	var pages, bytes, finishes, inserts float64
	for range 2 { // in turn, for the machine's speed may drift
		bytes += rush(t, "bare handler, the same bytes", theirs, http.StatusOK, opening("/page"))
		pages += rush(t, "first page", ours, http.StatusOK, opening("/q/"+w.opening))
		inserts += rush(t, "bare handler, one insert", theirs, http.StatusSeeOther, finish("/finish"))
		finishes += rush(t, "finished passage", ours, http.StatusSeeOther, finish("/q/"+w.slug))
	}
	rush(t, "page of six questions", ours, http.StatusOK, opening("/q/"+w.slug))
	fmt.Printf(
		"\npages: %.0f %% of the bare handler; finished passages: %.1f times one insert\n",
		100*pages/bytes,
		finishes/inserts,
	)
}
