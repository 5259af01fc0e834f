package web_test

import (
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// inside is the page in one of the frames: "phone" or "desktop".
func inside(frame string) string {
	return fmt.Sprintf(`document.querySelector("[x-ref=%s]").contentDocument`, frame)
}

// rehearse opens the room and waits for both frames.
func (b *tab) rehearse(z *store.Quiz, query string) {
	b.t.Helper()
	b.open(fmt.Sprintf("/studio/quizzes/%d/rehearse%s", z.ID, query))
	b.until("the phone shows a page", inside("phone")+`?.querySelector("h1")`)
	b.until("the desktop shows a page", inside("desktop")+`?.querySelector("h1")`)
}

// taps answers the question in a frame by its label, and waits for both frames to go on.
func (b *tab) taps(frame, answer string) {
	b.t.Helper()
	at := read[string](b, inside(frame)+`.URL`)
	b.run(fmt.Sprintf(`{
		const page = %s, label = [...page.querySelectorAll("label.answer")].find((l) => l.textContent.includes(%q));
		label.querySelector("input").checked = true;
		page.querySelector("form.quiz").requestSubmit(page.querySelector("[name=go][value=on]"));
	}`, inside(frame), answer))
	for _, one := range []string{"phone", "desktop"} {
		b.until(one+" goes on", fmt.Sprintf(`%s?.readyState === "complete" && %s.URL !== %q`, inside(one), inside(one), at))
	}
}

// Both devices walk together, and it is told beside them what each answer does; an answer is
// changed there, and the walk goes on from it; it is kept, and holds.
func TestBothDevicesWalkTogether(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.rehearse(z, "")
	b.axe("Rehearse")
	b.run(inside("phone") + `.querySelector(".button").click()`)
	b.until("the phone asks", inside("phone")+`?.querySelector("h1")?.textContent.includes("What do you grow?")`)
	b.until("and the desktop", inside("desktop")+`?.querySelector("h1")?.textContent.includes("What do you grow?")`)
	b.taps("phone", "Berries")
	b.until("it is told what it added", `document.querySelector(".story").textContent.includes("Readiness +3")`)
	b.taps("desktop", "Under 1") // either leads
	b.until("the phone follows", inside("phone")+`?.querySelector("h1")?.textContent.includes("bloom")`)
	b.until("what is next", `document.querySelector(".story .now").textContent.includes("When does your orchard bloom?")`)
	assert.Contains(t, b.text(".verdictnow"), "If it ended here: Not this season")
	assert.Contains(t, b.text(".smallscale"), "can still be reached")
	assert.Contains(t, b.text(".happens .shares"), "%")
	for _, answer := range []string{"In the next four weeks", "None", "More than 2,000", "I do"} {
		b.taps("phone", answer)
	}
	b.until("where it ends",
		`["It ends with", "Walk the rows together", "They are sent to http://"].every((w) => document.querySelector(".verdictnow")?.textContent.replace(/\s+/g, " ").includes(w))`)
	assert.Contains(t, read[string](b, inside("phone")+`.body.textContent`), "They leave from here")

	b.run(`{ const s = document.querySelector(".story [name=budget]"); s.value = "nothing"; s.dispatchEvent(new Event("change", {bubbles: true})); }`)
	b.until("the walk goes on from the changed answer",
		`document.querySelector(".verdictnow").textContent.includes("Plan it with us")`)
	b.until("in the frames, too", inside("desktop")+`?.querySelector("h1")?.textContent.includes("Plan it with us")`)
	b.run(`document.querySelector("[name=name]").value = "Keen, and no money"; document.querySelector(".happens form").requestSubmit()`)
	b.until("it is kept", `document.querySelector("#kept table")?.textContent.includes("Keen, and no money")`)
	assert.Contains(t, b.text("#kept table"), "holds")
	b.axe("Rehearse with one that is kept")
	kept := a.draft(t, z.ID).Rehearsals["rehearsal_1"]
	require.NotNil(t, kept)
	assert.Equal(t, "plan", kept.Outcome)
	assert.Equal(t, []string{"nothing"}, kept.Answers["budget"].Values)
}

// An edit in another tab shows in the frames at once, and the answers stay.
func TestAnEditDuringAWalk(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.rehearse(z, "")
	b.run(inside("phone") + `.querySelector(".button").click()`)
	b.until("the desktop asks", inside("desktop")+`?.querySelector("h1")?.textContent.includes("What do you grow?")`)
	b.taps("phone", "Berries")
	b.until("the page listens", `document.querySelector(".story").textContent.includes("Berries")`)
	a.edit(t, z.ID, `[{"op":"replace","path":"/questions/size/label","value":"How many hectares?"},{"op":"add","path":"/questions/crop/answers/berries/adds/readiness","value":7}]`)
	b.until("the phone shows the new words",
		inside("phone")+`?.querySelector("h1")?.textContent.includes("How many hectares?")`)
	b.until("the desktop, too", inside("desktop")+`?.querySelector("h1")?.textContent.includes("How many hectares?")`)
	b.until("and what it adds now", `document.querySelector(".story").textContent.includes("Readiness +7")`)
}

// walk is a rehearsal by hand, without scripts.
type walk struct {
	*client
	room, id string
}

func (c *client) rehearsal(z *store.Quiz) walk {
	c.t.Helper()
	room := fmt.Sprintf("/studio/quizzes/%d/rehearse", z.ID)
	_, page := c.get(room)
	id := regexp.MustCompile(`src="/rehearsals/([a-z2-7]+)"`).FindStringSubmatch(page)
	require.NotNil(c.t, id, page)
	return walk{c, room, id[1]}
}

// follow gets a page of the walk, wherever it has come to.
func (w walk) follow(at string) (string, string) {
	w.t.Helper()
	for range 5 {
		r, text := w.get(at)
		if r.StatusCode != http.StatusSeeOther {
			return at, text
		}
		at = r.Header.Get("Location")
	}
	w.t.Fatal("the walk leads in circles: " + at)
	return "", ""
}

// goes answers questions in their order, to the last page.
func (w walk) goes(answers ...string) string {
	w.t.Helper()
	at, page := w.follow("/rehearsals/" + w.id)
	if strings.HasSuffix(at, "/the-opening") {
		r, _ := w.form(at)
		at, page = w.follow(r.Header.Get("Location"))
	}
	for _, answer := range answers {
		key := at[strings.LastIndex(at, "/")+1:]
		r, text := w.form(at, "asked", key, "answer."+key, answer, "go", "on")
		require.Equal(w.t, http.StatusSeeOther, r.StatusCode, "%s: %s", key, text)
		at, page = w.follow(r.Header.Get("Location"))
	}
	return page
}

// A visitor from another country lands elsewhere; only what the quiz asks of visitors is asked.
func TestRehearsingAsSomebodyElse(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Outcomes["lead"].Landings["irish"] = &quiz.Landing{
		Order: -1, Kind: quiz.RedirectLanding, Address: "https://ie.example.org/{want}",
		When: &quiz.Condition{Subject: quiz.Subject{Visitor: "country"}, Test: quiz.Test{Op: quiz.Is,
			Value: quiz.Words("IE")}},
	}
	z := a.add(t, string(m.Write()))
	w := a.client(t).signIn().rehearsal(z)
	_, page := w.get(w.room)
	assert.Contains(t, page, `name="country"`)
	assert.NotContains(t, page, `name="language"`, "nothing depends on it")
	assert.NotContains(t, w.goes("hive"), "They leave from here")
	r, _ := w.form(w.room+"/visitor", "walk", w.id, "country", "Ireland")
	assert.Equal(t, http.StatusSeeOther, r.StatusCode)
	_, page = w.get(w.room)
	assert.Contains(t, page, "two letters", "what can't be is told")
	w.form(w.room+"/visitor", "walk", w.id, "country", "ie")
	_, landed := w.follow("/rehearsals/" + w.id)
	assert.Contains(t, landed, "https://ie.example.org/hive", "the answers stayed")
	_, happens := w.get(w.room + "/happens?walk=" + w.id)
	assert.Contains(t, happens, "They are sent to")

	m = quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	_, page = w.get(w.client.rehearsal(a.add(t, string(m.Write()))).room)
	assert.Contains(t, page, "nothing here depends on who a visitor is")
}

// What is told of the ways through a draft is told of today, where today bounds a date.
func TestRehearsingWhatTodayBounds(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	soon, late := 0, 3
	m := quiztest.New("early", "late")
	m.Ask("when", quiz.Date).Limits = &quiz.Limits{Soonest: &soon, Latest: &late}
	m.Decide(quiz.Step{Kind: quiz.RuleStep, Outcome: "late", When: &quiz.Condition{
		Subject: quiz.Subject{Answer: "when"}, Test: quiz.Test{Op: quiz.AtLeast,
			Value: quiz.Words(time.Now().AddDate(0, 0, 30).Format(time.DateOnly))}}})
	w := a.client(t).signIn().rehearsal(a.add(t, string(m.Write())))
	_, page := w.get(w.room)
	assert.Contains(t, page, "No way leads there.", "a month is too far")
}

// A kept rehearsal is broken by a weight, which is taken back; broken again, and accepted.
func TestARehearsalThatBreaks(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	w := a.client(t).signIn().rehearsal(z)
	assert.Contains(t, w.goes("berries", "small", "soon", "no_hives", "nothing", "me"), "Plan it with us")
	w.form(w.room+"/keep", "walk", w.id, "name", "Small but keen")
	weight := `[{"op":"replace","path":"/questions/bloom/answers/soon/adds/readiness","value":%d}]`
	before := a.draft(t, z.ID).Questions["bloom"].Answers["soon"].Adds["readiness"]
	a.edit(t, z.ID, fmt.Sprintf(weight, -5))
	a.edit(t, z.ID, `[{"op":"replace","path":"/title","value":"Another title"}]`)

	_, page := w.get(w.room)
	assert.Regexp(t, `broken</strong>\s+since “Readiness of “In the next four weeks” &#43;5 → −5”`, page)
	_, sheet := w.get(strings.TrimSuffix(w.room, "/rehearse"))
	assert.Contains(t, sheet, "The rehearsal “Small but keen” must get “Plan it with us”, and "+
		"gets “Not this season”.")
	assert.Contains(t, sheet, "It broke with “Readiness of “In the next four weeks” &#43;5 → −5”.")
	assert.Contains(t, sheet, "Take that edit back")

	w.form(w.room+"/kept/rehearsal_1", "walk", w.id, "do", "back")
	draft := a.draft(t, z.ID)
	assert.Equal(t, before, draft.Questions["bloom"].Answers["soon"].Adds["readiness"], "it is taken back")
	assert.Equal(t, "Another title", draft.Title, "and what came after it stays")
	_, page = w.get(w.room)
	assert.NotContains(t, page, "broken</strong>")

	a.edit(t, z.ID, fmt.Sprintf(weight, -5))
	w.form(w.room+"/kept/rehearsal_1", "walk", w.id, "do", "accept")
	assert.Equal(t, "not_yet", a.draft(t, z.ID).Rehearsals["rehearsal_1"].Outcome)
	_, page = w.get(w.room)
	assert.NotContains(t, page, "broken</strong>")
	w.form(w.room+"/kept/rehearsal_1", "walk", w.id, "do", "remove")
	assert.Empty(t, a.draft(t, z.ID).Rehearsals)

	w.form(w.room+"/each", "walk", w.id, "what", "outcome")
	assert.Len(t, a.draft(t, z.ID).Rehearsals, 3)
	w.form(w.room+"/each", "walk", w.id, "what", "outcome")
	assert.Len(t, a.draft(t, z.ID).Rehearsals, 3, "those that are kept are not kept twice")
}

// knot presses a knot of the net.
func (b *tab) knot(name string) {
	b.t.Helper()
	b.until("all of the page is there", `document.readyState === "complete"`)
	b.run(fmt.Sprintf(`[...document.querySelectorAll(".netbox a")].find((a) => a.querySelector("title").textContent.includes(%q))
		.dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true, view: window }))`, "through “"+name))
}

// Knots are picked on the net, and a way through them is walked.
func TestPickingOnTheNet(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.rehearse(z, "")
	assert.Contains(t, b.text("#ways"), "3 kinds of ways")
	b.knot("Nothing that bees visit")
	b.until("it is picked",
		`document.querySelector("#ways").textContent.includes("through “Nothing that bees visit”")`)
	b.knot("Walk the rows together")
	b.until("another, too", `document.querySelector("#ways").textContent.includes("and “Walk the rows together”")`)
	assert.Contains(t, b.text("#ways"), "1 kind of way")
	b.axe("The net with a pick")
	b.run(`document.querySelector("#ways .tools button").click()`)
	b.until("it is walked from its beginning",
		inside("phone")+`?.querySelector(".button")?.textContent.includes("See if they would")`)
	b.until("all is told", `document.querySelector(".verdictnow").textContent.includes("Walk the rows together") &&
		document.querySelector(".story").textContent.includes("Nothing that bees visit")`)
}

// How the room is looked at stands in its address: alone, apart, without scripts, slowly.
func TestHowARehearsalIsLookedAt(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	w := a.client(t).signIn().rehearsal(z)
	frames := regexp.MustCompile(`src="/rehearsals/([a-z2-7]+)"`)
	for query, want := range map[string]int{"": 2, "?show=phone": 1, "?show=desktop": 1, "?show=else": 2} {
		_, page := w.get(w.room + query)
		assert.Len(t, frames.FindAllString(page, -1), want, query)
		assert.NotContains(t, page, "sandbox=")
	}
	_, apart := w.get(w.room + "?apart=1&plain=1")
	walks := frames.FindAllStringSubmatch(apart, -1)
	assert.NotEqual(t, walks[0][1], walks[1][1], "each walks by itself")
	assert.Equal(t, 2, strings.Count(apart, `sandbox="allow-forms allow-same-origin allow-popups"`), "without scripts")
	_, _ = w.get(w.room + "?slow=1")
	began := time.Now()
	w.get("/rehearsals/" + w.id + "/the-opening")
	assert.GreaterOrEqual(t, time.Since(began), time.Second, "as over a slow line")
	r, _ := w.get("/rehearsals/" + w.id + "/the-opening")
	assert.Contains(t, r.Header.Get("Content-Security-Policy"), "frame-ancestors 'self'")
}

// A draft that is not finished can't be walked, and says why.
func TestADraftThatCantBeWalked(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	w := a.client(t).signIn().rehearsal(z)
	a.edit(t, z.ID, `[{"op":"replace","path":"/decision/otherwise","value":""}]`)
	r, page := w.get(w.room)
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.Contains(t, page, "Say which outcome it is")
	r, page = w.get("/rehearsals/" + w.id)
	assert.Equal(t, http.StatusConflict, r.StatusCode)
	assert.Contains(t, page, "can’t be walked yet")
	for _, path := range []string{"/keep", "/each", "/go", "/kept/x", "/visitor", "/answer", "/again",
		"/hands/9", "/remarks/9"} {
		r, _ := w.form(w.room+path, "walk", w.id, "way", `{"name":"x","order":1,"outcome":"walk"}`)
		assert.Less(t, r.StatusCode, 500, path)
	}
}
