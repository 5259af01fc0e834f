package learn

import (
	"slices"
	"strings"

	"omphalos/core/quiz"
	"omphalos/interchange/rows"
	"omphalos/store/slice"
	"omphalos/store/tally"
)

// order is how the responses are sorted: by the newest where nothing, or nothing that is
// known, is said.
func (s *sentence) order() (by string, order tally.Order) {
	by, falling := strings.CutPrefix(s.view.Get("sort"), "-")
	of, known := propertyOf(s.quiz, by)
	if !known {
		return "", tally.Order{Falling: true}
	}
	return by, tally.Order{By: of, Falling: falling}
}

// propertyOf returns what a column is sorted by.
func propertyOf(q *quiz.Quiz, key string) (tally.Property, bool) {
	switch kind, rest, _ := strings.Cut(key, "."); kind {
	case "seconds":
		return tally.Property{Kind: tally.Seconds}, true
	case "score":
		return tally.Property{Kind: tally.Score, Key: rest}, q.Scales[rest] != nil
	case "answer":
		asked := q.Questions[rest]
		if asked == nil {
			return tally.Property{}, false
		}
		if asked.Kind.Numeric() || asked.Kind == quiz.Date {
			return tally.Property{Kind: tally.Amount, Key: rest}, true
		}
		return tally.Property{Kind: tally.Answer, Key: rest}, asked.Kind.Choice() || asked.Kind == quiz.Country
	case "release":
		return tally.Property{}, false // its numbers in the database are not theirs
	default:
		return tally.Property{Kind: tally.Kind(key)}, slices.Contains(slice.Kinds, tally.Kind(key)) || key == "landing"
	}
}

// listed is the address with another way of listing, the first page of it.
func (s *sentence) listed(field, value string) string {
	fields := s.clone()
	if fields.Del(field); value != "" {
		fields.Set(field, value)
	}
	return s.at(fields) + "#responses"
}

// column is the head of a column; a press on it sorts, and turns the order round.
func (s *sentence) column(t *slice.Table, key, by string, falling bool) column {
	of := t.Column(key)
	c := column{Key: key, Name: of.Words, Number: of.Kind == rows.Whole || of.Kind == rows.Number}
	if _, known := propertyOf(s.quiz, key); !known {
		return c
	}
	next := key
	switch {
	case by == key && falling:
		c.Order = "descending"
	case by == key:
		c.Order, next = "ascending", "-"+key
	case c.Number: // the most first
		next = "-" + key
	}
	c.Sort = s.listed("sort", next)
	return c
}
