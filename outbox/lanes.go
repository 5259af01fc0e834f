package outbox

import (
	"context"
	"strconv"
	"strings"

	"golang.org/x/sync/semaphore"

	"omphalos/store"
)

// A lane is a way on which few go at once.
type lane struct {
	taken int // claimed, tried or about to be
	ways  *semaphore.Weighted
}

// open returns the workspace of a lane, and whether anything goes that way now.
func (w *Worker) open(ctx context.Context, lane string) (*store.Store, bool, error) {
	number, name, _ := strings.Cut(lane, "/")
	id, _ := strconv.ParseUint(number, 10, 32) // the store wrote it
	in, err := w.file.In(ctx, store.WorkspaceID(id))
	if err != nil {
		return nil, false, err
	}
	if key, calls := strings.CutPrefix(name, "call/"); calls {
		list, err := in.Outbox.Receivers(ctx)
		for _, r := range list {
			if r.Key == key {
				return in, !r.Paused, err
			}
		}
		return in, true, err // is told when it is tried
	}
	if name == "list" {
		return in, true, nil
	}
	settings, err := in.Outbox.MailSettings(ctx)
	return in, err == nil && settings.Ready(), err
}

func laneName(lane string) string {
	_, name, _ := strings.Cut(lane, "/")
	return name
}

func (w *Worker) room(name string) int {
	w.mu.Lock()
	defer w.mu.Unlock()
	taken := 0
	if way := w.lanes[name]; way != nil {
		taken = way.taken
	}
	return max(0, ahead*w.with.Each-taken)
}

func (w *Worker) take(name string) *lane {
	w.mu.Lock()
	defer w.mu.Unlock()
	way := w.lanes[name]
	if way == nil {
		way = &lane{ways: semaphore.NewWeighted(int64(w.with.Each))}
		w.lanes[name] = way
	}
	way.taken++
	return way
}

func (w *Worker) free(name string) {
	w.mu.Lock()
	defer w.mu.Unlock()
	way := w.lanes[name]
	if way.taken--; way.taken == 0 {
		delete(w.lanes, name)
	}
	select {
	case w.freed <- struct{}{}:
	default:
	}
}
