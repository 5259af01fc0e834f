package web_test

import (
	"fmt"
	"html/template"
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
	"omphalos/core/starter"
	"omphalos/store"
	"omphalos/web/ui"
)

// blankSheet opens the sheet of a new blank quiz.
func (a *app) blankSheet(t *testing.T) (*tab, uint) {
	t.Helper()
	made, err := starter.Make("blank", "Bees", "")
	require.NoError(t, err)
	z := a.add(t, string(made.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	return b, z.ID
}

// A blank quiz asks one thing; what is chosen is laid out, and undone in one press.
func TestABlankQuizAsksOneThing(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b, id := a.blankSheet(t)
	b.axe("A blank quiz")
	b.click(`#deciding [data-act="lay?kind=closeness"]`)
	b.until("a column for each outcome",
		`document.querySelectorAll("#part-head .col").length === 2 && !document.getElementById("deciding")`)
	b.kept()
	q := a.draft(t, id)
	assert.Equal(t, quiz.Pull, q.Scales["to_good_fit"].Kind)
	assert.Equal(t, "Good fit", q.Scales["to_good_fit"].Name)
	require.Len(t, q.Decision.Steps, 1)
	b.click("[data-act=undo]")
	b.until("asked again", `document.getElementById("deciding")`)
	b.click(`#deciding [data-act="lay?kind=right"]`)
	b.until("marks of right answers", `document.querySelectorAll('[data-act^="mark?"]').length === 2`)
	b.kept()
	b.click(`[data-act="mark?path=/questions/question_1/answers/answer_1"]`)
	b.until("it is right",
		`document.querySelector('[data-act="mark?path=/questions/question_1/answers/answer_1"]').ariaPressed === "true"`)
	b.kept()
	assert.Equal(t, "1", a.draft(t, id).Questions["question_1"].Answers["answer_1"].Adds["right"].String())
	b.choose(`[data-act^="turn?path=/questions/question_1&"]`, "yesno")
	b.until("yes or no comes with its answers",
		`[...document.querySelectorAll(".answer textarea")].map((f) => f.value).join() === "Yes,No"`)
	b.kept()
	b.click(`[data-act="add?path=/questions&after=question_1"]`)
	b.until("a question below", `document.querySelectorAll("#questions .question").length === 2`)
}

// A question's name follows its words while one goes on writing; it is written where it
// stands, and every use follows.
func TestNamesFollowWords(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b, id := a.blankSheet(t)
	b.focus(`[data-path="/questions/question_1/label"]`)
	b.do(chromedp.KeyEvent("How many hives?" + kb.Enter))
	b.do(chromedp.KeyEvent("None"))
	b.until("renamed", `document.querySelector('[data-path="/questions/hives/label"]')`)
	assert.Equal(t, "/questions/hives/answers/answer_1/label",
		read[string](b, `document.activeElement.dataset.path`), "the focus stays")
	b.do(chromedp.KeyEvent(" yet" + kb.Tab))
	b.kept()
	q := a.draft(t, id)
	assert.Equal(t, "How many hives?", q.Questions["hives"].Label)
	assert.Equal(t, "None yet", q.Questions["hives"].Answers["answer_1"].Label)
	assert.Len(t, q.Questions, 1)

	b.fill(`[data-path="/outcomes/good_fit/headline"]`, "With {hives}")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.until("it does not follow any more", `!document.querySelector("[data-follows]")`)
	b.fill(`[data-path="/questions/hives/label"]`, "How many colonies?")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	assert.Contains(t, a.draft(t, id).Questions, "hives")
	b.fill(`.key input`, "colonies")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.until("written where it stands", `document.querySelector('[data-path="/questions/colonies/label"]')`)
	b.kept()
	q = a.draft(t, id)
	assert.Equal(t, "With {colonies}", q.Outcomes["good_fit"].Headline)
	b.fill(`.key input`, "no name!")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.until("what is wrong is told", `document.getElementById("notice").textContent.includes("start with a small letter")`)
	b.click("[data-act=undo]")
	b.until("undone", `document.querySelector('[data-path="/questions/hives/label"]')`)
	b.kept()
}

// A brace opens the list of what can be filled in, each with a sample; keys narrow it, arrows
// go through it, Enter takes, in texts, addresses and formulas.
func TestABraceOffersFillIns(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Scale("need", quiz.Sum).Name = "Need of bees"
	m.Ask("crop", quiz.Single, "apples need=2", "berries").Label = "What do you grow?"
	m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
		Fields: map[string]*quiz.Question{"first_name": {Kind: quiz.Name, Label: "First name"}}}
	m.Scale("sum", quiz.Formula).Formula = "need"
	z := a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	headline := `[data-path="/outcomes/lead/headline"]`
	b.fill(headline, "")
	b.focus(headline)
	b.do(chromedp.KeyEvent("Bees for {"))
	b.until("the list", `!document.getElementById("fillin-list").hidden`)
	for _, says := range []string{"{crop} What do you grow? apples", "{need} Need of bees",
		"{first_name} First name Una Byrne", "{visitor.country} the visitor's country Ireland"} {
		assert.Contains(t, b.text("#fillin-list"), says)
	}
	b.axeOf("#fillin-list", "The list of fill-ins")
	b.do(chromedp.KeyEvent("gro"))
	b.until("narrowed by words", `document.querySelectorAll("#fillin-list li").length === 1`)
	b.do(chromedp.KeyEvent(kb.Enter))
	b.do(chromedp.KeyEvent(" and {" + kb.ArrowDown + kb.ArrowUp + kb.ArrowUp + kb.Escape))
	b.until("left", `document.getElementById("fillin-list").hidden`)
	assert.Equal(t, "Bees for {crop} and {", b.value(headline))
	b.do(chromedp.KeyEvent("fi" + kb.Tab))
	b.until("taken", `document.querySelector('`+headline+`').value === "Bees for {crop} and {first_name}"`)
	b.kept()
	formula := `[data-path="/scales/sum/formula"]`
	b.focus(formula)
	b.do(chromedp.KeyEvent(kb.End + " + {cr"))
	b.until("the formula's own names, or none", `document.getElementById("fillin-list").hidden`)
	b.do(chromedp.KeyEvent(kb.Backspace + kb.Backspace + "ne"))
	b.until("names of the formula", `document.querySelectorAll("#fillin-list li").length === 1`)
	b.do(chromedp.KeyEvent(kb.Enter))
	assert.Equal(t, "need + need", b.value(formula))
}

// Lines that are pasted into a question become questions, after a look at them.
func TestQuestionsArePasted(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b, id := a.blankSheet(t)
	b.run(`{
		const data = new DataTransfer();
		data.setData("text/plain", "What do you grow?\n\tApples\t4\n\tBerries\t2\nHow many hives?\n\tNone\t0\n\tSome\t-1\n");
		const field = document.querySelector('[data-path="/questions/question_1/label"]');
		field.focus();
		field.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
	}`)
	b.until("a look at them", `document.querySelector("#many[open] ol")?.children.length === 2`)
	assert.Contains(t, b.text("#many"), "2 questions, 4 answers, 4 weights")
	assert.Contains(t, b.text("#many"), "Add these 2 questions")
	b.axeOf("dialog[open]", "Questions that are pasted")
	b.click("#many .button")
	b.until("they are there", `document.querySelectorAll("#questions .question").length === 2`)
	b.kept()
	q := a.draft(t, id)
	assert.Equal(t, []string{"grow", "hives"}, q.QuestionKeys())
	assert.Equal(t, "-1", q.Questions["hives"].Answers["some"].Adds["points"].String())
	b.click("[data-act=undo]")
	b.until("undone in one", `document.querySelectorAll("#questions .question").length === 1`)
}

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
			`Math.min(...[...document.querySelectorAll(".point")].map((e) => Math.min(e.getBoundingClientRect().width, e.getBoundingClientRect().height)))`), 40.0)
	assert.Equal(t, "Frage 1, 2 weitere folgen", read[string](p, `document.querySelector(".progress").ariaLabel`))
	p.click(".point:nth-child(9)")
	p.until("the list", `document.querySelector("[role=combobox]")`)
	p.fill("[role=combobox]", "Atlantis")
	p.do(chromedp.KeyEvent(kb.Tab))
	p.click(".nav .button")
	p.until("it is said", `document.querySelector("[role=combobox]").validationMessage.includes("Nichts in der Liste")`)
	assert.Equal(t, "Atlantis", p.value("[role=combobox]"))
	p.fill("[role=combobox]", "county_7")
	p.do(chromedp.KeyEvent(kb.Enter)) // what is chosen goes on by itself
	p.until("contact", `document.querySelector("[name=mail]")`)
	assert.Contains(t, read[string](p, `document.querySelector(".progress").ariaLabel`), "die letzte")
	assert.Equal(t, "Irland", read[string](p, `document.querySelector("[name=land] [value=IE]").textContent`))
	p.axe("Contact with a country")
	p.fill("[name=mail]", "una")
	p.choose("[name=land]", "IE")
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

