package store

import (
	"context"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/program"
	"omphalos/store/tally"
)

func appointmentsAreKept(t *testing.T, s *Store) {
	rs, ctx := s.Responses, t.Context()
	at := time.Date(2026, 4, 1, 9, 0, 0, 0, time.UTC)
	book := func(who string, minutes, seats int) error {
		return rs.Book(ctx, Booking{Calendar: "visits", Start: at.Add(time.Duration(minutes) * time.Minute),
			Minutes: 30, Response: who}, seats, 0)
	}
	require.NoError(t, book("ann", 0, 1))
	assert.ErrorIs(t, book("ben", 0, 1), ErrTaken)
	assert.ErrorIs(t, book("ben", 15, 1), ErrTaken, "as long as hers lasts")
	first, err := rs.BookingOf(ctx, "ann")
	require.NoError(t, err)
	require.NoError(t, book("ann", 0, 1))
	again, err := rs.BookingOf(ctx, "ann")
	require.NoError(t, err)
	assert.Equal(t, first.Token, again.Token, "once more is the same appointment")
	require.NoError(t, book("ann", 60, 1))
	require.NoError(t, book("ben", 0, 1), "ann has another")
	list, err := rs.Bookings(ctx, "visits", at, at.Add(time.Hour))
	require.NoError(t, err)
	assert.Len(t, list, 1)
	mine, err := rs.BookingOf(ctx, "ann")
	require.NoError(t, err)
	assert.True(t, mine.Start.Equal(at.Add(time.Hour)))

	require.NoError(t, rs.Book(ctx, Booking{Calendar: "calls", Start: at, Minutes: 30, Response: "ann"}, 1, 0))
	assert.NoError(t, book("cat", 60, 1), "a passage has one appointment, whatever the calendar")
	require.NoError(t, book("dan", 60, 2))
	assert.ErrorIs(t, book("eve", 60, 2), ErrTaken, "two seats are two")
	cat, err := rs.BookingOf(ctx, "cat")
	require.NoError(t, err)
	by, err := rs.BookingBy(ctx, cat.Token)
	require.NoError(t, err)
	assert.Equal(t, "cat", by.Response)
	require.NoError(t, rs.GiveBack(ctx, cat.Token))
	_, err = rs.BookingBy(ctx, cat.Token)
	assert.ErrorIs(t, err, ErrNotFound)
	require.NoError(t, rs.Book(ctx, cat, 2, 0))
	again, err = rs.BookingOf(ctx, "cat")
	require.NoError(t, err)
	assert.Equal(t, cat.Token, again.Token, "with its link")
	require.NoError(t, rs.GiveBack(ctx, cat.Token))
	require.NoError(t, book("eve", 60, 2))
	assert.ErrorIs(t, rs.Book(ctx, cat, 2, 0), ErrTaken, "her seat is given")
	fay := Booking{Calendar: "visits", Start: at.Add(90 * time.Minute), Minutes: 30, Response: "fay"}
	assert.ErrorIs(t, rs.Book(ctx, fay, 2, 15*time.Minute), ErrTaken, "what is kept free behind the others")
	require.NoError(t, rs.Book(ctx, fay, 2, 0))
}

