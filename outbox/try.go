package outbox

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"math/rand/v2"
	"time"

	"omphalos/core/excerpt"
	"omphalos/core/quiz"
	"omphalos/store"
)

// How a try ends that is not to be made again, or not soon.
var (
	errCancelled = errors.New("cancelled")
	errDead      = errors.New("given up")
)

// A later error says when to try again at the earliest.
type later struct {
	error
	after time.Duration
}

const (
	firstAgain = 5 * time.Second // after the first try that failed; then twice that, and so on
	lastAgain  = 6 * time.Hour
	givenUp    = 3 * 24 * time.Hour // after it was due at first
	longestTry = time.Minute
	longestWhy = 400
)

// try tries a job, and writes into its deliveries what became of it.
func (w *Worker) try(ctx context.Context, j *job) {
	ctx, stop := context.WithTimeout(ctx, longestTry)
	defer stop()
	err := func() (err error) {
		defer func() {
			if fault := recover(); fault != nil { // must not end all sending
				err = fmt.Errorf("%w: %v", errDead, fault)
				slog.Error("sending", "lane", j.lane, "panic", fault)
			}
		}()
		return w.send(ctx, j)
	}()
	at := time.Now().UTC()
	for i := range j.list {
		settled(&j.list[i], err, at)
	}
}

// send does what the job is about.
func (w *Worker) send(ctx context.Context, j *job) error {
	d := &j.list[0]
	switch {
	case d.Step == store.ResultStep:
		return w.result(ctx, j.in, d)
	case d.Kind == quiz.ListFollowUp && d.Step != store.FirstStep:
		return w.ofList(ctx, j.in, d)
	case d.Kind == quiz.ListFollowUp:
		return w.join(ctx, j.in, d)
	case d.Kind == quiz.CallFollowUp, d.Kind == quiz.ConversionFollowUp:
		return w.call(ctx, j.in, d)
	case d.Kind == quiz.NoticeFollowUp:
		return w.notice(ctx, j)
	}
	return w.mail(ctx, j.in, d)
}

// settled writes down what became of a delivery.
func settled(d *store.Delivery, err error, at time.Time) {
	var wait later
	again := Again(d.Tries)
	if errors.As(err, &wait) {
		again = max(again, min(wait.after, lastAgain))
	}
	switch {
	case err == nil:
		d.State, d.Why, d.Ended = store.Delivered, "", &at
	case errors.Is(err, errCancelled):
		d.State, d.Why, d.Ended = store.Cancelled, why(err), &at
	case errors.Is(err, errDead), at.Sub(d.First) > givenUp:
		d.State, d.Why, d.Ended = store.Dead, why(err), &at
	default:
		d.Why, d.Due = why(err), at.Add(again)
	}
}

// why says why a try failed, on one line.
func why(err error) string { return excerpt.Line(err.Error(), longestWhy) }

// Again returns how long to wait after so many tries that failed: twice as long each time, and
// by chance up to a half of it less, so that what failed together does not come together again.
func Again(tries int) time.Duration {
	wait := lastAgain
	if tries < 20 {
		wait = min(lastAgain, firstAgain<<max(0, tries-1))
	}
	return wait - rand.N(wait/2)
}
