package web_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// choose takes an option of a drop-down as a person does.
func (b *tab) choose(selector, value string) {
	b.t.Helper()
	b.do(chromedp.SetValue(chromedp.CSS(selector), value))
}

// Each kind of question is made on the sheet and set up in place.
func TestKindsOnTheSheet(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	crop := "#part-q-crop "
	kind := crop + "[data-act^='turn?']"

	b.choose(kind, "several")
	b.do(chromedp.WaitVisible(chromedp.CSS(crop + `[data-path$="/picks/max"]`)))
	b.fill(crop+`[data-path$="/picks/max"]`, "2")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	assert.Equal(t, "+4", b.value(crop+`[data-path$="apples/adds/readiness"]`), "the weights are kept")

	b.choose(kind, "grid")
	b.do(chromedp.WaitVisible(chromedp.CSS(crop + `[data-path$="/rows/row_1/label"]`)))
	b.fill(crop+`[data-path$="/rows/row_1/label"]`, "The lower field")
	b.click(crop + `[data-path$="/rows/row_2/reversed"]`)
	b.kept()
	assert.Contains(t, b.text(crop), "Add a column")

	b.choose(kind, "number")
	b.do(chromedp.WaitVisible(chromedp.CSS(crop + `[data-path$="/limits/high"]`)))
	b.fill(crop+`[data-path$="/limits/low"]`, "0")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.fill(crop+`[data-path$="/limits/high"]`, "200")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.fill(crop+`[data-type=factor]`, "0.1")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.until("a factor", fmt.Sprintf(`document.querySelector(%q)?.value === "×0.1"`, crop+"[data-type=times]"))
	b.click(crop + "[data-else]")
	b.kept()
	b.until("reversed", fmt.Sprintf(`document.querySelector(%q).defaultChecked`, crop+"[data-else]"))
	for range 2 { // instead of the factor: below, and from somewhere on
		b.click(crop + ".adds [data-patch]")
		b.kept()
	}
	b.until("two brackets", fmt.Sprintf(`document.querySelectorAll(%q).length === 2`, crop+"[data-type=bracket]"))
	b.fill(crop+`[data-path$="/from"]`, "40")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.fill(crop+`[data-path$="bracket_2"]`, "7")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.until(
		"the bracket adds 7",
		fmt.Sprintf(`document.querySelector(%q).value === "+7"`, crop+`[data-path$="bracket_2"]`),
	)
	assert.Contains(
		t,
		read[string](b, fmt.Sprintf(`document.querySelector(%q).getAttribute("d")`, crop+".curve path")),
		"M0 23.0V23.0H66.0V3.0H132.0",
	)
	b.axeOf("#questions", "Sheet with a number in brackets")
	b.fill(crop+`[data-path$="bracket_2"]`, "seven")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.until(
		"letters are refused",
		`document.querySelector(".fieldwrong")?.textContent.trim().replace(/\s+/g, " ").includes("This is not a number")`,
	)

	for _, k := range quiz.Kinds {
		b.choose(kind, string(k))
		b.until(
			string(k),
			fmt.Sprintf(
				`document.querySelector(%q)?.value === %q && document.querySelector("#status").textContent.trim().replace(/\s+/g, " ") === "All changes kept"`,
				kind,
				k,
			),
		)
		assert.Empty(t, b.text("#notice"), k)
	}
	for range len(quiz.Kinds) {
		b.click("[data-act=undo]")
		b.kept()
	}
	b.until(
		"undone, the brackets are back",
		fmt.Sprintf(`document.querySelector(%q)?.value === "+7"`, crop+`[data-path$="bracket_2"]`),
	)
}

// Whatever kind of question there is, a page asks it with a control of the browser,
// takes a good answer and says what is wrong with a bad one, without scripts.
func TestEveryKindIsAsked(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("end")
	good := map[quiz.Kind]string{
		quiz.Rating:    "7",
		quiz.Stars:     "4",
		quiz.Number:    "2.5",
		quiz.Date:      "2026-04-30",
		quiz.ShortText: "apples",
		quiz.LongText:  "many apples",
		quiz.Name:      "Ann",
		quiz.Email:     "ann@example.org",
		quiz.Phone:     "+353 1 234 5678",
		quiz.Company:   "Quillbrook",
		quiz.Country:   "Ireland",
		quiz.Consent:   "yes",
		quiz.Location:  "north",
	}
	bad := map[quiz.Kind]string{
		quiz.Rating:      "11",
		quiz.Stars:       "0",
		quiz.Number:      "ten",
		quiz.Date:        "30 April",
		quiz.Email:       "ann",
		quiz.Phone:       "12",
		quiz.Appointment: "2026-01-03T03:00:00Z",
		quiz.Location:    "south",
		quiz.Single:      "figs",
	}
	for _, k := range quiz.Kinds {
		var answers []string
		if k.HasAnswers() {
			answers = []string{"a", "b"}
			good[k] = "b"
		}
		q := m.Ask("q_"+string(k), k, answers...)
		q.Required = true
		switch k {
		case quiz.Grid:
			q.Rows = map[string]*quiz.Row{"r": {Label: "Row"}}
		case quiz.Several:
			q.Picks = &quiz.Picks{Max: 1}
		case quiz.Location, quiz.Appointment:
			q.Table = "yards"
		}
	}
	require.NoError(
		t,
		a.store.Definitions.PutPlaces(t.Context(), []store.Place{{Table: "yards", Key: "north", Name: "North yard"}}),
	)
	a.calendar(t, "yards")
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	first, page := c.get("/q/" + z.Slug)
	at := first.Request.URL.Path
	// post sends an answer and follows to the page that comes next.
	post := func(field, value string) {
		r, body := c.form(at, "asked", strings.Split(field, ".")[1], field, value, "go", "on")
		if r.StatusCode == http.StatusSeeOther {
			at = r.Header.Get("Location")
			_, body = c.get(at)
		}
		page = body
	}
	controls := map[quiz.Kind]string{
		quiz.Several:     `type="checkbox"`,
		quiz.Dropdown:    "<select",
		quiz.Grid:        `<legend>Row</legend>`,
		quiz.Rating:      `type="radio" name="answer.q_rating" value="10"`,
		quiz.Stars:       `class="star"`,
		quiz.Date:        `type="date"`,
		quiz.LongText:    "<textarea",
		quiz.Email:       `type="email"`,
		quiz.Phone:       `type="tel"`,
		quiz.Consent:     `type="checkbox"`,
		quiz.Location:    "North yard",
		quiz.Appointment: "<details class=\"day\" open>",
		quiz.Name:        `autocomplete="name"`,
	}
	for _, k := range quiz.Kinds {
		require.Contains(t, page, "q_"+string(k), "the page asks %s", k)
		assert.Contains(t, page, controls[k], k)
		field := "answer.q_" + string(k)
		if k == quiz.Grid {
			field = "row.q_grid.r"
		}
		if wrong, has := bad[k]; has {
			post(field, wrong)
			require.Contains(t, page, `role="alert"`, "%s: %s", k, wrong)
			require.Contains(t, page, "q_"+string(k))
		}
		if k == quiz.Appointment { // the first time that is free
			_, rest, _ := strings.Cut(page, `name="answer.q_appointment" value="`)
			good[k], _, _ = strings.Cut(rest, `"`)
		}
		post(field, good[k])
	}
	assert.NotContains(t, page, "<form")
	responses, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
	require.NoError(t, err)
	require.Len(t, responses, 1)
}
