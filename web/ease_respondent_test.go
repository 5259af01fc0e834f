package web_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// A respondent's small things: points wide enough for a thumb, words that a long list does not
// hold, Back after contact, progress that counts it, and a last button that says what it does.
func TestRespondentsSmallThings(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("near", quiz.Rating)
	var many []string
	for i := range 20 {
		many = append(many, fmt.Sprintf("county_%d", i))
	}
	m.Ask("county", quiz.Dropdown, many...)
	m.Contact = &quiz.Contact{Place: quiz.BeforeResult, Fields: map[string]*quiz.Question{
		"mail": {Kind: quiz.Email, Label: "Mail", Required: true}, "land": {Kind: quiz.Country, Label: "Country", Order: 2}}}
	m.Settings = &quiz.Settings{Language: "de"}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	p := a.newTabOf(t, 360, 740, true)
	p.open("/q/" + z.Slug)
	p.axe("A rating on a phone")
	assert.GreaterOrEqual(t,
		read[float64](p,
			`Math.min(...[...document.querySelectorAll(".point")].map((e) => e.getBoundingClientRect().width))`), 24.0,
		"WCAG 2.2, 2.5.8")
	assert.Equal(t, 1, read[int](p,
		`new Set([...document.querySelectorAll(".point")].map((e) => e.getBoundingClientRect().top)).size`), "one row")
	assert.Equal(t, "Frage 1, 2 weitere folgen", read[string](p, `document.querySelector(".progress").ariaLabel`))
	p.click(".point:nth-child(9)")
	p.until("the list", `document.querySelector("[role=combobox]")`)
	p.fill("[role=combobox]", "Atlantis")
	p.do(chromedp.KeyEvent(kb.Tab))
	p.click(".nav .button")
	p.until("it is said", `document.querySelector(".searched + .wrong").textContent.includes("Nichts in der Liste")`)
	assert.Equal(t, "Atlantis", p.value("[role=combobox]"))
	p.fill("[role=combobox]", "county_7")
	p.do(chromedp.KeyEvent(kb.Enter)) // what is chosen goes on by itself
	p.until("contact", `document.querySelector("[name=mail]")`)
	assert.Contains(t, read[string](p, `document.querySelector(".progress").ariaLabel`), "die letzte")
	assert.Equal(t, "Irland", read[string](p, `document.querySelector("[name=land] [value=IE]").textContent`))
	p.axe("Contact with a country")
	p.fill("[name=mail]", "una")
	p.fill(".contact [role=combobox]", "Irland")
	p.do(chromedp.KeyEvent(kb.Enter))
	p.click("form.contact .button")
	p.until("what is wrong", `document.querySelector("#wrong-mail")`)
	assert.Equal(t, "IE", p.value("[name=land]"))
	p.fill("[name=mail]", "una@example.org")
	p.click("form.contact .button")
	p.until("the result", `location.pathname.endsWith("/end")`)
	p.run("history.back()")
	p.until("Back asks nothing",
		`document.querySelector("h1")?.textContent === "lead" || document.querySelector("[name=mail]")`)
	kept, err := a.store.Responses.Newest(t.Context(), z.ID, 1)
	require.NoError(t, err)
	require.Len(t, kept, 1)
	assert.Contains(t, kept[0].Contacts, store.Contact{WorkspaceID: kept[0].WorkspaceID, ResponseID: kept[0].ID,
		Field: "land", Kind: quiz.Country, Value: "IE", QuizID: z.ID, Number: 1})

	one := quiztest.New("lead")
	one.Ask("want", quiz.Single, "hive", "jar")
	one.Pace = quiz.OnePage
	z = a.add(t, string(one.Write()))
	a.release(t, z)
	_, page := a.client(t).get("/q/" + z.Slug)
	assert.Contains(t, page, ">See your result</button>")
}

// A button may write a letter or call; own words may be needed; a number dialled as at home is
// one of the quiz's country.
func TestLettersCallsAndWords(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "other")
	m.Questions["want"].Answers["other"].WriteIn, m.Questions["want"].Answers["other"].Needed = true, true
	m.Ask("phone", quiz.Phone)
	m.Settings = &quiz.Settings{Country: "IE"}
	m.Outcomes["lead"].Landings["page"].Blocks = map[string]*quiz.Block{
		"call":  {Order: 1, Kind: quiz.ActionBlock, Label: "Call us", Address: "tel:+35312345678"},
		"write": {Order: 2, Kind: quiz.ActionBlock, Label: "Write", Address: "mailto:una@quillbrook.example?subject={want}"},
	}
	z := a.add(t, string(m.Write()))
	require.Empty(t, a.draft(t, z.ID).Check())
	a.release(t, z)
	c := a.client(t)
	r, page := c.form("/q/"+z.Slug, "asked", "want", "answer.want", "other", "go", "on")
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	assert.Contains(t, page, "rite your own words beside this answer")
	r, _ = c.form("/q/"+z.Slug, "asked", "want", "answer.want", "other", "words.want", "a swarm", "go", "on")
	r, _ = c.answer(r.Header.Get("Location"), "01 234 5678")
	_, page = c.get(r.Header.Get("Location"))
	assert.Contains(t, page, `href="tel:&#43;35312345678"`)
	assert.Contains(t, page, `href="mailto:una@quillbrook.example?subject=other"`)
	kept, err := a.store.Responses.Newest(t.Context(), z.ID, 1)
	require.NoError(t, err)
	require.Len(t, kept[0].Contacts, 1)
	assert.Equal(t, "+35312345678", kept[0].Contacts[0].Value)

	studio := a.client(t).signIn()
	act := func(label string) int {
		r, err := http.NewRequest(http.MethodPost, fmt.Sprintf("%s/studio/quizzes/%d/acts", a.URL, z.ID),
			strings.NewReader(fmt.Sprintf(`{"do":"home","path":"/settings/country","label":%q}`, label)))
		require.NoError(t, err)
		now, err := a.store.Definitions.Quiz(t.Context(), z.ID)
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("If-Match", fmt.Sprintf(`"%d"`, now.Revision))
		answer, _ := studio.send(r)
		return answer.StatusCode
	}
	assert.Equal(t, http.StatusOK, act("Deutschland"))
	assert.Equal(t, "DE", a.draft(t, z.ID).Settings.Country)
	assert.Equal(t, http.StatusConflict, act("Atlantis"))
	assert.Equal(t, http.StatusOK, act(""))
	assert.Equal(t, http.StatusOK, act(""), "it is so already")
	assert.Empty(t, a.draft(t, z.ID).Settings.Country)
}

