package learn

import (
	"context"
	"slices"

	"omphalos/core/passage"
	"omphalos/core/scorecard"
	"omphalos/store"
)

// mostLearned is how many leads are learned from, of the newest.
const mostLearned = 5_000

// gather walks the leads of the slice that were won and lost through a quiz.
func (s *Room) gather(ctx context.Context, z *store.Quiz, in *sliced, l *scorecard.Learner) error {
	settings, err := s.Store.Responses.LeadSettings(ctx)
	if err != nil {
		return err
	}
	numbers, err := s.Store.Responses.NewestNumbers(ctx, z.ID, in.slice.All(), 1<<31)
	if err != nil {
		return err
	}
	ended, err := s.Store.Responses.EndedOf(ctx, z.ID, numbers, settings.Ended())
	if err != nil {
		return err
	}
	numbers = slices.DeleteFunc(numbers, func(n int) bool { return ended[n] == "" })
	numbers = numbers[:min(len(numbers), mostLearned)]
	slices.Reverse(numbers)
	take := func(list []store.Response) error {
		reader, walker := store.NewReader(l.Program), passage.NewWalker(l.Program)
		for i := range list {
			input := reader.Input(&list[i])
			l.Take(list[i].Number, input, walker.Walk(input), settings.State(ended[list[i].Number]).End == store.Won)
		}
		return nil
	}
	with := store.Reading{Visitor: true, Contacts: true}
	return s.Store.Responses.EachNumbered(ctx, z.ID, numbers, with, take, func(int) error { return nil })
}
