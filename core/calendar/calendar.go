// Package calendar tells which appointments somebody offers: hours by weekday, cut into
// appointments of one length, but for days off, what is too soon and what is too far away.
// It knows no clock: the time that it is comes with each question.
package calendar

import (
	"errors"
	"fmt"
	"time"
)

// A Calendar says when appointments can begin. Times of day are those of its zone.
type Calendar struct {
	Zone   *time.Location
	Hours  Week
	Off    []Days        // on which nothing is offered
	Length time.Duration // of an appointment: whole minutes, 5 to MostLength
	Buffer time.Duration // kept free behind each: whole minutes, 0 to MostLength
	Lead   time.Duration // how long before it begins one is offered at the latest, 0 to MostAhead days
	Ahead  int           // how many days ahead one is offered, counted from today: 1 to MostAhead
	Seats  int           // how many can have the same appointment: 1 to MostSeats
}

// A Week is the hours of each day, by time.Weekday: rising, and none overlaps another.
type Week [7][]Span

// A Span is a part of a day in minutes from its midnight: From is in it, To is not. 0 to 1440.
type Span struct{ From, To int }

// Days are days that follow each other, both ends among them, as UTC midnights.
type Days struct{ First, Last time.Time }

// Bounds of what a calendar can be.
const (
	MostLength = 24 * time.Hour
	MostAhead  = 366
	MostSeats  = 1000
	MostOff    = 200 // rows of days off
)

// Errors that Check wraps, each with a sentence.
var (
	ErrHours  = errors.New("hours")
	ErrLength = errors.New("length")
	ErrAhead  = errors.New("ahead")
	ErrSeats  = errors.New("seats")
	ErrOff    = errors.New("days off")
)

// Check tells what keeps a calendar from offering anything. The error wraps one of the
// errors above.
func (c *Calendar) Check() error {
	switch {
	case c.Length < 5*time.Minute || c.Length > MostLength || c.Length%time.Minute != 0:
		return fmt.Errorf("%w: an appointment takes from 5 minutes to 24 hours", ErrLength)
	case c.Buffer < 0 || c.Buffer > MostLength || c.Buffer%time.Minute != 0:
		return fmt.Errorf("%w: what is kept free between two takes from 0 minutes to 24 hours", ErrLength)
	case c.Lead < 0 || c.Lead > MostAhead*24*time.Hour:
		return fmt.Errorf("%w: an appointment is made from 0 hours to %d days before", ErrAhead, MostAhead)
	case c.Ahead < 1 || c.Ahead > MostAhead:
		return fmt.Errorf("%w: appointments are offered from 1 to %d days ahead", ErrAhead, MostAhead)
	case c.Lead >= time.Duration(c.Ahead)*24*time.Hour:
		return fmt.Errorf("%w: nothing is left, since it has to be made earlier than it is offered", ErrAhead)
	case c.Seats < 1 || c.Seats > MostSeats:
		return fmt.Errorf("%w: an appointment has from 1 to %d", ErrSeats, MostSeats)
	case len(c.Off) > MostOff:
		return fmt.Errorf("%w: at most %d rows", ErrOff, MostOff)
	}
	longest := 0
	for _, spans := range c.Hours {
		for _, s := range spans {
			longest = max(longest, s.To-s.From)
		}
	}
	if open := time.Duration(longest) * time.Minute; open > 0 && open < c.Length {
		return fmt.Errorf("%w: an appointment of %d minutes fits into none of them", ErrHours, c.Length/time.Minute)
	}
	return nil
}

// Offered returns when appointments can begin at a time of asking, from from to before to,
// rising, in the calendar's zone. Where clocks are put forward what is skipped is not
// offered, and where they are put back one of two times is.
func (c *Calendar) Offered(now, from, to time.Time) []time.Time {
	now = now.In(c.Zone)
	year, month, day := now.Date()
	if end := time.Date(year, month, day+c.Ahead, 0, 0, 0, 0, c.Zone); to.After(end) {
		to = end
	}
	if earliest := now.Add(c.Lead); from.Before(earliest) {
		from = earliest
	}
	var list []time.Time
	year, month, day = from.In(c.Zone).Date()
	for ; ; day++ {
		if !time.Date(year, month, day, 0, 0, 0, 0, c.Zone).Before(to) {
			return list
		}
		for _, at := range c.day(year, month, day) {
			if !at.Before(from) && at.Before(to) {
				list = append(list, at)
			}
		}
	}
}

// day lists when appointments begin on a day.
func (c *Calendar) day(year int, month time.Month, day int) []time.Time {
	date := time.Date(year, month, day, 0, 0, 0, 0, time.UTC)
	for _, off := range c.Off {
		if !date.Before(off.First) && !date.After(off.Last) {
			return nil
		}
	}
	var list []time.Time
	length, step := int(c.Length/time.Minute), int((c.Length+c.Buffer)/time.Minute)
	for _, s := range c.Hours[date.Weekday()] {
		for minute := s.From; minute+length <= s.To; minute += step {
			at := time.Date(year, month, day, 0, minute, 0, 0, c.Zone)
			if at.Hour()*60+at.Minute() == minute {
				list = append(list, at)
			}
		}
	}
	return list
}
