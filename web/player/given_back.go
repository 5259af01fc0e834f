package player

import (
	"bytes"
	"errors"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/interchange/invitation"
	"omphalos/store"
	"omphalos/web/ui"
)

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
