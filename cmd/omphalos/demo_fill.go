package main

import (
	"context"
	_ "embed"
	"fmt"
	"strings"
	"time"

	"omphalos/core/quiz"
	"omphalos/store"
)

// fillDemo puts the demo's data into an empty workspace, with the stand-ins at an address.
// One that has quizzes is left as it is.
func fillDemo(ctx context.Context, s *store.Store, standIns string, responses int) error {
	people, err := s.People.Users(ctx)
	if err != nil {
		return err
	}
	if len(people) == 0 {
		if err := s.People.PutUser(ctx, demoEmail, "Quillbrook marketing", demoPassword); err != nil {
			return err
		}
		for _, name := range colleagues { // who work the leads; nobody knows their passwords
			if err := s.People.PutUser(ctx, strings.ToLower(name)+"@quillbrook.example", name, store.Token()); err != nil {
				return err
			}
		}
	}
	there, err := s.Definitions.Quizzes(ctx)
	if err != nil || len(there) > 0 {
		return err
	}
	if err := s.Definitions.SetZone(ctx, demoZone); err != nil {
		return err
	}
	q, err := quiz.Read([]byte(strings.ReplaceAll(string(orchard), defaultStandIns, standIns)))
	if err != nil {
		return fmt.Errorf("the demo's quiz: %w", err)
	}
	z, err := s.Definitions.AddQuiz(ctx, q)
	if err != nil {
		return err
	}
	r, err := s.Definitions.Release(ctx, z.ID, z.Revision, 1)
	if err != nil {
		return err
	}
	if err := answerDemo(ctx, s, r, z.Slug, min(responses, leadResponses)); err != nil {
		return err
	}
	if q, err = quiz.Read(finder); err != nil {
		return fmt.Errorf("the demo's finder: %w", err)
	}
	if z, err = s.Definitions.AddQuiz(ctx, q); err != nil {
		return err
	}
	if _, err = s.Definitions.Release(ctx, z.ID, z.Revision, 1); err != nil {
		return err
	}
	if err := fillTables(ctx, s, standIns); err != nil {
		return err
	}
	if err := connect(ctx, s, standIns); err != nil {
		return err
	}
	if q, err = quiz.Read(keeper); err != nil {
		return fmt.Errorf("the demo's draft: %w", err)
	}
	if _, err = s.Definitions.AddQuiz(ctx, q); err != nil {
		return err
	}
	if q, err = quiz.Read(day); err != nil {
		return fmt.Errorf("the demo's day: %w", err)
	}
	q.Settings.Frames = []string{"http://" + standIns}
	if z, err = s.Definitions.AddQuiz(ctx, q); err != nil {
		return err
	}
	if _, err = s.Definitions.Release(ctx, z.ID, z.Revision, 1); err != nil || responses <= leadResponses {
		return err
	}
	if q, err = quiz.Read(season); err != nil {
		return fmt.Errorf("the demo's season: %w", err)
	}
	if z, err = s.Definitions.AddQuiz(ctx, q); err != nil {
		return err
	}
	if r, err = s.Definitions.Release(ctx, z.ID, z.Revision, 1); err != nil {
		return err
	}
	second, err := softer(ctx, s, z)
	if err != nil {
		return err
	}
	if err := answerSeason(ctx, s, [2]*store.Release{r, second}, z.Slug, responses-leadResponses); err != nil {
		return err
	}
	return stricter(ctx, s, z.ID)
}

// stricter changes the season's draft: who would land elsewhere is asked before it is released.
func stricter(ctx context.Context, s *store.Store, id uint) error {
	for _, patch := range []string{
		`[{"op":"replace","path":"/questions/budget/answers/little/adds/promise","value":2}]`,
		`[{"op":"replace","path":"/decision/steps/bands/cuts/hot/at","value":22}]`,
	} {
		z, err := s.Definitions.Quiz(ctx, id)
		if err != nil {
			return err
		}
		if _, _, err := s.Definitions.Edit(ctx, id, z.Revision, []byte(patch), 1); err != nil {
			return err
		}
	}
	return nil
}

// colleagues of the demo's marketer work its leads.
var colleagues = []string{"Ada", "Joss"}

// tried is for how many days the season's quiz has asked about money in another way, of half of
// those who come: the others are asked as before.
const tried = 21

// softer releases the season's quiz with other words for the question that most leave at, and
// tries the earlier release beside it.
func softer(ctx context.Context, s *store.Store, z *store.Quiz) (*store.Release, error) {
	patch := `[{"op": "replace", "path": "/questions/budget/label",
		"value": "Roughly, what could good pollination be worth to you this year?"}]`
	z, _, err := s.Definitions.Edit(ctx, z.ID, z.Revision, []byte(patch), 1)
	if err != nil {
		return nil, err
	}
	r, err := s.Definitions.Release(ctx, z.ID, z.Revision, 1)
	if err != nil {
		return nil, err
	}
	return r, s.Definitions.TrySince(ctx, z.ID, r.Number-1, 0.5, time.Now().AddDate(0, 0, -tried))
}
