package store

import (
	"omphalos/core/quiz"
)

// looksUp is what a quiz looks up outside.
type looksUp struct{ signposts, products, tags, places, calendars map[string]bool }

func looksUpOf(q *quiz.Quiz) looksUp {
	u := looksUp{map[string]bool{}, map[string]bool{}, map[string]bool{}, map[string]bool{}, map[string]bool{}}
	sign := func(s *quiz.Signpost) {
		if s != nil {
			u.signposts[s.Table] = true
		}
	}
	for _, asked := range q.Questions {
		switch asked.Kind {
		case quiz.Location:
			u.places[asked.Table] = true
		case quiz.Appointment:
			u.calendars[asked.Table] = true
		}
	}
	for _, o := range q.Outcomes {
		for _, l := range o.Landings {
			sign(l.Signpost)
			for _, block := range l.Blocks {
				sign(block.Signpost)
			}
			if l.Products != nil {
				for _, n := range l.Products.Named {
					u.products[n.Key] = true
				}
				for _, n := range l.Products.Tags {
					u.tags[n.Key] = true
				}
			}
		}
	}
	for _, f := range q.FollowUps {
		for _, block := range f.Blocks {
			sign(block.Signpost)
		}
	}
	return u
}
