package sheet

import (
	"context"
	"fmt"
	"math"

	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/store"
	"omphalos/store/tally"
)

// mostNewest is of how many quizzes the newest responses are kept as they were read.
const mostNewest = 4

// mostObserved is how many responses, of the newest, the sheet counts.
const mostObserved = 2048

// observed counts the newest responses as the draft takes them.
func (s *Room) observed(ctx context.Context, sh *Sheet) (*odds.Odds, error) {
	list, _, err := s.newestOf(ctx, sh)
	if err != nil {
		return nil, err
	}
	var since []tally.Part // of those who were screened out, as long as the oldest of the newest reach back
	if n := len(list); n > 0 && n < sh.Answered {
		since = []tally.Part{{Of: tally.Property{Kind: tally.Finished}, From: list[n-1].Finished.Unix(), To: math.MaxInt64}}
	}
	screened, err := s.Store.Responses.Screened(ctx, sh.Quiz.ID, since)
	if err != nil {
		return nil, err
	}
	for _, some := range screened {
		sh.screened += some.Count
	}
	inputs := make([]passage.Input, len(list))
	reader := store.NewReader(sh.program)
	for i := range list {
		inputs[i] = reader.Input(&list[i])
	}
	return odds.Observe(sh.program, inputs, screened), nil
}

// newestOf returns the newest responses, and a mark that is another whenever they are others.
func (s *Room) newestOf(ctx context.Context, sh *Sheet) ([]store.Response, string, error) {
	last, err := s.Store.Responses.Last(ctx, sh.Quiz.ID)
	if err != nil {
		return nil, "", err
	}
	of := fmt.Sprint(sh.Quiz.ID, " ", sh.Answered, " ", last) // one that is deleted changes it, too
	list, known := s.newest.Get(of)
	if !known {
		if list, err = s.Store.Responses.Newest(ctx, sh.Quiz.ID, mostObserved); err != nil {
			return nil, "", err
		}
		s.newest.Add(of, list)
	}
	return list, of, nil
}
