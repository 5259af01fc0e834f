package ui

import (
	"time"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Zone returns the time zone of a quiz: UTC where it names none.
func Zone(q *quiz.Quiz) *time.Location {
	if q != nil && q.Settings != nil && q.Settings.TimeZone != "" {
		if zone, err := time.LoadLocation(q.Settings.TimeZone); err == nil {
			return zone
		}
	}
	return time.UTC
}

// Today is the day that it is where a quiz is at home.
func Today(q *quiz.Quiz) decimal.Decimal { return quiz.DayOf(time.Now().In(Zone(q))) }
