package tables

import (
	"errors"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/excerpt"
	"omphalos/store"
)

// A bookedRow is an appointment that somebody has.
type bookedRow struct {
	store.Booking
	When   string
	Who    string // what they gave of themselves, "" for nothing
	Quiz   string
	Linked string // address of the response
}

const mostBooked = 200

// bookedOf lists what is booked of a calendar from now on, and tells whether there is more.
func (s *Room) bookedOf(c *gin.Context, of store.Calendar) (rows []bookedRow, more bool, err error) {
	ctx, now := c.Request.Context(), time.Now()
	booked, err := s.Store.Responses.Bookings(ctx, of.Name, now, now.AddDate(2, 0, 0))
	if more = len(booked) > mostBooked; more {
		booked = booked[:mostBooked]
	}
	zone, wrong := time.LoadLocation(of.Zone)
	if wrong != nil {
		zone = time.UTC
	}
	for _, b := range booked {
		row := bookedRow{Booking: b, When: b.Start.In(zone).Format("Mon 2 January, 15:04")}
		if r, err := s.Store.Responses.ByPassage(ctx, b.Passage); err == nil && b.Passage != "" {
			row.Linked = "/studio/quizzes/" + strconv.Itoa(int(r.QuizID)) + "/learn/" + strconv.Itoa(r.Number)
			var said []string
			for _, contact := range r.Contacts {
				said = append(said, contact.Value)
			}
			row.Who = excerpt.Bounded(strings.Join(said, ", "), 120)
			if z, err := s.Store.Definitions.Quiz(ctx, r.QuizID); err == nil {
				row.Quiz = z.Title
			}
		}
		rows = append(rows, row)
	}
	return rows, more, err
}

// giveBack gives an appointment back for whoever has it.
func (s *Room) giveBack(c *gin.Context) {
	ctx := c.Request.Context()
	b, err := s.Store.Responses.BookingBy(ctx, c.Param("token"))
	if err == nil {
		err = s.Store.Responses.GiveBack(ctx, b.Token)
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	values := url.Values{"calendar": {b.Calendar}, "start": {b.Start.Format(time.RFC3339)},
		"minutes":  {strconv.Itoa(b.Minutes)},
		"response": {b.Response}, "passage": {b.Passage}, "release": {strconv.Itoa(int(b.ReleaseID))},
		"made": {b.Made.Format(time.RFC3339Nano)}}
	s.Say(c, "Others can choose this time again. Tell whoever had it: no message goes out by itself.",
		"/studio/calendars/appointments/"+b.Token+"/rebook?"+values.Encode())
	c.Redirect(http.StatusSeeOther, "/studio/calendars?calendar="+url.QueryEscape(b.Calendar))
}

// rebook takes giveBack back, where nobody has the time by now.
func (s *Room) rebook(c *gin.Context) {
	number := func(name string) int { n, _ := strconv.Atoi(c.Query(name)); return n }
	b := store.Booking{Calendar: c.Query("calendar"), Minutes: number("minutes"), Response: c.Query("response"),
		Passage:   c.Query("passage"),
		ReleaseID: uint(number("release")), Token: c.Param("token")}
	var err error
	if b.Start, err = time.Parse(time.RFC3339, c.Query("start")); err == nil {
		b.Made, _ = time.Parse(time.RFC3339Nano, c.Query("made"))
		seats := 1 // of a calendar that has been taken out since
		if of, wrong := s.Store.Definitions.Calendar(c.Request.Context(), b.Calendar); wrong == nil {
			seats = of.Seats
		}
		err = s.Store.Responses.Book(c.Request.Context(), b, seats, 0)
	}
	switch {
	case errors.Is(err, store.ErrTaken):
		s.Say(c, "Somebody else has this time by now, so it stays given back.", "")
	case err != nil:
		s.Fail(c, err)
		return
	default:
		s.Say(c, "It is booked again, with the same link.", "")
	}
	c.Redirect(http.StatusSeeOther, "/studio/calendars?calendar="+url.QueryEscape(b.Calendar))
}
