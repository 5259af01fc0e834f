package web_test

import (
	"fmt"
	"html"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// An appointment is given once: who comes second chooses another. It can be kept as a file,
// and whoever has its link gives it back.
func TestAppointments(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.calendar(t, "visits")
	m := quiztest.New("any")
	m.Ask("time", quiz.Appointment).Table = "visits"
	m.Questions["time"].Required = true
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	slot := func(page string) string {
		_, rest, _ := strings.Cut(page, `name="answer.time" value="`)
		at, _, _ := strings.Cut(rest, `"`)
		return at
	}
	ann, ben := a.client(t), a.client(t)
	_, page := ann.get("/q/" + z.Slug)
	first := slot(page)
	at, err := time.Parse(time.RFC3339, first)
	require.NoError(t, err)
	assert.True(t, at.After(time.Now()))
	r, page := ann.form("/q/"+z.Slug, "asked", "time", "answer.time", first, "go", "on")
	require.Equal(t, http.StatusSeeOther, r.StatusCode, page)
	end := r.Header.Get("Location")
	r, page = ben.form("/q/"+z.Slug, "asked", "time", "answer.time", first, "go", "on")
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	assert.Contains(t, page, "This time is not free any more.")
	assert.NotEqual(t, first, slot(page))
	assert.Contains(t, page, "As clocks show it in Dublin.")
	for what, wrong := range map[string]string{"of no slot": at.Add(time.Minute).Format(time.RFC3339),
		"that is over": at.AddDate(-1, 0, 0).Format(time.RFC3339)} {
		r, page = ben.form("/q/"+z.Slug, "asked", "time", "answer.time", wrong, "go", "on")
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, what)
		assert.Contains(t, page, "This time is not free any more.", what)
	}
	_, page = ann.get(end)
	assert.Contains(t, page, "Your appointment:")
	link := regexp.MustCompile(`/appointments/[\w-]+`).FindString(page)
	require.NotEmpty(t, link)
	r, file := ann.get(strings.TrimSuffix(end, "end") + "appointment.ics")
	assert.Equal(t, "text/calendar; charset=utf-8", r.Header.Get("Content-Type"))
	calendar, err := ical.NewDecoder(strings.NewReader(file)).Decode()
	require.NoError(t, err)
	begins, err := calendar.Events()[0].DateTimeStart(time.UTC)
	require.NoError(t, err)
	assert.True(t, begins.Equal(at))
	assert.Equal(t, a.URL+link, calendar.Events()[0].Props.Get(ical.PropURL).Value)
	r, _ = ann.get("/p/" + store.Token() + "/appointment.ics")
	assert.Equal(t, http.StatusNotFound, r.StatusCode)

	elsewhere := a.client(t) // another device
	_, page = elsewhere.get(link)
	assert.Contains(t, page, "Do you want to give this appointment back?")
	_, page = ben.get("/q/" + z.Slug)
	assert.NotContains(t, page, first, "to look does not give it back")
	r, page = elsewhere.form(link)
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.Contains(t, page, "Nobody expects you at this time any more.")
	_, page = ann.get(end)
	assert.Contains(t, page, "You have given this appointment back:")
	assert.NotContains(t, page, "appointment.ics")
	r, page = elsewhere.form(link)
	assert.Equal(t, http.StatusNotFound, r.StatusCode)
	assert.Contains(t, page, "There is no appointment here")
	r, page = ben.form("/q/"+z.Slug, "asked", "time", "answer.time", first, "go", "on")
	assert.Equal(t, http.StatusSeeOther, r.StatusCode, page)
}

