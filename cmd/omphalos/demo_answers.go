package main

import (
	"context"
	"errors"
	"math"
	"time"

	"golang.org/x/sync/errgroup"

	"omphalos/core/program"
	"omphalos/store"
)

// demoResponses is how many responses the demo has by itself: those of its lead quiz, and of
// the one about the season, which come over demoDays.
const (
	leadResponses = 64
	demoResponses = leadResponses + 2000
)

// demoDays is over how many days many responses have come in.
const demoDays = 90

// demoBatch is how many responses are kept in one commit where there are many.
const demoBatch = 10_000

// answerDemo lets invented respondents answer as they would through the pages.
func answerDemo(ctx context.Context, s *store.Store, r *store.Release, slug string, respondents int) error {
	d, err := newRespondents(r)
	if err != nil {
		return err
	}
	for range respondents {
		begun, err := s.Responses.Start(
			ctx,
			r,
			slug,
			program.Visitor{Language: "en", Device: d.oneOf("phone", "desktop")},
		)
		if err != nil {
			return err
		}
		response, typed, err := d.answers(begun)
		if err != nil {
			return err
		}
		if _, err := s.Responses.Finish(ctx, begun, typed, response); err != nil {
			return err
		}
	}
	return nil
}

// answerSeason lets many answer over ninety days, from several sources, more of them each
// day: the first of two releases, and in the last days half of them the second. A third leaves
// on the way, fewer of the second. Half of those who are not turned away leave an address;
// most of these leads have been won or lost since, and what makes them won is known here.
func answerSeason(ctx context.Context, s *store.Store, releases [2]*store.Release, slug string, respondents int) error {
	d, err := newRespondents(releases[1])
	if err != nil {
		return err
	}
	now, zone := time.Now().UTC(), s.Responses.Zone()
	begin := now.AddDate(0, 0, -demoDays)
	type kept struct {
		responses []*store.Response
		left      []*store.Passage
		departed  []store.Departure
	}
	seen := map[store.Sight]int{}
	made := make(chan kept, 2)
	var keeping errgroup.Group // while the next are made up
	keeping.Go(func() error {
		var failed error
		for k := range made {
			if failed == nil {
				failed = errors.Join(s.Responses.AddResponses(ctx, k.responses, k.left...),
					s.Responses.AddDepartures(ctx, k.departed))
			}
		}
		return failed
	})
	var next kept
	for i := range respondents {
		at := begin.Add(
			time.Duration(float64(now.Sub(begin)) * math.Sqrt((float64(i)+d.chance.Float64())/float64(respondents))),
		)
		arm := 0
		if now.Sub(at) < tried*24*time.Hour {
			arm = d.chance.IntN(2)
		}
		r := releases[arm]
		begun := store.Begin("", r, slug, d.visitor())
		response, typed, err := d.answers(begun)
		if err != nil {
			close(made)
			return errors.Join(err, keeping.Wait())
		}
		begun.Started = at.Add(-d.stays(response.Asked))
		response.Of(begun)
		response.Finished = at
		d.lead(response, now)
		d.presses(response)
		if i >= respondents-demoFollowed {
			if err := d.follow(response); err != nil {
				close(made)
				return errors.Join(err, keeping.Wait())
			}
		}
		next.responses = append(next.responses, response)
		seen[sightOf(begun, at.In(zone))]++
		if d.chance.Float64() < [2]float64{0.52, 0.34}[arm] {
			gone := store.Begin("", r, slug, d.visitor())
			d.leaves(gone, typed, response.Asked, at, arm)
			seen[sightOf(gone, at.In(zone))]++
			if now.Sub(at) < unfinishedKept {
				next.left = append(next.left, gone)
			} else { // the passage itself is forgotten by now
				next.departed = append(next.departed, gone.Departure())
			}
		}
		for range d.chance.IntN(3) { // who only had a look
			seen[sightOf(store.Begin("", r, slug, d.visitor()), at.In(zone))]++
		}
		if len(next.responses) == demoBatch || i == respondents-1 {
			made <- next
			next = kept{}
		}
	}
	close(made)
	if err := keeping.Wait(); err != nil {
		return err
	}
	sights := make([]store.Sight, 0, len(seen))
	for sight, n := range seen {
		sight.Count = n
		sights = append(sights, sight)
	}
	if err := s.Responses.AddSights(ctx, sights); err != nil {
		return err
	}
	return s.Responses.Index(ctx)
}

// sightOf is the sight of whoever began a passage.
func sightOf(p *store.Passage, at time.Time) store.Sight {
	return store.Sight{QuizID: p.QuizID, ReleaseID: p.ReleaseID, Day: at.Format(time.DateOnly),
		Source: p.Came.Source, Medium: p.Came.Medium,
		Campaign: p.Came.Campaign, Country: p.Came.Country, Language: p.Came.Language, Device: p.Came.Device}
}
