package quiz

import (
	"maps"
	"sort"
	"time"

	"omphalos/core/decimal"
)

// DayOf returns the day of a time, in its zone, as ParseDay gives it.
func DayOf(at time.Time) decimal.Decimal {
	day, _ := ParseDay(at.Format(dayLayout)) // is always one
	return day
}

// StartOf returns the first second of a day in a zone. Where clocks are put forward at midnight
// it is one o'clock.
func StartOf(day decimal.Decimal, zone *time.Location) time.Time {
	const around = 26 * 60 * 60 // seconds: no clock has been put further
	of := TimeOf(day)
	earlier := time.Date(of.Year(), of.Month(), of.Day(), 0, 0, -around, 0, zone)
	return earlier.Add(time.Second * time.Duration(sort.Search(2*around, func(seconds int) bool {
		return DayOf(earlier.Add(time.Duration(seconds)*time.Second)) >= day
	})))
}

// ByToday tells whether the day on which a date is given bounds it.
func (q *Question) ByToday() bool {
	return q.Kind == Date && q.Limits != nil && (q.Limits.Soonest != nil || q.Limits.Latest != nil)
}

// On returns the question as it is asked on a day: what bounds a date by today bounds it by
// that day. Days stay those of the question's Lattice: a step is counted from where it is on
// any day. Where that leaves no day it is bounded by Low and High alone, and left is false.
func (q *Question) On(today decimal.Decimal) (asked *Question, left bool) {
	if !q.ByToday() {
		return q, true
	}
	limits, values, origin := *q.Limits, q.Lattice(), decimal.Decimal(0)
	if limits.Low != nil {
		origin = limits.Low.value
	}
	if days := limits.Soonest; days != nil {
		if soonest := values.up(away(today, *days), origin); limits.Low == nil || limits.Low.value < soonest {
			limits.Low = DayBound(soonest)
		}
	}
	if days := limits.Latest; days != nil {
		if latest := values.down(away(today, *days), origin); limits.High == nil || limits.High.value > latest {
			limits.High = DayBound(latest)
		}
	}
	if limits.Low != nil && limits.High != nil && limits.Low.value > limits.High.value {
		return q, false
	}
	on := *q
	on.Limits = &limits
	return &on, true
}

func away(today decimal.Decimal, days int) decimal.Decimal {
	return today + decimal.FromInt(int64(days))
}

// On returns the quiz as it is asked on a day: itself, where today bounds no date.
func (q *Quiz) On(today decimal.Decimal) *Quiz {
	on := q
	for key, asked := range q.Questions {
		if !asked.ByToday() {
			continue
		}
		if on == q {
			copied := *q
			copied.Questions = maps.Clone(q.Questions)
			on = &copied
		}
		on.Questions[key], _ = asked.On(today)
	}
	return on
}
