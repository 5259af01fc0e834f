// Package invitation writes an appointment as an iCalendar file (RFC 5545), which a
// calendar on any device takes in.
package invitation

import (
	"io"
	"strings"
	"time"

	"github.com/emersion/go-ical"
)

// An Appointment is a time that somebody has booked.
type Appointment struct {
	ID     string // stays the same when the file is made again
	Title  string
	Place  string
	Start  time.Time
	Length time.Duration
	Made   time.Time
	Link   string // where it is given back, "" for nowhere
	Day    bool   // it is of the whole day on which it starts, in UTC
}

// Write writes the appointment as a calendar with one event.
func (a Appointment) Write(w io.Writer) error {
	event := ical.NewEvent()
	event.Props.SetText(ical.PropUID, a.ID)
	event.Props.SetDateTime(ical.PropDateTimeStamp, a.Made.UTC())
	if a.Day {
		event.Props.SetDate(ical.PropDateTimeStart, a.Start.UTC())
	} else {
		event.Props.SetDateTime(ical.PropDateTimeStart, a.Start.UTC())
		event.Props.SetDateTime(ical.PropDateTimeEnd, a.Start.Add(a.Length).UTC())
	}
	event.Props.SetText(ical.PropSummary, oneLine(a.Title))
	if a.Place != "" {
		event.Props.SetText(ical.PropLocation, oneLine(a.Place))
	}
	if a.Link != "" {
		event.Props.SetText(ical.PropURL, a.Link)
		event.Props.SetText(ical.PropDescription, a.Link)
	}
	calendar := ical.NewCalendar()
	calendar.Props.SetText(ical.PropVersion, "2.0")
	calendar.Props.SetText(ical.PropProductID, "-//Omphalos//Appointments//EN")
	calendar.Children = append(calendar.Children, event.Component)
	return ical.NewEncoder(w).Encode(calendar)
}

func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }
