package standin

import (
	"context"
	"strings"
	"time"

	"omphalos/store"
)

// A Calendar stands in for a calendar service: every calendar by any name is open from
// Monday to Friday, 9:00 to 12:00 and 13:30 to 16:30 in the zone that is asked in, in
// half-hours, but for what was booked.
type Calendar struct{ Store *store.Store }

const halfHour = 30 * time.Minute

// Free returns the half-hours of a calendar that can be booked.
func (c Calendar) Free(ctx context.Context, calendar string, from, to time.Time) ([]time.Time, time.Duration, error) {
	if strings.TrimSpace(calendar) == "" {
		return nil, halfHour, nil
	}
	booked, err := c.Store.Responses.Bookings(ctx, calendar, from, to)
	if err != nil {
		return nil, halfHour, err
	}
	taken := map[int64]bool{}
	for _, b := range booked {
		taken[b.Start.Unix()] = true
	}
	var free []time.Time
	zone := from.Location()
	year, month, first := from.Date()
	for day := 0; ; day++ {
		morning := time.Date(year, month, first+day, 9, 0, 0, 0, zone)
		if !morning.Before(to) {
			return free, halfHour, nil
		}
		if w := morning.Weekday(); w == time.Saturday || w == time.Sunday {
			continue
		}
		for n := range 15 { // 9:00 to 16:00
			at := morning.Add(time.Duration(n) * halfHour)
			noon := n >= 6 && n < 9
			if !noon && !at.Before(from) && at.Before(to) && !taken[at.Unix()] {
				free = append(free, at)
			}
		}
	}
}

// Book books a half-hour for a passage.
func (c Calendar) Book(ctx context.Context, calendar string, start time.Time, passage string) error {
	return c.Store.Responses.Book(ctx, store.Booking{Calendar: calendar, Start: start, Response: passage})
}

// Booked returns the half-hour that a passage has.
func (c Calendar) Booked(ctx context.Context, calendar, passage string) (time.Time, time.Duration, bool) {
	b, err := c.Store.Responses.BookingOf(ctx, calendar, passage)
	return b.Start, halfHour, err == nil
}
