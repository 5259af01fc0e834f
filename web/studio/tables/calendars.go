package tables

import (
	"errors"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/calendar"
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
	}
	if page.Typed.Zone == "" && !again {
		page.Typed.Zone = s.Store.Responses.Zone().String()
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
