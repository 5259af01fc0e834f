package player

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"log/slog"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/goodsign/monday"
	"golang.org/x/text/language"

	"omphalos/core/calendar"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/interchange/invitation"
	"omphalos/store"
	"omphalos/web/ui"
)

// A Calendar is a service that knows when somebody is free. store.Diary is the one of the
// workspace's own calendars.
type Calendar interface {
	// Zone returns the zone of a calendar's times.
	Zone(ctx context.Context, calendar string) *time.Location
	// Free returns when appointments can begin between two times, rising, in the zone of
	// their calendar. A calendar that it does not know has none.
	Free(ctx context.Context, calendar string, from, to time.Time) ([]time.Time, error)
	// Book books a time for a passage, in place of one that it had. The error is
	// store.ErrTaken where somebody else has it, or it is not offered.
	Book(ctx context.Context, b store.Booking) error
	// Booked returns what a passage has booked, and false for nothing.
	Booked(ctx context.Context, response string) (store.Booking, bool)
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

// Of a calendar so many days that have free times are shown, the first of them open, and no
// further day after so many times; they are asked for some days at a time.
const (
	slotDays  = 14
	slotTimes = 400
	slotsStep = 14 * 24 * time.Hour
)

// slots lists the free times of an appointment question, by day, and says which is chosen
// and where clocks show them.
func (j *journey) slots(q *quiz.Question, chosen string) (days []slotDay, day, clocks string) {
	mine, _ := time.Parse(time.RFC3339, chosen)
	now, shown := time.Now(), 0
	for from := now; from.Before(now.AddDate(0, 0, calendar.MostAhead)); from = from.Add(slotsStep) {
		free, err := j.player.Calendar.Free(j.ctx, q.Table, from, from.Add(slotsStep))
		if err != nil {
			slog.Error("reading free appointments", "error", err)
			return nil, "", ""
		}
		for _, at := range free {
			name := j.tongue().day(at)
			if len(days) == 0 || days[len(days)-1].Name != name {
				if len(days) == slotDays || shown >= slotTimes {
					return days, day, clocks
				}
				days = append(days, slotDay{Name: name, Open: len(days) == 0})
			}
			clocks = j.tongue().clocks(at.Location())
			last := &days[len(days)-1]
			last.Times = append(last.Times, slotView{at.UTC().Format(time.RFC3339), at.Format("15:04"), at.Equal(mine)})
			if shown++; at.Equal(mine) {
				last.Open, day = true, j.tongue().dayAndTime(at)
			}
		}
	}
	return days, day, clocks
}

// clocks says where clocks show the times that are told.
func (t tongue) clocks(zone *time.Location) string {
	city := zone.String()
	if _, named, found := strings.Cut(city, "/"); found {
		city = strings.ReplaceAll(named[strings.LastIndex(named, "/")+1:], "_", " ")
	}
	return t.say("As clocks show it in %s.", city)
}

// zoneOf returns the zone of a calendar's times.
func (j *journey) zoneOf(calendar string) *time.Location {
	return j.player.Calendar.Zone(j.ctx, calendar)
}

// day names a day of this year or the next; dayAndTime with the time.
func (t tongue) day(at time.Time) string {
	if t.known() == language.English {
		return at.Format("Monday 2 January")
	}
	return monday.Format(at, yearBehind.ReplaceAllString(t.written(true), ""), t.locale())
}

// yearBehind is the year of a date as a layout, which stands behind the day in all languages.
var yearBehind = regexp.MustCompile(`,?( de)? 2006$`)

// date writes a day with its year, and with its weekday or without.
func (t tongue) date(at time.Time, weekday bool) string {
	if t.known() == language.English {
		if weekday {
			return at.Format("Monday 2 January 2006")
		}
		return at.Format("2 January 2006")
	}
	return monday.Format(at, t.written(weekday), t.locale())
}

// written is how the language writes dates, as a layout of package time.
func (t tongue) written(weekday bool) string {
	if weekday {
		return cmp.Or(monday.FullFormatsByLocale[t.locale()], "Monday, 2 January 2006")
	}
	return cmp.Or(monday.LongFormatsByLocale[t.locale()], "2 January 2006")
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
	if err != nil {
		return j.tongue().say("There are no times to choose from just now. Try again later.")
	}
	if mine, booked := p.Calendar.Booked(j.ctx, j.response()); booked && mine.Calendar == q.Table && mine.Start.Equal(at) {
		return ""
	}
	free, err := p.Calendar.Free(j.ctx, q.Table, at, at.Add(time.Minute))
	if err != nil || !slices.ContainsFunc(free, at.Equal) {
		return j.tongue().say("This time is not free any more. Choose another one.")
	}
	return ""
}

// appointment returns the appointment that was asked for on a passage, in the zone of its
// calendar, its question, and false for none.
func (j *journey) appointment(r *passage.Result) (start time.Time, at int, has bool) {
	in := j.input()
	for _, i := range r.Seen {
		if j.program.Question(i).Kind == quiz.Appointment && in.Answers[i].State == program.Given {
			if start, err := time.Parse(time.RFC3339, in.Answers[i].Text); err == nil {
				return start.In(j.zoneOf(j.program.Question(i).Table)), i, true
			}
		}
	}
	return time.Time{}, 0, false
}

// book books the appointment on a passage. It returns the position of its question where
// the time has been given to somebody else, and −1 otherwise.
func (p *player) book(j *journey) int {
	start, at, has := j.appointment(j.walk())
	if !has {
		return -1
	}
	err := p.Calendar.Book(j.ctx, store.Booking{
		Calendar:  j.program.Question(at).Table,
		Start:     start,
		Response:  j.response(),
		Passage:   j.passage.ID,
		ReleaseID: j.passage.ReleaseID,
	})
	if errors.Is(err, store.ErrTaken) {
		return at
	}
	if err != nil {
		slog.Error("booking an appointment", "error", err)
		return at
	}
	return -1
}

// unbook gives back what was booked on a passage that is not kept in the end.
func (p *player) unbook(j *journey) {
	if b, booked := p.Calendar.Booked(j.ctx, j.response()); booked {
		if err := p.store.Responses.GiveBack(j.ctx, b.Token); err != nil {
			slog.Error("giving an appointment back", "error", err)
		}
	}
}

// An appointmentView is an appointment on a result.
type appointmentView struct {
	Words, Clocks string
	File, Link    string // addresses of it as a file, and of where it is given back; "" for neither
	Back          bool   // it has been given back
}

// appointmentView shows what was booked on a finished passage, nil for nothing.
func (j *journey) appointmentView(r *passage.Result) *appointmentView {
	start, _, has := j.appointment(r)
	if !has {
		return nil
	}
	view := &appointmentView{
		Words:  j.tongue().dayAndTime(start),
		Clocks: j.tongue().clocks(start.Location()),
		File:   j.place(calendarFile),
	}
	if j.rehearsal != nil {
		return view
	}
	booked, has := j.player.Calendar.Booked(j.ctx, j.response())
	if view.Back = !has; !has {
		return view
	}
	view.Link = appointmentPrefix + booked.Token
	return view
}

// appointmentPrefix is how the addresses begin where appointments are given back.
const appointmentPrefix = "/appointments/"

// An appointmentPage asks whether an appointment is given back, and says that it was.
type appointmentPage struct {
	frame
	Words, Clocks string
	Action        string // where it is given back, "" where it was
}

// appointments are the routes of appointments: whoever has the link of one gives it back,
// on any device.
func (p *player) appointments() []ui.Route {
	return []ui.Route{
		ui.Get(appointmentPrefix+":token", p.booked),
		ui.Post(appointmentPrefix+":token", ui.Form, p.giveBack),
	}
}

func (p *player) booked(c *gin.Context) {
	if b, r, ok := p.booking(c); ok {
		page := p.appointmentPage(c, b, r)
		page.Action = appointmentPrefix + b.Token
		p.show(c, http.StatusOK, "appointment", page)
	}
}

func (p *player) giveBack(c *gin.Context) {
	b, r, ok := p.booking(c)
	if !ok {
		return
	}
	if err := p.store.Responses.GiveBack(c.Request.Context(), b.Token); err != nil {
		p.fail(c, err)
		return
	}
	p.show(c, http.StatusOK, "appointment", p.appointmentPage(c, b, r))
}

// booking looks up the booking that was asked for, and the release that it was made in: an
// empty one where that is not known.
func (p *player) booking(c *gin.Context) (store.Booking, *released, bool) {
	c.Header("Referrer-Policy", "no-referrer")
	b, err := p.store.Responses.BookingBy(c.Request.Context(), c.Param("token"))
	if err == nil && b.Start.After(time.Now()) {
		r, err := p.released(c.Request.Context(), b.ReleaseID)
		if err != nil {
			return b, &released{}, true
		}
		r.allowFrames(c)
		return b, r, true
	}
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		p.fail(c, err)
		return b, nil, false
	}
	p.show(c, http.StatusNotFound, "problem", newProblem(nil, "There is no appointment here",
		"It has been given back, or its time is over."))
	return b, nil, false
}

