package store

import (
	"context"
	"errors"
	"slices"
	"time"

	"omphalos/core/calendar"
)

// A Diary gives the appointments of the workspace's calendars.
type Diary struct{ Store *Store }

// Zone returns the zone of a calendar's times: UTC of one that is not there.
func (d Diary) Zone(ctx context.Context, name string) *time.Location {
	if of, err := d.open(ctx, name); err == nil && of != nil {
		return of.Zone
	}
	return time.UTC
}

// Free returns when appointments can begin between two times, rising, in the zone of their
// calendar: what it offers now, but for what is booked. A calendar that is not there has none.
func (d Diary) Free(ctx context.Context, name string, from, to time.Time) ([]time.Time, error) {
	of, err := d.open(ctx, name)
	if err != nil || of == nil {
		return nil, err
	}
	offered := of.Offered(now(), from, to)
	if len(offered) == 0 {
		return nil, nil
	}
	booked, err := d.Store.Responses.Bookings(ctx, name, offered[0].Add(-2*calendar.MostLength),
		to.Add(2*calendar.MostLength))
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(offered, func(at time.Time) bool {
		return len(overlapping(booked, at, of.Length, of.Buffer)) >= of.Seats
	}), nil
}

// Book books a time for a passage in place of one that it had. The error is ErrTaken where
// the calendar does not offer it, or all its seats are given.
func (d Diary) Book(ctx context.Context, b Booking) error {
	of, err := d.open(ctx, b.Calendar)
	if err != nil {
		return err
	}
	if of == nil {
		return ErrTaken
	}
	of.Lead = max(of.Lead-leadGrace, 0)
	if len(of.Offered(now(), b.Start, b.Start.Add(time.Minute))) == 0 {
		return ErrTaken
	}
	b.Minutes = int(of.Length / time.Minute)
	return d.Store.Responses.Book(ctx, b, of.Seats, of.Buffer)
}

// leadGrace is how much later than it is offered an appointment can be booked: whoever chose
// it in time takes a while over the questions behind it.
const leadGrace = time.Hour

// Booked returns what a passage has booked, and false for nothing.
func (d Diary) Booked(ctx context.Context, response string) (Booking, bool) {
	b, err := d.Store.Responses.BookingOf(ctx, response)
	return b, err == nil
}

// open returns a calendar, nil where there is none.
func (d Diary) open(ctx context.Context, name string) (*calendar.Calendar, error) {
	c, err := d.Store.Definitions.Calendar(ctx, name)
	if errors.Is(err, ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return c.Open()
}

// overlapping returns the bookings that share a moment with an appointment, or with what is
// kept free behind either.
func overlapping(booked []Booking, start time.Time, length, buffer time.Duration) (list []Booking) {
	for _, b := range booked {
		if b.Start.Before(start.Add(length+buffer)) && start.Before(b.Start.Add(b.Length()+buffer)) {
			list = append(list, b)
		}
	}
	return list
}
