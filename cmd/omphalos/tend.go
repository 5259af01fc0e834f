package main

import (
	"context"
	"log/slog"
	"time"

	"omphalos/store"
)

// unfinishedKept is how long a passage is kept that nobody goes on with, deletedKept how long
// a quiz that was put away can be brought back, tendEach how often such are looked for.
const (
	unfinishedKept = 30 * 24 * time.Hour
	deletedKept    = 30 * 24 * time.Hour
	tendEach       = time.Hour
)

// tend forgets what nobody comes back to, and brings the tallies of responses up to date, so
// that nobody waits for them, until the context ends.
func tend(ctx context.Context, s *store.Store, after time.Duration) {
	for {
		n, err := s.Responses.ForgetUnfinished(ctx, time.Now().Add(-after))
		switch {
		case ctx.Err() != nil:
			return
		case err != nil:
			slog.Error("forgetting unfinished passages", "error", err)
		case n > 0:
			slog.Info("unfinished passages are forgotten", "passages", n)
		}
		if n, err = s.ForgetDeleted(ctx, time.Now().Add(-deletedKept)); err != nil && ctx.Err() == nil {
			slog.Error("forgetting deleted quizzes", "error", err)
		} else if n > 0 {
			slog.Info("deleted quizzes are gone for good", "quizzes", n)
		}
		if n, err = s.Responses.ForgetLeads(ctx, time.Now()); err != nil && ctx.Err() == nil {
			slog.Error("forgetting leads", "error", err)
		} else if n > 0 {
			slog.Info("leads are forgotten, as is settled", "leads", n)
		}
		if err := s.Responses.Index(ctx); err != nil && ctx.Err() == nil {
			slog.Error("counting responses", "error", err)
		}
		select {
		case <-time.After(tendEach):
		case <-ctx.Done():
			return
		}
	}
}