// A time reads the same wherever it stands: as clocks show it where its calendar is, in the
// quiz's language; so does a day. Addresses get both as they always are.
func TestATimeReadsTheSameEverywhere(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	visits := store.NewCalendar("visits", "Asia/Tokyo")
	for day := range visits.Hours {
		visits.Hours[day] = "9–10"
	}
	require.NoError(t, a.store.Definitions.PutCalendar(t.Context(), visits))
	m := quiztest.New("any")
	m.Pace = quiz.OnePage
	m.Settings = &quiz.Settings{Language: "de", TimeZone: "Europe/Berlin"}
	m.Ask("time", quiz.Appointment).Table = "visits"
	m.Ask("bloom", quiz.Date)
	m.Outcomes["any"].Text = "Bis {time}. Blüte: {bloom}."
	m.Outcomes["any"].ShowWhy = true
	m.Outcomes["any"].Landings["page"].Blocks = map[string]*quiz.Block{
		"a": {Order: 1, Kind: quiz.ActionBlock, Label: "Weiter", Address: "https://example.org/{?time,bloom}"}}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	_, page := c.get("/q/" + z.Slug)
	_, rest, _ := strings.Cut(page, `name="answer.time" value="`)
	slot, _, _ := strings.Cut(rest, `"`)
	at, err := time.Parse(time.RFC3339, slot)
	require.NoError(t, err)
	assert.Equal(t, 0, at.UTC().Hour(), "nine in Tokyo")
	r, page := c.form("/q/"+z.Slug, "asked", "time", "asked", "bloom", "answer.time", slot, "answer.bloom",
		"2027-04-30", "go", "on")
	require.Equal(t, http.StatusSeeOther, r.StatusCode, page)
	_, page = c.get(r.Header.Get("Location"))
	page = html.UnescapeString(page)
	days := []string{"Sonntag", "Montag", "Dienstag", "Mittwoch", "Donnerstag", "Freitag", "Samstag"}
	in := at.In(time.FixedZone("", 9*60*60))
	when := fmt.Sprintf("%s, %d. ", days[in.Weekday()], in.Day())
	assert.Equal(t, 3, strings.Count(page, when), "the box, the text and the explanation")
	assert.Equal(t, 3, strings.Count(page, ", 09:00"))
	assert.Equal(t, 2, strings.Count(page, "30. April 2027"))
	assert.Contains(t, page, "bloom=2027-04-30")
	_, page = a.client(t).signIn().get(fmt.Sprintf("/studio/quizzes/%d/learn/1", z.ID))
	assert.Contains(t, page, in.Format("Monday 2 January 2006, 15:04"), "and in the studio")
}

// A date that today bounds is chosen within that, as the page says; the sheet sets it in days.
func TestADateWithinDaysFromToday(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("any")
	m.Ask("when", quiz.Date).Required = true
	m.Ask("who", quiz.ShortText)
	z := a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	b.fill(`[data-path="/questions/when/limits/soonest"]`, "1")
	b.fill(`[data-path="/questions/when/limits/latest"]`, "14")
	b.do(chromedp.KeyEvent("\t"))
	b.kept()
	z, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, z)
	c := a.client(t)
	day := func(n int) string { return time.Now().UTC().AddDate(0, 0, n).Format(time.DateOnly) }
	_, page := c.get("/q/" + z.Slug)
	assert.Contains(t, page, `min="`+day(1)+`"`)
	assert.Contains(t, page, `max="`+day(14)+`"`)
	for _, wrong := range []string{day(0), day(15)} {
		r, page := c.form("/q/"+z.Slug, "asked", "when", "answer.when", wrong, "go", "on")
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
		assert.Contains(t, page, "Must be between "+day(1)+" and "+day(14))
	}
	r, page := c.form("/q/"+z.Slug, "asked", "when", "answer.when", day(14), "go", "on")
	assert.Equal(t, http.StatusSeeOther, r.StatusCode, page)

	a.edit(t, z.ID, `[{"op":"add","path":"/questions/when/limits/high","value":"2020-01-01"}]`)
	b.open("/studio/quizzes/1")
	assert.Contains(t, b.text("#part-findings"), "no day lies within all of its limits")
}
