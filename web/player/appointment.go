package player

import (
	"context"
	"errors"
	"log/slog"
	"slices"
	"time"

	"omphalos/core/calendar"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
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

// zoneOf returns the zone of a calendar's times.
func (j *journey) zoneOf(calendar string) *time.Location {
	return j.player.Calendar.Zone(j.ctx, calendar)
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
