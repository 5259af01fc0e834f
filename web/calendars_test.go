package web_test

import (
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// A calendar that is open on Tuesdays takes a name, the hours of a day and a press; the quiz
// that wants it says so until then.
func TestACalendarOpenOnTuesdays(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("any")
	m.Ask("time", quiz.Appointment).Table = "visits"
	z := a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	assert.Contains(t, b.text("#part-findings"), "offers times of the calendar “visits”, which has no hours")
	b.click(`#part-q-time a[href^="/studio/calendars"]`)
	b.until("the room of calendars", `location.pathname === "/studio/calendars"`)
	assert.Contains(t, b.text("main"), "No calendar yet.")
	assert.Equal(t, "visits", read[string](b, `document.querySelector("[name=name]").value`), "the name comes along")
	b.fill("[name=tuesday]", "9-12 and 14 to 15")
	b.fill("[name=zone]", "Europe/Dublin")
	b.axe("calendars, empty")
	b.click(".calendarform .actions .button")
	b.until("it is kept", `document.querySelector(".flash")?.textContent.includes("Kept")`)
	assert.Contains(t, b.text("table.list"), "Tuesday 9:00–12:00, 14:00–15:00")
	b.axe("a calendar")
	free, err := store.Diary{Store: a.store}.Free(t.Context(), "visits", time.Now(), time.Now().AddDate(0, 1, 0))
	require.NoError(t, err)
	require.NotEmpty(t, free)
	for _, at := range free {
		assert.Equal(t, time.Tuesday, at.Weekday())
	}
	b.open("/studio/quizzes/1")
	assert.NotContains(t, b.text("#part-findings"), "calendar")

	// Who has booked stands there, is given back and booked again.
	release := a.release(t, z)
	begun, err := a.store.Responses.Start(t.Context(), release, z.Slug, program.Visitor{})
	require.NoError(t, err)
	_, err = a.store.Responses.Finish(t.Context(), begun, nil, &store.Response{Outcome: "any", Landing: "page",
		Contacts: []store.Contact{{Field: "name", Value: "Ann Quince"}}})
	require.NoError(t, err)
	require.NoError(t, store.Diary{Store: a.store}.Book(t.Context(), store.Booking{Calendar: "visits",
		Start: free[0], Response: store.ResponseNumber(begun.ID), Passage: begun.ID, ReleaseID: release.ID}))
	b.open("/studio/calendars?calendar=visits")
	assert.Contains(t, b.text("main"), "Ann Quince")
	b.click(`button[aria-label^="Give back the appointment of Tue"]`)
	b.until("it is given back",
		`document.querySelector(".flash")?.textContent.includes("Others can choose this time again")`)
	assert.NotContains(t, b.text("main"), "Ann Quince")
	b.click(".flash button")
	b.until("it is booked again", `document.querySelector(".flash")?.textContent.includes("booked again")`)
	assert.Contains(t, b.text("main"), "Ann Quince")

	b.click(`button[aria-label="Take out the calendar visits"]`)
	b.until("it is out", `document.body.textContent.includes("No calendar yet.")`)
	b.click(".flash button")
	b.until("it is back", `document.querySelector("table.list")?.textContent.includes("Tuesday 9:00–12:00")`)
}

// What can't be kept is told, and what was typed stays.
func TestWhatACalendarCantBe(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.calendar(t, "calls")
	c := a.client(t).signIn()
	good := func() url.Values {
		return url.Values{"name": {"visits"}, "zone": {"Europe/Dublin"}, "minutes": {"30"}, "buffer": {"0"},
			"seats": {"1"}, "lead": {"2"}, "ahead": {"21"}, "monday": {"9-12"}}
	}
	for said, change := range map[string]func(url.Values){
		"&#34;early&#34; is not from one time to another": func(v url.Values) { v.Set("wednesday", "early") },
		"no time zone such as Europe/Dublin":              func(v url.Values) { v.Set("zone", "Quillbrook") },
		"type a whole number for how long an appointment": func(v url.Values) { v.Set("minutes", "half an hour") },
		"&#34;Christmas&#34; is not a date":               func(v url.Values) { v.Set("off", "Christmas") },
		"There is a calendar of this name already":        func(v url.Values) { v.Set("name", " calls") },
		"an appointment of 600 minutes fits into none":    func(v url.Values) { v.Set("minutes", "600") },
	} {
		form := good()
		change(form)
		var pairs []string
		for name := range form {
			pairs = append(pairs, name, form.Get(name))
		}
		r, page := c.form("/studio/calendars", pairs...)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, said)
		assert.Contains(t, page, said)
		assert.Contains(t, page, `value="9-12"`, "what was typed stays")
	}
	r, page := c.form("/studio/calendars", "name", "visits", "monday", "8-10", "fill", "weekdays", "minutes", "30")
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.Equal(t, 5, strings.Count(page, `value="8-10"`), "until Friday as on Monday")
	list, err := a.store.Definitions.Calendars(t.Context())
	require.NoError(t, err)
	assert.Len(t, list, 1, "nothing was kept")
}
