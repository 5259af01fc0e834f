// Package outbox sends what goes out when somebody has landed: mail, notices to colleagues,
// calls of other systems, sign-ups for lists, conversions.
//
// What is to go out is kept in the commit that keeps the response. A Worker claims what is
// due, tries it, and keeps what became of it: a try that fails is made again, later and later,
// until it is given up. A process that ends while it tries has the same tried again by the
// next, so that everything goes out at least once; what came twice carries the same key.
package outbox

import (
	"context"
	"log/slog"
	"net/http"
	"strings"
	"sync"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/sync/semaphore"

	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/saying"
	"omphalos/store"
)

// Options say how things go out. With the zero value they go out in English, and nowhere but
// to addresses that anybody can reach.
type Options struct {
	Base    string                         // address under which the application is known
	Reaches Reach                          // where calls and mail may go
	Voice   func(*quiz.Quiz) *saying.Voice // says our words in a quiz's language
	Each    int                            // how many go one way at once; 0 for 4
	All     int                            // how many go out at once; 0 for 32
}

// A Worker sends what is due in all workspaces of a file. One process has one.
type Worker struct {
	file     *store.Store
	with     Options
	programs *lru.Cache[inLanguage, *program.Program]
	http     *http.Client

	all *semaphore.Weighted // of what goes out at once

	mu    sync.Mutex
	lanes map[string]*lane
	freed chan struct{} // something has become free
}

const (
	usualEach     = 4
	usualAll      = 32
	ahead         = 4 // times as many are claimed as go at once, so that a way is never empty
	looksRest     = 20 * time.Millisecond
	looksEach     = time.Second // for what has become due
	mostTogether  = 500         // deliveries in one digest
	keptPrograms  = 64          // releases
	settlesWithin = 10 * time.Millisecond
	settledAtOnce = 64
)

// New returns the Worker of a file.
func New(file *store.Store, with Options) *Worker {
	if with.Each == 0 {
		with.Each = usualEach
	}
	if with.All == 0 {
		with.All = usualAll
	}
	programs, _ := lru.New[inLanguage, *program.Program](keptPrograms) // never fails
	return &Worker{file: file, with: with, programs: programs, http: with.Reaches.client(),
		all: semaphore.NewWeighted(int64(with.All)), lanes: map[string]*lane{}, freed: make(chan struct{}, 1)}
}

// A job is what is tried together: one delivery, or those of a digest.
type job struct {
	lane string
	in   *store.Store
	list []store.Delivery
}

// Run sends until the context ends, and returns when nothing is being tried any more.
func (w *Worker) Run(ctx context.Context) {
	if n, err := w.file.Unclaim(ctx); err != nil {
		slog.Error("letting deliveries go", "error", err)
	} else if n > 0 {
		slog.Info("deliveries are tried again that were being tried when the process ended", "deliveries", n)
	}
	done := make(chan job, w.with.All)
	var settling, trying sync.WaitGroup
	settling.Go(func() { w.settle(done) })
	look := time.NewTicker(looksEach)
	defer look.Stop()
	for ctx.Err() == nil {
		if err := w.claim(ctx, &trying, done); err != nil && ctx.Err() == nil {
			slog.Error("looking for what goes out", "error", err)
		}
		rest := time.NewTimer(looksRest) // so that a rush is not looked at again and again
		select {
		case <-ctx.Done():
		case <-rest.C:
		}
		select {
		case <-ctx.Done():
		case <-w.file.Rang():
		case <-w.freed:
		case <-look.C:
		}
	}
	trying.Wait()
	close(done)
	settling.Wait()
}

// claim takes as much of each lane as there is room for, and begins to try it.
func (w *Worker) claim(ctx context.Context, trying *sync.WaitGroup, done chan<- job) error {
	lanes, err := w.file.Lanes(ctx, time.Now())
	if err != nil {
		return err
	}
	for _, lane := range lanes {
		most := w.room(lane)
		if most == 0 {
			continue
		}
		in, open, err := w.open(ctx, lane)
		if err != nil {
			return err
		}
		if !open {
			continue
		}
		digest := strings.HasPrefix(laneName(lane), "digest/")
		if digest {
			most = mostTogether
		}
		list, err := in.Outbox.Claim(ctx, lane, most, time.Now())
		if err != nil {
			return err
		}
		var jobs []job
		if digest && len(list) > 0 {
			jobs = []job{{lane, in, list}}
		} else {
			for i := range list {
				jobs = append(jobs, job{lane, in, list[i : i+1]})
			}
		}
		for _, j := range jobs {
			way := w.take(j.lane)
			trying.Go(func() {
				if way.ways.Acquire(ctx, 1) != nil || w.all.Acquire(ctx, 1) != nil {
					return // it ends: the next process tries it
				}
				w.try(context.WithoutCancel(ctx), &j)
				w.all.Release(1)
				way.ways.Release(1)
				done <- j
			})
		}
	}
	return nil
}

// settle keeps what became of jobs: several in one commit.
func (w *Worker) settle(done <-chan job) {
	for first := range done {
		jobs := []job{first}
		wait := time.After(settlesWithin)
	more:
		for len(jobs) < settledAtOnce {
			select {
			case j, open := <-done:
				if !open {
					break more
				}
				jobs = append(jobs, j)
			case <-wait:
				break more
			}
		}
		by := map[*store.Store][]store.Delivery{}
		for _, j := range jobs {
			by[j.in] = append(by[j.in], j.list...)
		}
		for in, list := range by {
			w.keep(in, list)
		}
		for _, j := range jobs {
			w.free(j.lane)
		}
	}
}

// keep keeps what became of deliveries; where that can't be done now, it is done again: else
// they would go out once more.
func (w *Worker) keep(in *store.Store, list []store.Delivery) {
	for try := range 10 {
		err := in.Outbox.Settle(context.Background(), list)
		if err == nil {
			return
		}
		slog.Error("keeping what became of deliveries", "error", err)
		time.Sleep(time.Duration(try+1) * 100 * time.Millisecond)
	}
}