// A calendar gives what it offers, each seat once however many ask at the same time.
func calendarsAreKept(t *testing.T, s *Store) {
	d, ctx := s.Definitions, t.Context()
	diary := Diary{s}
	none, err := diary.Free(ctx, "visits", now(), now().AddDate(0, 0, 9))
	require.NoError(t, err)
	assert.Empty(t, none, "there is no such calendar")
	assert.Equal(t, time.UTC, diary.Zone(ctx, "visits"))
	c := NewCalendar("visits", "Europe/Dublin")
	c.Seats = 3
	for day := range c.Hours {
		c.Hours[day] = "0-24"
	}
	c.Off = "2030-01-02 – 2030-01-05"
	require.NoError(t, d.PutCalendar(ctx, c))
	kept, err := d.Calendar(ctx, "visits")
	require.NoError(t, err)
	assert.Equal(t, "2030-01-02 to 2030-01-05", kept.Off, "as it is read")
	assert.Equal(t, "0:00–24:00", kept.Hours[3])
	for what, wrong := range map[string]func(*Calendar){
		"it needs a name":         func(c *Calendar) { c.Name = " " },
		"is no time zone":         func(c *Calendar) { c.Zone = "Quillbrook" },
		"Tuesday: hours":          func(c *Calendar) { c.Hours[2] = "early" },
		"is not a date":           func(c *Calendar) { c.Off = "Christmas" },
		"from 5 minutes to 24 ho": func(c *Calendar) { c.Minutes = 0 },
	} {
		bad := NewCalendar("bad", "UTC")
		wrong(&bad)
		err := d.PutCalendar(ctx, bad)
		assert.ErrorIs(t, err, ErrCalendar, what)
		assert.ErrorContains(t, err, what)
	}

	free, err := diary.Free(ctx, "visits", now(), now().AddDate(0, 0, 9))
	require.NoError(t, err)
	require.NotEmpty(t, free)
	assert.Equal(t, "Europe/Dublin", free[0].Location().String())
	book := func(name string, at time.Time, who string) error {
		return diary.Book(ctx, Booking{Calendar: name, Start: at, Response: who})
	}
	var given atomic.Int32
	var asking sync.WaitGroup
	for i := range 12 {
		asking.Go(func() {
			if err := book("visits", free[0], fmt.Sprint("r", i)); err == nil {
				given.Add(1)
			} else {
				assert.ErrorIs(t, err, ErrTaken)
			}
		})
	}
	asking.Wait()
	assert.EqualValues(t, 3, given.Load())
	after, err := diary.Free(ctx, "visits", now(), now().AddDate(0, 0, 9))
	require.NoError(t, err)
	assert.NotContains(t, after, free[0])
	assert.ErrorIs(t, book("visits", free[1].Add(time.Minute), "late"), ErrTaken, "what is not offered can't be taken")
	assert.ErrorIs(t, book("visits", free[0].AddDate(-1, 0, 0), "late"), ErrTaken, "nor what is over")
	assert.ErrorIs(t, book("calls", free[1], "late"), ErrTaken, "nor what no calendar has")
	c.Lead = 48
	require.NoError(t, d.PutCalendar(ctx, c))
	assert.ErrorIs(t, book("visits", free[1], "late"), ErrTaken, "nor what is too soon by now")

	// What is booked stays, and blocks what overlaps it when the hours are others.
	c.Minutes, c.Lead = 20, 2
	require.NoError(t, d.PutCalendar(ctx, c))
	near, err := diary.Free(ctx, "visits", free[0].Add(-time.Hour), free[0].Add(time.Hour))
	require.NoError(t, err)
	require.NotEmpty(t, near)
	for _, at := range near {
		assert.True(t, at.Add(20*time.Minute).Compare(free[0]) <= 0 || at.Compare(free[0].Add(30*time.Minute)) >= 0, at)
	}
	require.NoError(t, d.RemoveCalendar(ctx, "visits"))
	list, err := d.Calendars(ctx)
	require.NoError(t, err)
	assert.Empty(t, list)
}

// nothingAfterItsTime asks in vain when the time for an answer has passed.
func nothingAfterItsTime(t *testing.T, s *Store) {
	z, r := add(t, s, asked("Bees"))
	many(t, s, r, 3)
	ended, end := context.WithCancel(t.Context())
	end()
	for what, err := range map[string]error{
		"read":    errOf(s.Definitions.Quizzes(ended)),
		"write":   s.Definitions.PutProducts(ended, []Product{{Key: "hive", Name: "Hive"}}),
		"passage": errOf(s.Responses.Start(ended, r, z.Slug, program.Visitor{})),
		"figures": s.Responses.Tally(ended, z.ID, func(*tally.Tally) {}),
		"people":  errOf(s.People.Users(ended)),
	} {
		assert.ErrorIs(t, err, context.Canceled, what)
	}
}
