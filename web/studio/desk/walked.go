package desk

import (
	"cmp"
	"context"
	"slices"
	"time"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// A Walked response is one with the release that it went through, and how it came about.
type Walked struct {
	*store.Response
	Release     int // its number
	Quiz        *quiz.Quiz
	Program     *program.Program
	Input       passage.Input
	Explanation passage.Explanation
	Outcome     Share // of no name where none was reached
}

// Walked walks a response again through its release.
func (s *Desk) Walked(ctx context.Context, r *store.Response) (*Walked, error) {
	release, err := s.Store.Definitions.ReleaseByID(ctx, r.ReleaseID)
	if err != nil {
		return nil, err
	}
	q, err := release.Read()
	if err != nil {
		return nil, err
	}
	p, err := program.CompileReleased(q)
	if err != nil {
		return nil, err
	}
	in, err := r.Input(p)
	if err != nil {
		return nil, err
	}
	in.Place = func(table, key string) string { return s.Store.Definitions.PlaceName(ctx, table, key) }
	in.Zone = func(calendar string) *time.Location { return store.Diary{Store: s.Store}.Zone(ctx, calendar) }
	return &Walked{r, release.Number, q, p, in, passage.Explain(p, in), OutcomeOf(q, r.Outcome)}, nil
}

// OutcomeOf returns how an outcome is shown; without a count.
func OutcomeOf(q *quiz.Quiz, key string) Share {
	o := q.Outcomes[key]
	if o == nil {
		return Share{}
	}
	return Share{
		Outcome:  key,
		Name:     cmp.Or(o.Name, key),
		Letter:   q.Letter(key),
		Class:    Hue(slices.Index(quiz.InOrder(q.Outcomes), key)),
		Standing: string(o.Standing),
	}
}
