package ui

import (
	"time"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Zone returns the time zone of a quiz: UTC where it names none, and of nil.
func Zone(q *quiz.Quiz) *time.Location {
	if q == nil {
		return time.UTC
	}
	return q.Zone()
}

// Today is the day that it is where a quiz is at home.
func Today(q *quiz.Quiz) decimal.Decimal { return quiz.DayOf(time.Now().In(Zone(q))) }