// A quiz in another language speaks it on every page: words of ours, days, numbers, what is
// wrong; and one that is written from right to left is laid out so.
func TestAQuizInGerman(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Outcomes["lead"].Headline, m.Outcomes["lead"].ShowWhy = "", true
	m.Scale("need", quiz.Sum).Name = "Bedarf"
	m.Scales["need"].Start = decimal.Must("1234.5")
	m.Decision.Steps["moths"] = &quiz.Step{Order: 0, Kind: quiz.RuleStep, Outcome: "lead",
		When: &quiz.Condition{Any: []*quiz.Condition{
			{Subject: quiz.Subject{Answer: "pests"}, Test: quiz.Test{Op: quiz.Includes, Value: quiz.Words("moths")}},
			{Subject: quiz.Subject{Scale: "need"}, Test: quiz.Test{Op: quiz.AtMost,
				Value: &quiz.Value{Items: []quiz.Item{{Number: decimal.Must("2.5")}}}}}}}}
	m.Ask("pests", quiz.Several, "mites", "moths", "none").Picks = &quiz.Picks{Min: 1, Max: 2}
	m.Ask("mail", quiz.Email).Required = true
	m.Outcomes["lead"].Text = "Bedarf: {need}"
	m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
		Fields: map[string]*quiz.Question{"land": {Kind: quiz.Country, Label: "Land"}}}
	m.Settings = &quiz.Settings{Language: "de-AT", Repeats: &quiz.Repeats{Days: 3}}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	p.axe("A quiz in German")
	for _, says := range []string{"Wählen Sie höchstens 2 aus.", "Weiter"} {
		assert.Contains(t, p.text("main"), says)
	}
	assert.Equal(t, "Frage 1, 2 weitere folgen", read[string](p, `document.querySelector(".progress").ariaLabel`))
	p.click(".answer")
	p.click(".nav .button")
	p.until("the second", `document.querySelector("[name='answer.mail']")`)
	p.click(".nav .button")
	p.until("what is wrong", `document.querySelector(".wrong")?.textContent.includes("Diese Antwort wird gebraucht")`)
	p.fill("[name='answer.mail']", "una")
	p.do(chromedp.KeyEvent(kb.Enter))
	p.until("what is wrong with it",
		`document.querySelector(".wrong")?.textContent.includes("„una“ ist keine E-Mail-Adresse")`)
	p.fill("[name='answer.mail']", "una@example.org")
	p.do(chromedp.KeyEvent(kb.Enter))
	p.until("contact", `document.querySelector("h1")?.textContent.trim() === "Wer sind Sie?"`)
	assert.Equal(t, "Auswählen", read[string](p, `document.querySelector("[name=land] option").textContent.trim()`))
	assert.Contains(t, p.text("main"), "Freiwillig")
	p.click("form.contact .button")
	p.until("the result", `document.querySelector("h1")?.textContent.trim() === "Vielen Dank"`)
	assert.Contains(t, p.text("main"), "Bedarf: 1.234,5")
	p.click(".why summary")
	for _, says := range []string{"Auf „pests“ war die Antwort „mites“.", "Bedarf kommt auf 1.234,5.",
		"Es gilt nicht: „pests“ umfasst „moths“ oder Bedarf ist höchstens 2,5.", "Sonst ist es „lead“."} {
		assert.Contains(t, p.text(".why"), says)
	}
	p.axe("Why, in German")
	p.open("/q/" + z.Slug)
	assert.Contains(t, p.text("main"), "Sie haben dieses Quiz schon gemacht")
	days := []string{"Sonntag", "Montag", "Dienstag", "Mittwoch", "Donnerstag", "Freitag", "Samstag"}
	assert.Contains(t, p.text("main"), "Ab "+days[time.Now().UTC().AddDate(0, 0, 3).Weekday()])

	m.Settings = &quiz.Settings{Language: "ar"}
	z = a.add(t, string(m.Write()))
	a.release(t, z)
	p.open("/q/" + z.Slug)
	assert.Equal(t, "rtl", read[string](p, `getComputedStyle(document.querySelector("main")).direction`))
	assert.LessOrEqual(t, read[int](p, `document.documentElement.scrollWidth`), 390,
		"nothing is put away where this page goes on")
	first := read[[]float64](p,
		`[...document.querySelectorAll(".progress path[transform]")].map((e) => e.getBoundingClientRect().left)`)
	assert.Greater(t, first[0], first[1], "the way goes to the left, too")
	assert.Contains(t, p.text("main"), "\u2066Choose up to 2.\u2069", "what is English keeps its full stop at its end")
	p.axe("A quiz from right to left")
}