func (p *player) appointmentPage(c *gin.Context, b store.Booking, r *released) appointmentPage {
	in, start := tongueOf(r.program), b.Start.In(p.Calendar.Zone(c.Request.Context(), b.Calendar))
	return appointmentPage{
		frame:  newFrame(r, in.say("Your appointment:")),
		Words:  in.dayAndTime(start),
		Clocks: in.clocks(start.Location()),
	}
}

// calendarFile is the last part of the address of an appointment as a file, which no
// question's key can be.
const calendarFile = "appointment.ics"

func (p *player) calendarFile(c *gin.Context, j *journey) {
	start, _, has := j.appointment(j.walk())
	if !has || !j.passage.Finished {
		p.fail(c, store.ErrNotFound)
		return
	}
	if j.rehearsal != nil {
		c.Redirect(http.StatusSeeOther, j.outward("appointment.ics"))
		return
	}
	b, booked := p.Calendar.Booked(j.ctx, j.response())
	if !booked {
		p.fail(c, store.ErrNotFound)
		return
	}
	var file bytes.Buffer
	a := invitation.Appointment{
		ID:     j.response() + "@omphalos",
		Title:  j.program.Quiz.Title,
		Start:  start,
		Length: b.Length(),
		Made:   j.passage.Updated,
		Link:   ui.Origin(c.Request, p.Public) + appointmentPrefix + b.Token,
	}
	if err := a.Write(&file); err != nil {
		p.fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="appointment.ics"`)
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", file.Bytes())
}
