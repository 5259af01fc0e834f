package player

import (
	"bytes"
	"context"
	"errors"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/goodsign/monday"
	"golang.org/x/text/language"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/interchange/invitation"
	"omphalos/store"
)

// A Calendar is a service that knows when somebody is free. Times come in the zone of the quiz.
type Calendar interface {
	// Free returns the times from which an appointment can begin, rising, between two
	// times, and how long one lasts. A calendar that it does not know has none.
	Free(ctx context.Context, calendar string, from, to time.Time) ([]time.Time, time.Duration, error)
	// Book books a time for a passage, in place of one that it had. The error is
	// store.ErrTaken where somebody else has it.
	Book(ctx context.Context, calendar string, start time.Time, passage string) error
	// Booked returns the time that a passage has booked, and false for none.
	Booked(ctx context.Context, calendar, passage string) (time.Time, time.Duration, bool)
}

// A slotDay is a day with its free times.
type slotDay struct {
	Name  string
	Open  bool
	Times []slotView
}

type slotView struct {
	Value, Name string
	Chosen      bool
}

// Appointments are offered from two hours ahead, on so many days that have free times,
// within so long.
const (
	slotsAhead  = 2 * time.Hour
	slotDays    = 5
	slotsWithin = 21 * 24 * time.Hour
)

func (j *journey) zone() *time.Location { return zoneOf(j.program.Quiz) }

// zoneOf returns the time zone of a quiz.
func zoneOf(q *quiz.Quiz) *time.Location {
	if s := q.Settings; s != nil && s.TimeZone != "" {
		if zone, err := time.LoadLocation(s.TimeZone); err == nil {
			return zone
		}
	}
	return time.UTC
}

// slots lists the free times of an appointment question, by day, and says which is chosen.
func (j *journey) slots(q *quiz.Question, chosen string) (days []slotDay, day string) {
	if j.player.Calendar == nil {
		return nil, ""
	}
	from := time.Now().In(j.zone()).Add(slotsAhead)
	free, _, err := j.player.Calendar.Free(j.ctx, q.Table, from, from.Add(slotsWithin))
	if err != nil {
		slog.Error("reading free appointments", "error", err)
		return nil, ""
	}
	mine, _ := time.Parse(time.RFC3339, chosen)
	for _, at := range free {
		at = at.In(j.zone())
		name := j.tongue().day(at)
		if len(days) == 0 || days[len(days)-1].Name != name {
			if len(days) == slotDays {
				break
			}
			days = append(days, slotDay{Name: name, Open: len(days) == 0})
		}
		last := &days[len(days)-1]
		last.Times = append(last.Times, slotView{at.UTC().Format(time.RFC3339), at.Format("15:04"), at.Equal(mine)})
		if at.Equal(mine) {
			last.Open, day = true, j.tongue().dayAndTime(at)
		}
	}
	return days, day
}

// day names a day of this year or the next; dayAndTime with the time.
func (t tongue) day(at time.Time) string {
	if t.known() == language.English {
		return at.Format("Monday 2 January")
	}
	return monday.Format(at, "Monday 2 January", t.locale())
}

func (t tongue) dayAndTime(at time.Time) string { return t.day(at) + at.Format(", 15:04") }

// locale is the language as goodsign/monday has it.
func (t tongue) locale() monday.Locale {
	base, _ := t.known().Base()
	for _, l := range monday.ListLocales() {
		if strings.HasPrefix(string(l), base.String()+"_") {
			return l
		}
	}
	return monday.LocaleEnUS
}

// refusesTime tells what is wrong with a time that was chosen.
func (p *player) refusesTime(j *journey, q *quiz.Question, chosen string) string {
	at, err := time.Parse(time.RFC3339, chosen)
	if err != nil || p.Calendar == nil {
		return j.tongue().say("There are no times to choose from just now. Try again later.")
	}
	if mine, _, booked := p.Calendar.Booked(j.ctx, q.Table, j.response()); booked && mine.Equal(at) {
		return ""
	}
	at = at.In(j.zone())
	free, _, err := p.Calendar.Free(j.ctx, q.Table, at, at.Add(time.Minute))
	if err != nil || !slices.ContainsFunc(free, at.Equal) {
		return j.tongue().say("This time is not free any more. Choose another one.")
	}
	return ""
}

// appointment returns the appointment on a passage, its question, and false for none.
func (j *journey) appointment(r *passage.Result) (start time.Time, at int, has bool) {
	in := j.input()
	for _, i := range r.Seen {
		if j.program.Question(i).Kind == quiz.Appointment && in.Answers[i].State == program.Given {
			if start, err := time.Parse(time.RFC3339, in.Answers[i].Text); err == nil {
				return start.In(j.zone()), i, true
			}
		}
	}
	return time.Time{}, 0, false
}

// book books the appointment on a passage. It returns the position of its question where
// the time has been given to somebody else, and −1 otherwise.
func (p *player) book(j *journey) int {
	start, at, has := j.appointment(j.walk())
	if !has || p.Calendar == nil {
		return -1
	}
	err := p.Calendar.Book(j.ctx, j.program.Question(at).Table, start, j.response())
	if errors.Is(err, store.ErrTaken) {
		return at
	}
	if err != nil {
		slog.Error("booking an appointment", "error", err)
		return at
	}
	return -1
}

// calendarFile is the last part of the address of an appointment as a file, which no
// question's key can be.
const calendarFile = "appointment.ics"

func (p *player) calendarFile(c *gin.Context, j *journey) {
	start, at, has := j.appointment(j.walk())
	if !has || !j.passage.Finished || p.Calendar == nil {
		p.fail(c, store.ErrNotFound)
		return
	}
	if j.rehearsal != nil {
		c.Redirect(http.StatusSeeOther, j.outward("appointment.ics"))
		return
	}
	_, length, booked := p.Calendar.Booked(j.ctx, j.program.Question(at).Table, j.response())
	if !booked {
		p.fail(c, store.ErrNotFound)
		return
	}
	var file bytes.Buffer
	a := invitation.Appointment{
		ID:     j.response() + "@omphalos",
		Title:  j.program.Quiz.Title,
		Start:  start,
		Length: length,
		Made:   j.passage.Updated,
	}
	if err := a.Write(&file); err != nil {
		p.fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="appointment.ics"`)
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", file.Bytes())
}
