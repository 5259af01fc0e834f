package learn

import (
	"context"
	"sync"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// A sighting is the scores of those who come to the bands, and how the leads among them ended.
type sighting struct {
	mine   sync.Mutex
	all    map[decimal.Decimal]int
	won    map[decimal.Decimal]int
	lost   map[decimal.Decimal]int
	count  int
	oldest time.Time
	newest time.Time
}

// firstBands is the first step of bands that is not turned off.
func firstBands(q *quiz.Quiz) (string, *quiz.Step) {
	for _, key := range quiz.InOrder(q.Decision.Steps) {
		if s := q.Decision.Steps[key]; s.Kind == quiz.BandsStep && !s.Off {
			return key, s
		}
	}
	return "", nil
}

// sight walks the newest responses of the slice through the draft.
func (s *Room) sight(ctx context.Context, z *store.Quiz, in *sliced, p *program.Program, scale int) (*sighting, error) {
	settings, err := s.Store.Responses.LeadSettings(ctx)
	if err != nil {
		return nil, err
	}
	numbers, err := s.Store.Responses.NewestNumbers(ctx, z.ID, in.slice.All(), quickly)
	if err != nil {
		return nil, err
	}
	ended, err := s.Store.Responses.EndedOf(ctx, z.ID, numbers, settings.Ended())
	if err != nil {
		return nil, err
	}
	seen := &sighting{all: map[decimal.Decimal]int{}, won: map[decimal.Decimal]int{}, lost: map[decimal.Decimal]int{}}
	walk := func(list []store.Response) error {
		reader, walker := store.NewReader(p), passage.NewWalker(p)
		seen.mine.Lock()
		defer seen.mine.Unlock()
		for i := range list {
			r := walker.Walk(reader.Next(&list[i]))
			if r.End != program.Decided {
				continue
			}
			seen.take(r.Scores[scale], settings.State(ended[list[i].Number]).End, list[i].Finished)
		}
		return nil
	}
	err = s.Store.Responses.EachTogether(ctx, z.ID, in.slice.All(), quickly, store.Reading{Visitor: true,
		Contacts: true}, walk, func(int) error { return nil })
	return seen, err
}

func (g *sighting) take(score decimal.Decimal, end string, at time.Time) {
	g.all[score]++
	g.count++
	switch end {
	case store.Won:
		g.won[score]++
	case store.Lost:
		g.lost[score]++
	}
	if g.oldest.IsZero() || at.Before(g.oldest) {
		g.oldest = at
	}
	if at.After(g.newest) {
		g.newest = at
	}
}
