package web_test

import (
	"net/http"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// The contact section is made on the sheet, asked of those whom it is for, checked
// field by field, and seen with the response; nothing is agreed to beforehand.
func TestContactIsAsked(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	b.click("#part-contact [data-patch]")
	b.do(chromedp.WaitVisible(chromedp.CSS(`[data-path="/contact/heading"]`)))
	b.fill(`[data-path="/contact/heading"]`, "Where may we come?")
	b.click(`#part-contact [data-act$="kind=phone"]`)
	b.kept()
	b.until("a phone field", `document.querySelectorAll('#part-contact [data-item]').length === 4`)
	b.choose(
		`#part-contact [data-patch="$value"]`,
		read[string](
			b,
			`[...document.querySelector("#part-contact [data-patch='$value']").options].find((o) => o.textContent.trim().replace(/\s+/g, " ").includes("Walk the rows")).value`,
		),
	)
	b.kept()
	b.fill(`[data-path="/contact/privacy"]`, "https://quillbrook.example/privacy")
	b.do(chromedp.KeyEvent("\t"))
	b.kept()
	b.run(`scrollTo(0, document.body.scrollHeight)`)
	b.axe("Sheet with contact")
	assert.Equal(t, "No findings", b.text(".findlink"))
	a.release(t, must(a.store.Definitions.Quiz(t.Context(), z.ID)))

	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	p.click(".button")
	for _, answer := range []string{"apples", "large", "soon", "some", "ample", "me"} {
		p.do(chromedp.WaitVisible(chromedp.CSS("[value=" + answer + "]")))
		p.run(`document.querySelector("[value=` + answer + `]").click()`)
		p.click("[name=go][value=on]")
	}
	p.do(chromedp.WaitVisible(chromedp.CSS("form.contact")))
	p.axe("Contact")
	assert.False(t, read[bool](p, `document.querySelector("[type=checkbox]").checked`))
	p.fill("#field-field_1", "Ann")
	p.fill("#field-field_2", "ann at home")
	p.click("[name=go][value=on]")
	p.until(
		"the mistake is told",
		`document.querySelector("#wrong-field_2")?.textContent.trim().replace(/\s+/g, " ").includes("is not an e-mail address")`,
	)
	assert.Equal(t, "Ann", p.value("#field-field_1"), "nothing typed is lost")
	p.fill("#field-field_2", "ann@example.org")
	p.click("[type=checkbox]")
	p.click("[name=go][value=on]")
	p.until("landed", `location.pathname.startsWith("/standin/")`)

	b.open("/studio/quizzes/1/learn/1")
	text := b.text("main")
	assert.Contains(t, text, "ann@example.org")
	assert.Regexp(
		t,
		`You may write to me about this\. \(\d{4}-\d\d-\d\d \d\d:\d\d UTC, beside the notice at https://quillbrook.example/privacy\)`,
		text,
		"what was agreed to, and when",
	)

	c := a.client(t)
	at := c.walk("none", "small", "not_now", "enough", "nothing")
	r, _ := c.answer(at, "other")
	assert.Contains(t, r.Header.Get("Location"), "/end", "who gets another outcome is not asked")
}

func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

// Below the result, contact can be given or left; it is kept once.
func TestContactBelowTheResult(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("end")
	m.Ask("crop", quiz.Single, "apples", "pears").Required = true
	m.Contact = &quiz.Contact{Place: quiz.AfterResult, Fields: map[string]*quiz.Question{
		"mail": {
			Kind:     quiz.Email,
			Label:    "E-mail",
			Required: true,
		}, "agree": {Order: 1, Kind: quiz.Consent, Label: "You may write about {crop}."}},
		Privacy: "https://quillbrook.example/privacy"}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	r, _ := c.answer("/q/"+z.Slug, "apples")
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	end := r.Header.Get("Location")
	_, page := c.get(end)
	assert.Contains(t, page, `name="mail"`)
	form := end[:len(end)-len("end")] + "your-contact"
	r, page = c.form(form, "mail", "nothing")
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	assert.Contains(t, page, `value="nothing"`)
	for range 2 {
		r, _ = c.form(form, "mail", "ann@example.org", "agree", "yes")
		assert.Equal(t, http.StatusSeeOther, r.StatusCode)
	}
	_, page = c.get(end + "?thanks=1")
	assert.Contains(t, page, "Thank you. We have it.")
	assert.NotContains(t, page, `name="mail"`)
	response, err := a.store.Responses.Response(t.Context(), z.ID, 1)
	require.NoError(t, err)
	kept := map[string]string{}
	for _, one := range response.Answers {
		kept[one.Question] = one.Answer
	}
	for _, one := range response.Contacts {
		kept[one.Field] = one.Value
	}
	assert.Equal(t, map[string]string{"crop": "apples", "mail": "ann@example.org", "agree": "yes"}, kept)
	require.Len(t, response.Consents, 1)
	agreed := response.Consents[0]
	assert.Equal(
		t,
		[]string{"agree", "You may write about apples.", "https://quillbrook.example/privacy"},
		[]string{agreed.Field, agreed.Words, agreed.Privacy},
	)
	assert.WithinDuration(t, time.Now(), agreed.Given, time.Minute)
}