// A question mark beside what it explains opens a sentence, by keyboard too, and leads into the
// guide, where every sentence stands.
func TestHelpStandsWhereItIsNeeded(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	b.focus(`#part-scales [popovertarget=help-pull]`)
	b.do(chromedp.KeyEvent(kb.Enter))
	b.until("the sentence",
		`document.querySelector("#help-pull:popover-open")?.textContent.includes("How strongly an answer speaks for one outcome")`)
	b.axeOf("#part-scales", "Help that is open")
	b.do(chromedp.KeyEvent(kb.Escape))
	b.until("closed", `!document.querySelector(":popover-open")`)
	_, page := a.client(t).signIn().get("/studio/guide")
	for _, h := range ui.Helps {
		assert.True(t, read[bool](b,
			fmt.Sprintf(`!!document.querySelector("#help-%s a[href='/studio/guide#%s']")`, h.Key, h.Place)), h.Key)
		assert.Contains(t, page, `id="`+h.Place+`"`, h.Key)
		assert.Contains(t, page, template.HTMLEscapeString(h.Asks))
	}
	b.open("/studio/guide")
	b.axe("Guide")
}

// An empty workspace leads through a first quiz on the sheet itself: each step is done on the
// real thing, and it is left at any time.
func TestTheFirstQuizIsLed(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio")
	b.axe("Quizzes, an empty workspace")
	b.click("[name=lead]")
	b.until("the sheet", `document.querySelector("#part-lead li[aria-current]")`)
	step := func(name string) {
		t.Helper()
		b.until("step "+name,
			fmt.Sprintf(
				`document.querySelector("#part-lead li[aria-current]")?.textContent.replace(/\s+/g, " ").includes(%q)`, name))
	}
	step("1 Write")
	b.axe("The first step")
	b.focus(`#questions .q`)
	b.do(chromedp.KeyEvent("What do you grow?" + kb.Enter + "Apples" + kb.Enter))
	b.do(chromedp.KeyEvent("Nothing"))
	b.click(`#add-question [data-act="add?path=/questions"]`)
	b.until("a second question",
		`document.activeElement.dataset.path?.endsWith("/label") && document.querySelectorAll("#questions .q").length === 2`)
	b.do(chromedp.KeyEvent("How many hives?" + kb.Enter + "None" + kb.Enter))
	b.do(chromedp.KeyEvent("Some" + kb.Tab))
	step("2 Weigh")
	b.click(`[data-act="lay?kind=points"]`)
	b.until("a column", `document.querySelectorAll(".cell input").length === 4`)
	b.press(`.answer:nth-child(1) .cell input`, "4\r")
	b.kept()
	step("4 Land") // the step before was laid out with the column
	b.fill(`[data-path="/outcomes/good_fit/headline"]`, "Bees for you")
	b.fill(`[data-path="/outcomes/not_now/headline"]`, "Not just now")
	b.do(chromedp.KeyEvent(kb.Tab))
	step("5 Rehearse")
	z, err := a.store.Definitions.Quiz(t.Context(), 1)
	require.NoError(t, err)
	a.release(t, z)
	b.open("/studio/quizzes/1")
	step("5 Rehearse")
	b.click(`#part-lead form button`)
	b.until("left", `document.readyState === "complete" && !document.querySelector("#part-lead section")`)
	b.open("/studio")
	assert.False(t, read[bool](b, `!!document.querySelector("[name=lead]")`), "never again unless wished")
	b.open("/studio/guide")
	assert.True(t, read[bool](b, `!!document.querySelector("[name=lead]")`))
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
	assert.Contains(t, p.text("main"), "Auswählen")
	assert.Contains(t, p.text("main"), "freiwillig")
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
