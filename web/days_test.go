package web_test

import (
	"encoding/csv"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// A day is one of the workspace's time zone, in every room: here one of 25 hours, with the hours
// before and behind it that are of the same day in UTC.
func TestDaysAreOfTheWorkspace(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	c := a.client(t).signIn()
	r, page := c.form("/studio/settings", "zone", "Europe/Nowhere")
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	assert.Contains(t, page, "Europe/Nowhere", "what was typed stays")
	assert.Contains(t, page, "write one such as Europe/Dublin")
	r, _ = c.form("/studio/settings", "zone", "Europe/Berlin")
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	_, page = c.get("/studio")
	assert.NotContains(t, page, "Where do you work?")

	m := quiztest.New("cold", "hot")
	m.Ask("crop", quiz.Single, "apples", "pears")
	m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
		Fields: map[string]*quiz.Question{"mail": {Kind: quiz.Email, Label: "Mail"}}}
	z := a.add(t, string(m.Write()))
	release := a.release(t, z)
	var list []*store.Response
	for i, at := range []string{"2026-10-24T21:59:59Z", // still the 24th
		"2026-10-24T22:00:00Z", "2026-10-25T00:30:00Z", "2026-10-25T01:30:00Z", "2026-10-25T22:59:59Z",
		"2026-10-25T23:00:00Z"} { // the 26th
		finished, err := time.Parse(time.RFC3339, at)
		require.NoError(t, err)
		list = append(list, &store.Response{QuizID: z.ID, ReleaseID: release.ID, Passage: store.PassageNumber(),
			Outcome: "hot", Landing: "page", Started: finished.Add(-time.Minute), Finished: finished, Visitor: "{}",
			Contacts: []store.Contact{{Field: "mail", Kind: quiz.Email, Value: fmt.Sprintf("p%d@example.org", i)}}})
	}
	require.NoError(t, a.store.Responses.AddResponses(t.Context(), list))
	sights := func(day string, n int) store.Sight {
		return store.Sight{QuizID: z.ID, ReleaseID: release.ID, Day: day, Count: n}
	}
	require.NoError(t, a.store.Responses.AddSights(t.Context(), []store.Sight{sights("2026-10-24", 10),
		sights("2026-10-25", 20), sights("2026-10-26", 40)}))

	learn := fmt.Sprintf("/studio/quizzes/%d/learn", z.ID)
	_, page = c.get(learn + "?from=2026-10-25&to=2026-10-25")
	page = plainly(page)
	assert.Contains(t, page, "saw it 20")
	assert.Contains(t, page, "hot 4 100 %")
	assert.Contains(t, page, "2026-10-25 02:30", "an hour that came twice")
	_, file := c.get(learn + "/responses.csv?from=2026-10-25&to=2026-10-25")
	rows, err := csv.NewReader(strings.NewReader(file)).ReadAll()
	require.NoError(t, err)
	var finished []string
	for _, row := range rows[1:] {
		finished = append(finished, row[1])
	}
	assert.Equal(t, []string{"2026-10-25T00:00:00.000+02:00", "2026-10-25T02:30:00.000+02:00",
		"2026-10-25T02:30:00.000+01:00", "2026-10-25T23:59:59.000+01:00"}, finished)
	_, page = c.get(learn + "?from=2026-10-25&to=2026-10-25&vs=before")
	assert.Contains(t, plainly(page), "those of 2026-10-24")
	_, page = c.get("/studio/leads?from=2026-10-25&to=2026-10-25")
	for i := range list {
		assert.Equal(t, i >= 1 && i <= 4, strings.Contains(page, fmt.Sprintf("p%d@example.org", i)), "lead %d", i)
	}
	_, page = c.get(learn + "?last=7")
	assert.Contains(t, plainly(page), "of the last 7 days")
	r, page = c.get(learn + "?last=7&from=2026-10-25")
	assert.Equal(t, http.StatusBadRequest, r.StatusCode)
	assert.Contains(t, page, "last stands alone")

	a.edit(t, z.ID, `[{"op":"replace","path":"/title","value":"Other"}]`)
	z = a.latest(t, z.ID)
	a.release(t, z)
	require.NoError(t, a.store.Definitions.TrySince(t.Context(), z.ID, 1, 0.5, list[2].Finished))
	_, page = c.get(fmt.Sprintf("/studio/quizzes/%d/release", z.ID))
	assert.Contains(t, plainly(page), "4 people came to an end since")
}

// Who opens the studio of a new workspace is asked where they work, and what their device says
// stands there already.
func TestTheTimeZoneAtTheFirstStart(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio")
	here := read[string](b, "Intl.DateTimeFormat().resolvedOptions().timeZone")
	b.until("the device's zone", fmt.Sprintf(`document.querySelector("[name=zone]").value === %q`, here))
	b.fill("[name=zone]", "Europe/Dublin")
	b.click("form[action='/studio/settings'] button")
	b.until("it is said", `document.body.innerText.includes("Days are counted in the time zone Europe/Dublin")`)
	assert.False(t, read[bool](b, `document.body.innerText.includes("Where do you work?")`))
	b.click("[aria-label=Settings]")
	b.until("the page", `document.querySelector("[name=zone]")?.value === "Europe/Dublin"`)
	b.axe("settings")
}
