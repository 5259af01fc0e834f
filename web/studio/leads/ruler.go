package leads

import (
	"context"
	"errors"

	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// A ruler is how the respondents of a release are sorted, as it is drawn.
type ruler struct {
	name     string // of its scale, "" where there is none
	bands    []band
	outcomes map[string]desk.Share
}

// A band of a ruler that is rulerWide wide.
type band struct {
	X, Width float64
	Class    string
}

const (
	rulerWide  = 120.0
	mostRulers = 256
)

// A drawn ruler has the mark of somebody.
type drawn struct {
	Name, Score string
	Bands       []band
	At          float64 // in the width of the ruler; below 0 for nowhere
}

// ruler returns the ruler of a release.
func (s *Room) ruler(ctx context.Context, release uint) (*ruler, error) {
	if known, is := s.rulers.Get(release); is {
		return known, nil
	}
	made := &ruler{outcomes: map[string]desk.Share{}}
	r, err := s.Store.Definitions.ReleaseByID(ctx, release)
	if errors.Is(err, store.ErrNotFound) {
		return made, nil
	}
	if err != nil {
		return nil, err
	}
	q, err := r.Read()
	if err != nil {
		return made, nil // it sorts nobody
	}
	keys := quiz.InOrder(q.Outcomes)
	for _, key := range keys {
		made.outcomes[key] = desk.OutcomeOf(q, key)
	}
	if p, err := program.CompileReleased(q); err == nil {
		if by, has := odds.RulerOf(p); has {
			made.name = q.Scales[p.ScaleKeys()[by.Scale]].Name
			made.bands = bandsOf(by)
		}
	}
	s.rulers.Add(release, made)
	return made, nil
}

func bandsOf(by odds.Ruler) []band {
	list := []band{}
	for _, b := range by.Bands() {
		class := "to-none"
		if b.Outcome >= 0 {
			class = desk.Hue(b.Outcome)
		}
		list = append(list, band{float64(b.From) * rulerWide / 1000, float64(b.To-b.From) * rulerWide / 1000, class})
	}
	if len(list) == 0 {
		list = append(list, band{0, rulerWide, "to-none"})
	}
	return list
}

// drawn marks where a lead stands.
func (r *ruler) drawn(l *store.Lead) drawn {
	if r.name == "" || l.Reach < 0 {
		return drawn{At: -1}
	}
	return drawn{r.name, l.Score, r.bands, float64(l.Reach) * rulerWide / 1000}
}
