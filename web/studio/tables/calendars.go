package tables

import (
	"errors"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/calendar"
	"omphalos/core/excerpt"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

type calendarsPage struct {
	desk.Frame
	List  []calendarRow
	Typed store.Calendar
	Days  []dayHours // of the typed one, from Monday
	Again bool       // the form holds a calendar that is there
	Wrong string
	Zones []string

	Booked []bookedRow // of the calendar in the form
	Past   bool        // there are more than are shown
}

// A calendarRow is a calendar among all.
type calendarRow struct {
	store.Calendar
	Open  string // when it is, in words
	Free  int    // times that can be chosen just now
	Next  string // the first of them
	Taken int    // appointments that are to come
	Days  []dayHours
}

// dayHours are the hours of a weekday, with a strip of the day from 6:00 to 22:00.
type dayHours struct {
	Field, Name, Short string
	Hours              string
	Spans              []strip
}

// A strip is a part of a drawing that is stripWidth wide, in its pixels.
type strip struct{ X, Width float64 }

const (
	stripWidth = 160
	stripFrom  = 6 * 60 // minute of a day at its left end
	stripTo    = 22 * 60
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

func (s *Room) calendars(c *gin.Context) {
	name := c.Query("calendar")
	typed, err := s.Store.Definitions.Calendar(c.Request.Context(), name)
	if err != nil {
		typed = store.NewCalendar(name, "")
	}
	s.showCalendars(c, http.StatusOK, typed, err == nil, "")
}

func (s *Room) showCalendars(c *gin.Context, status int, typed store.Calendar, again bool, wrong string) {
	ctx := c.Request.Context()
	list, err := s.Store.Definitions.Calendars(ctx)
	if err != nil {
		s.Fail(c, err)
		return
	}
	page := calendarsPage{Frame: s.Frame(c, "Calendars", "calendars", nil), Typed: typed, Again: again,
		Wrong: wrong, Zones: desk.Zones}
	for _, one := range list {
		page.List = append(page.List, s.calendarRow(c, one))
		if page.Typed.Zone == "" && !again {
			page.Typed.Zone = one.Zone
		}
	}
	page.Days = daysOf(typed)
	if again {
		page.Booked, page.Past, err = s.bookedOf(c, typed)
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Show(c, status, "calendars", page)
}

func (s *Room) calendarRow(c *gin.Context, one store.Calendar) calendarRow {
	ctx, now := c.Request.Context(), time.Now()
	row := calendarRow{Calendar: one, Days: daysOf(one), Open: openWords(one)}
	free, err := store.Diary{Store: s.Store}.Free(ctx, one.Name, now, now.AddDate(1, 1, 0))
	if err == nil && len(free) > 0 {
		row.Free, row.Next = len(free), free[0].Format("Mon 2 January, 15:04")
	}
	if booked, err := s.Store.Responses.Bookings(ctx, one.Name, now, now.AddDate(2, 0, 0)); err == nil {
		row.Taken = len(booked)
	}
	return row
}

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

// weekdays are the days of a week as they are shown.
var weekdays = []time.Weekday{1, 2, 3, 4, 5, 6, 0}

func daysOf(c store.Calendar) []dayHours {
	var list []dayHours
	for _, day := range weekdays {
		d := dayHours{Field: strings.ToLower(day.String()), Name: day.String(), Short: day.String()[:2], Hours: c.Hours[day]}
		spans, _ := calendar.ParseSpans(c.Hours[day]) // what can't be read is told when it is kept
		x := func(minute int) float64 {
			return float64(min(max(minute, stripFrom), stripTo)-stripFrom) / (stripTo - stripFrom) * stripWidth
		}
		for _, span := range spans {
			d.Spans = append(d.Spans, strip{x(span.From), x(span.To) - x(span.From)})
		}
		list = append(list, d)
	}
	return list
}

// openWords says when a calendar is open: days that follow each other with the same hours
// together.
func openWords(c store.Calendar) string {
	var words []string
	for i := 0; i < len(weekdays); {
		n := i
		for n+1 < len(weekdays) && c.Hours[weekdays[n+1]] == c.Hours[weekdays[i]] {
			n++
		}
		if hours := c.Hours[weekdays[i]]; hours != "" {
			days := weekdays[i].String()
			if n > i {
				days += " to " + weekdays[n].String()
			}
			words = append(words, days+" "+hours)
		}
		i = n + 1
	}
	return strings.Join(words, "; ")
}

func (s *Room) putCalendar(c *gin.Context) {
	value := c.Request.FormValue
	typed, err := store.CalendarOf(value)
	_, there := s.Store.Definitions.Calendar(c.Request.Context(), strings.TrimSpace(typed.Name))
	if value("fill") != "" { // the hours of Monday for the days until Friday
		for day := time.Tuesday; day <= time.Friday; day++ {
			typed.Hours[day] = typed.Hours[time.Monday]
		}
		s.showCalendars(c, http.StatusOK, typed, value("again") != "", "")
		return
	}
	if err == nil && there == nil && value("again") == "" {
		err = errors.New("there is a calendar of this name already: choose another one, or press its name to change it")
	}
	if err == nil {
		err = s.Store.Definitions.PutCalendar(c.Request.Context(), typed)
	}
	switch {
	case err == nil:
		s.Say(c, "Kept. Questions offer its times at once, released ones too. What is booked stays booked.", "")
		c.Redirect(http.StatusSeeOther, "/studio/calendars?calendar="+url.QueryEscape(strings.TrimSpace(typed.Name)))
	case errors.Is(err, store.ErrBusy):
		s.Fail(c, err)
	default:
		s.showCalendars(c, http.StatusUnprocessableEntity, typed, value("again") != "",
			desk.SentenceOf(err.Error())+" Nothing was changed.")
	}
}

func (s *Room) removeCalendar(c *gin.Context) {
	ctx, name := c.Request.Context(), c.PostForm("name")
	there, err := s.Store.Definitions.Calendar(ctx, name)
	if err == nil {
		err = s.Store.Definitions.RemoveCalendar(ctx, name)
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	values := url.Values{}
	for column, value := range there.Row() {
		values.Set(column, value)
	}
	s.Say(c, "Its times are not offered any more. What is booked stays booked.", "/studio/calendars?"+values.Encode())
	c.Redirect(http.StatusSeeOther, "/studio/calendars")
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
