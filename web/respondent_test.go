package web_test

import (
	"bytes"
	"fmt"
	"html"
	"net/http"
	"net/netip"
	"net/url"
	"os"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
	"omphalos/web"
	"omphalos/web/player"
)

// day is the demo's quiz with nearly every kind of question.
func (a *app) day(t testing.TB, change func(q *quiz.Quiz)) *store.Quiz {
	t.Helper()
	data, err := os.ReadFile("../cmd/omphalos/demo/day.json")
	require.NoError(t, err)
	q, err := quiz.Read(data)
	require.NoError(t, err)
	if change != nil {
		change(q)
	}
	require.NoError(t, a.store.Definitions.PutPlaces(t.Context(), []store.Place{
		{Table: "yards", Key: "north", Name: "North yard", Latitude: 54.1, Longitude: -8.4},
		{Table: "yards", Key: "river", Name: "River yard", Latitude: 52.7, Longitude: -8.6},
		{Table: "yards", Key: "hill", Name: "Hill yard", Latitude: 51.9, Longitude: -7.1}}))
	a.calendar(t, "visits")
	z := a.add(t, string(q.Write()))
	a.release(t, z)
	return z
}

// answers are those of a response, by question and row; several of one question stand
// behind each other.
func (a *app) answers(t testing.TB, z *store.Quiz, number int) map[string]string {
	t.Helper()
	whole, err := a.store.Responses.Response(t.Context(), z.ID, number)
	require.NoError(t, err)
	got := map[string]string{}
	for _, one := range whole.Answers {
		got[one.Question+one.Row] += one.Answer
	}
	for _, one := range whole.Contacts {
		got[one.Field] += one.Value
	}
	return got
}

// fits tells that a page is not wider than the window.
func (b *tab) fits(where string) {
	b.t.Helper()
	assert.LessOrEqual(
		b.t,
		read[int](b, `document.documentElement.scrollWidth`),
		read[int](b, `innerWidth`),
		"%s is wider than the window",
		where,
	)
}

// asked waits for the page of a question and holds it against WCAG.
func (b *tab) asked(key string) {
	b.t.Helper()
	b.until(
		"the question "+key,
		fmt.Sprintf(`document.querySelector("[data-question=%s]") && document.readyState === "complete"`, key),
	)
	b.axe(key)
	b.fits(key)
}

// All kinds on a small phone by taps, at the size that a text of 200 % makes of a large one.
func TestEveryKindByTaps(t *testing.T) {
	a := newApp(t)
	z := a.day(t, nil)
	p := a.newTabOf(t, 320, 640, true)
	p.open("/q/" + z.Slug)
	p.axe("opening")
	p.fits("opening")
	p.click(".button")
	next := func() { p.click("[name=go][value=on]") }
	p.asked("see")
	p.tap("[value=honey]")
	p.asked("bring")
	p.click("[value=friends]")
	p.click("[value=other]")
	p.until(
		"a third one can't be chosen",
		`document.querySelector("[value=children]").disabled && !document.querySelector("[value=friends]").disabled`,
	)
	p.until("own words are asked for", `document.activeElement?.name === "words.bring"`)
	p.do(chromedp.KeyEvent("My aunt"))
	next()
	p.asked("home")
	p.fill(".searched input", "ow")
	p.until(
		"two trees hold the letters",
		`[...document.querySelectorAll(".searched li")].map(l => l.textContent).join() === "Rowan,Willow"`,
	)
	p.axe("a list that is searched")
	p.click(".searched li:last-child")
	assert.Equal(t, "willow", p.value("[name='answer.home']"))
	next()
	p.asked("habits")
	for i := range 3 {
		p.click(fmt.Sprintf(`.gridrow:nth-of-type(%d) [value=often]`, i+1))
	}
	next()
	p.asked("fear")
	p.tap("[name='answer.fear'][value='7']")
	p.asked("honeylove")
	p.tap("[name='answer.honeylove'][value='4']")
	p.asked("queen")
	p.tap("[value=hundred]")
	p.asked("sting")
	p.tap("[value=no]")
	p.asked("yard")
	p.run(
		`navigator.geolocation.getCurrentPosition = (found) => found({coords: {latitude: 52, longitude: -7.2}})`,
	) // permission as a person gives it
	p.click("[data-near]")
	p.until(
		"the nearest comes first",
		`document.querySelector(".places .answer")?.textContent.trim().replace(/\s+/g, " ").includes("Hill yard") && document.querySelector(".places em").textContent.trim().replace(/\s+/g, " ").includes("km")`,
	)
	p.axe("places by nearness")
	p.tap("[value=river]")
	p.asked("time")
	p.tap(".day[open] .time:last-of-type input")
	p.asked("name")
	p.fill("[name='answer.name']", "Ann")
	p.do(chromedp.KeyEvent(kb.Enter))
	p.asked("phone")
	p.fill("[name='answer.phone']", "12")
	next()
	p.until("a wrong number is told",
		`document.querySelector(".wrong")?.textContent.trim().replace(/\s+/g, " ").includes("country code")`)
	p.axe("a wrong number")
	p.fill("[name='answer.phone']", "+353 1 234 5678")
	next()
	p.until("it has landed", `location.pathname.endsWith("/end")`)
	p.axe("result")
	p.fits("result")
	assert.Equal(t, "Bring boots, Ann: you will help along", p.text("h1"))
	assert.Contains(t, p.text(".reviewed h2"), "1 of 2 right")
	got := a.answers(t, z, 1)
	assert.Equal(t, "+35312345678", got["phone"])
	assert.Equal(t, "river", got["yard"])
	assert.Equal(t, "often", got["habitsfield"])
}

// The whole way with a keyboard alone, on a large window: number keys and Enter.
func TestAQuizByKeyboard(t *testing.T) {
	a := newApp(t)
	z := a.day(t, nil)
	p := a.newTab(t)
	p.open("/q/" + z.Slug)
	p.do(chromedp.KeyEvent(kb.Tab + kb.Enter))
	for _, step := range []struct{ question, keys string }{
		{"see", "3" + kb.Enter}, {"bring", "13" + kb.Enter}, {"home", kb.Tab + "haz" + kb.Enter + kb.Enter},
		{"habits", kb.Tab + " " + kb.Tab + kb.ArrowDown + kb.Tab + kb.ArrowUp + kb.Enter},
		{"fear", "0" + kb.Enter}, {"honeylove", "5" + kb.Enter}, {"queen", "3" + kb.Enter}, {"sting", "2" + kb.Enter},
		{"yard", "2" + kb.Enter}, {"time", "4" + kb.Enter}, {"name", kb.Tab + "Ann" + kb.Enter},
		{"phone", kb.Tab + kb.Tab + kb.Enter},
	} {
		p.asked(step.question)
		p.do(chromedp.KeyEvent(step.keys))
	}
	p.until("it has landed", `location.pathname.endsWith("/end")`)
	got := a.answers(t, z, 1)
	assert.Equal(t, "alonefriends", got["bring"])
	assert.Equal(t, "hazel", got["home"])
	assert.Equal(t, "0", got["fear"])
	assert.Equal(t, "thousand", got["queen"])
	assert.Equal(t, "never", got["habitsgarden"])
}

// A tap stays where the marketer says so.
func TestTapsThatStay(t *testing.T) {
	a := newApp(t)
	m := quiztest.New("any")
	m.Settings = &quiz.Settings{TapStays: true, Next: "On", Finish: "Show me"}
	m.Ask("first", quiz.Single, "a", "b")
	m.Ask("second", quiz.Single, "c", "d")
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	p.click("[value=a]")
	p.do(chromedp.Sleep(400 * time.Millisecond))
	assert.True(
		t,
		read[bool](
			p,
			`document.querySelector("[value=a]").checked && document.querySelector("[name=go][value=on]").textContent.trim().replace(/\s+/g, " ") === "On"`,
		),
	)
	p.click("[name=go][value=on]")
	p.until(
		"the second, the last",
		`document.querySelector("[data-question=second]") && document.querySelector("[name=go][value=on]").textContent.trim().replace(/\s+/g, " ") === "Show me"`,
	)
}

// atFirstQuestion is a phone that has begun the orchard's quiz.
func (a *app) atFirstQuestion(t testing.TB, z *store.Quiz) *tab {
	t.Helper()
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	p.click(".button")
	p.asked("crop")
	return p
}

// A closed tab is no loss on the same device; another device begins anew.
func TestAClosedTabIsTakenUp(t *testing.T) {
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	p := a.atFirstQuestion(t, z)
	p.tap("[value=cherries]")
	p.asked("size")
	again := p.beside()
	again.open("/q/" + z.Slug + "?utm_source=elsewhere")
	assert.Equal(t, "Go on where you were", again.text(".button.wide"))
	again.axe("opening with a way back in")
	again.click(".button.wide")
	again.asked("size")
	again.tap("[value=middle]")
	p.do(chromedp.Reload())
	p.asked("size")
	assert.True(t, read[bool](p, `document.querySelector("[value=middle]").checked`), "the other tab's answer")

	other := a.newTabOf(t, 390, 844, true)
	other.open("/q/" + z.Slug)
	assert.Equal(t, 1, read[int](other, `document.querySelectorAll(".button").length`))
	skip := a.newTabOf(t, 390, 844, true)
	skip.open("/q/" + z.Slug + "?start=now")
	skip.asked("crop")
	skip.tap("[value=cherries]")
	skip.asked("size")
}

// What says who somebody is is not on disk before the passage is finished, and is still
// there when one goes back.
func TestPartialPassagesHoldNoNames(t *testing.T) {
	a := newApp(t)
	m := quiztest.New("any")
	for _, k := range []quiz.Kind{quiz.Name, quiz.Email, quiz.ShortText, quiz.Single} {
		m.Ask(string(k), k)
	}
	m.Questions["single"].Answers = map[string]*quiz.Answer{"a": {Label: "a"}}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	at := "/q/" + z.Slug
	for _, pair := range [][2]string{{"name", "Ann Weaver"}, {"email", "ann@example.org"}, {"shorttext", "apples"}} {
		r, page := c.form(at, "asked", pair[0], "answer."+pair[0], pair[1], "go", "on")
		require.Equal(t, http.StatusSeeOther, r.StatusCode, page)
		at = r.Header.Get("Location")
	}
	number := strings.Split(at, "/")[2]
	begun, err := a.store.Responses.Passage(t.Context(), number)
	require.NoError(t, err)
	assert.Contains(t, begun.Answers, "apples")
	assert.NotContains(t, begun.Answers, "Ann")
	assert.NotContains(t, begun.Answers, "ann@example.org")
	_, page := c.get("/p/" + number + "/name")
	assert.Contains(t, page, `value="Ann Weaver"`)
	r, _ := c.form(at, "asked", "single", "answer.single", "a", "go", "on")
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	whole, err := a.store.Responses.Response(t.Context(), z.ID, 1)
	require.NoError(t, err)
	require.Len(t, whole.Answers, 2)
	assert.Equal(
		t,
		[]store.Contact{
			{WorkspaceID: store.First, ResponseID: whole.ID, Field: "email", Kind: quiz.Email,
				Value: "ann@example.org", QuizID: z.ID, Number: 1},
			{WorkspaceID: store.First, ResponseID: whole.ID, Field: "name", Kind: quiz.Name,
				Value: "Ann Weaver", QuizID: z.ID, Number: 1},
		},
		whole.Contacts,
	)
}

// What leaves for other systems is a number that opens nothing; and the address of a
// passage that holds a name shows it only on the device that began it.
func TestAPassageIsItsOwners(t *testing.T) {
	a := newApp(t)
	m := quiztest.New("any")
	m.Ask("who", quiz.Name)
	m.Ask("crop", quiz.Single, "apples", "pears")
	m.Outcomes["any"].Headline = "Good day, {who}"
	m.Outcomes["any"].Landings = map[string]*quiz.Landing{
		"page": {Kind: quiz.PageLanding, Blocks: map[string]*quiz.Block{
			"on": {Kind: "action", Label: "Book", Address: "https://book.example{?response,passage,who}"}}},
	}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	ann, somebody := a.client(t), a.client(t)
	r, _ := ann.form("/q/"+z.Slug, "asked", "who", "answer.who", "Ann Łęcka", "go", "on")
	at := r.Header.Get("Location")
	number := strings.Split(at, "/")[2]
	for _, path := range []string{at, "/p/" + number + "/who", "/p/" + number} {
		r, page := somebody.get(path)
		assert.Equal(t, http.StatusForbidden, r.StatusCode, path)
		assert.NotContains(t, page, "Ann")
	}
	r, _ = somebody.form(at, "asked", "crop", "answer.crop", "pears", "go", "on")
	assert.Equal(t, http.StatusForbidden, r.StatusCode)
	r, _ = ann.form(at, "asked", "crop", "answer.crop", "apples", "go", "on")
	end := r.Header.Get("Location")
	r, page := somebody.get(end)
	assert.Equal(t, http.StatusForbidden, r.StatusCode)
	assert.NotContains(t, page, "Ann")
	_, page = ann.get(end)
	assert.Contains(t, page, "Good day, Ann Łęcka")
	response := store.ResponseNumber(number)
	assert.Contains(
		t,
		page,
		"https://book.example?response="+response+"&amp;passage="+response+"&amp;who=Ann%20%C5%81%C4%99cka",
	)
	_, links, _ := strings.Cut(page, "https://book.example")
	assert.NotContains(t, links, number)
	r, _ = somebody.get("/p/" + response + "/end")
	assert.Equal(t, http.StatusNotFound, r.StatusCode)
}

// A quiz without an opening gives its first page a number: sent twice, it begins and ends
// one passage.
func TestOnePageSentTwice(t *testing.T) {
	a := newApp(t)
	m := quiztest.New("any")
	m.Pace = quiz.OnePage
	m.Ask("first", quiz.Single, "a", "b").Required = true
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	_, page := c.get("/q/" + z.Slug)
	_, rest, _ := strings.Cut(page, `name="passage" value="`)
	number, _, _ := strings.Cut(rest, `"`)
	require.True(t, store.IsPassageNumber(number))
	_, err := a.store.Responses.Passage(t.Context(), number)
	require.ErrorIs(t, err, store.ErrNotFound, "looking on is nothing to keep")
	r, page := c.form("/q/"+z.Slug, "passage", number, "asked", "first", "go", "on")
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	assert.Contains(t, page, `name="passage" value="`+number)
	for range 3 {
		r, _ := c.form("/q/"+z.Slug, "passage", number, "asked", "first", "answer.first", "b", "go", "on")
		assert.Equal(t, "/p/"+number+"/end", r.Header.Get("Location"))
	}
	list, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
	require.NoError(t, err)
	assert.Len(t, list, 1)
}

// Numbers, picks and steps are taken as the odds count them: what lies between two steps,
// is more than can be counted with, or fewer picks than the least, is told, and what was
// typed is still there; a least number of picks is of those who pick any.
func TestWhatCanBeGiven(t *testing.T) {
	a := newApp(t)
	m := quiztest.New("any")
	m.Pace = quiz.OnePage
	m.Scale("land", quiz.Sum)
	step, factor, week, five := decimal.Must("0.5"), decimal.FromInt(100), decimal.FromInt(7), decimal.FromInt(5)
	m.Ask("size", quiz.Number).Limits = &quiz.Limits{Low: quiztest.NumberBound(1), Step: &step}
	m.Questions["size"].Weigh = map[string]*quiz.Weighing{"land": {Factor: &factor}}
	m.Ask("day", quiz.Date).Limits = &quiz.Limits{Low: quiz.DayBound(decimal.FromInt(20_573)), Step: &week}
	m.Ask("some", quiz.Several, "a", "b", "c").Picks = &quiz.Picks{Min: 2}
	m.Ask("sure", quiz.Rating).Limits = &quiz.Limits{
		Low:  quiztest.NumberBound(0),
		High: quiztest.NumberBound(10),
		Step: &five,
	}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	_, page := c.get("/q/" + z.Slug)
	assert.Contains(t, page, "Choose at least 2, or none.")
	assert.Equal(t, 3, strings.Count(page, `name="answer.sure"`), "0, 5 and 10")
	_, rest, _ := strings.Cut(page, `name="passage" value="`)
	number, _, _ := strings.Cut(rest, `"`)
	for _, one := range [][3]string{
		{"size", "1.2", "Must go in steps of 0.5 from 1."},
		{"size", "2000000000000", "Is too large to be counted with."},
		{"size", "900000000000", "This is more than can be counted with. Give a number nearer to 0."},
		{"day", "2026-05-01", "Must be a whole number of 7 days from 2026-04-30."},
		{"some", "a", "Choose at least 2 answers."},
	} {
		r, page := c.form(
			"/q/"+z.Slug,
			"passage",
			number,
			"asked",
			"size",
			"asked",
			"day",
			"asked",
			"some",
			"asked",
			"sure",
			"answer."+one[0],
			one[1],
			"go",
			"on",
		)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, one)
		assert.Contains(t, page, one[2])
		assert.Contains(t, page, `value="`+one[1]+`"`)
	}
	r, _ := c.form(
		"/q/"+z.Slug,
		"passage",
		number,
		"asked",
		"size",
		"asked",
		"day",
		"asked",
		"some",
		"asked",
		"sure",
		"answer.size",
		"1.5",
		"answer.day",
		"2026-05-07",
		"go",
		"on",
	)
	assert.Equal(t, "/p/"+number+"/end", r.Header.Get("Location"))
}

// Right answers are shown after each question, with the reason, before the result too.
func TestRightAnswersAfterEach(t *testing.T) {
	a := newApp(t)
	m := quiztest.New("any")
	m.Settings = &quiz.Settings{Review: quiz.ReviewEach}
	m.Ask("drone", quiz.YesNo, "yes", "no").Reason = "Drones have **no** sting."
	m.Questions["drone"].Answers["no"].Right = true
	m.Ask("taste", quiz.Single, "sweet", "sour")
	m.Ask("wings", quiz.Several, "two", "four", "six")
	m.Questions["wings"].Answers["four"].Right = true
	m.Outcomes["any"].Text = "You knew {score} of {highest}, {percent} %."
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	p.tap("[value=yes]")
	p.until("what is right", `document.querySelector(".verdict")`)
	p.axe("a right answer")
	assert.Contains(t, p.text(".review"), "That is not right.")
	assert.Contains(t, p.text(".review"), "Drones have no sting.")
	assert.Contains(t, p.text(".review li.other"), "your answer")
	p.click(".nav .button")
	p.asked("taste")
	p.tap("[value=sweet]")
	p.asked("wings")
	p.click("[value=four]")
	p.click("[name=go][value=on]")
	p.until("what is right of the last",
		`document.querySelector(".verdict")?.textContent.trim().replace(/\s+/g, " ") === "That is right."`)
	p.click(".nav .button")
	p.until("the result", `location.pathname.endsWith("/end")`)
	assert.Contains(t, p.text("main"), "You knew 1 of 2, 50 %.")
}

// A redirect after some seconds is told, can be stopped, and works without scripts.
func TestARedirectAfterSeconds(t *testing.T) {
	a := newApp(t)
	m := quiztest.New("away")
	m.Ask("first", quiz.Single, "a", "b")
	m.Outcomes["away"].Landings = map[string]*quiz.Landing{
		"go": {Kind: quiz.RedirectLanding, After: 2, Address: a.standIns + "/standin/booking?first={first}"},
	}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	for _, scripts := range []bool{true, false} {
		p := a.newTabOf(t, 390, 844, scripts)
		take := func() {
			p.open("/q/" + z.Slug)
			p.click("[value=a]")
			if !scripts {
				p.click("[name=go][value=on]")
			}
			p.do(chromedp.WaitVisible(chromedp.CSS(".onward")))
		}
		take()
		assert.Contains(t, p.text(".onward"), "You are taken on in 2 seconds")
		if scripts {
			p.axe("a redirect after seconds")
		}
		p.click(".onward .note a")
		p.do(chromedp.Sleep(2500 * time.Millisecond))
		assert.Contains(t, p.address(), "/end", "stopped")
		take()
		p.do(chromedp.WaitVisible(chromedp.CSS("dl")))
		assert.Contains(t, p.address(), "/standin/booking?first=a")
	}
}

// An appointment is given once: who comes second chooses another. It can be kept as a file,
// and whoever has its link gives it back.
func TestAppointments(t *testing.T) {
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

// The country comes from the address that a proxy tells of, if the proxy is believed; a
// number dialled at home becomes a whole one. The address itself is not kept.
func TestCountryOfAVisitor(t *testing.T) {
	m := quiztest.New("home", "abroad")
	m.Ask("phone", quiz.Phone)
	m.Decision.Steps = map[string]*quiz.Step{
		"here": {
			Kind:    quiz.RuleStep,
			Outcome: "home",
			When: &quiz.Condition{
				Subject: quiz.Subject{Visitor: "country"},
				Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words("GB")},
			},
		},
	}
	m.Decision.Otherwise = "abroad"
	countries := func(at netip.Addr) string { return map[string]string{"192.0.2.7": "GB"}[at.String()] }
	for proxy, want := range map[string]string{"127.0.0.1": "home", "10.0.0.1": "abroad"} {
		a := newAppWith(t, web.Options{Countries: countries, Proxies: []string{proxy}})
		z := a.add(t, string(m.Write()))
		a.release(t, z)
		c := a.client(t)
		form := url.Values{"asked": {"phone"}, "answer.phone": {"01632 960123"}, "go": {"on"}}
		if want == "abroad" {
			form.Set("answer.phone", "+44 1632 960123")
		}
		r, err := http.NewRequest(http.MethodPost, a.URL+"/q/"+z.Slug, strings.NewReader(form.Encode()))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("X-Forwarded-For", "192.0.2.7")
		answer, page := c.send(r)
		require.Equal(t, http.StatusSeeOther, answer.StatusCode, page)
		last := a.last(t, z)
		assert.Equal(t, want, last.Outcome)
		assert.NotContains(t, last.Visitor, "192.0.2.7")
		whole, err := a.store.Responses.Response(t.Context(), z.ID, 1)
		require.NoError(t, err)
		assert.Equal(t, "+441632960123", whole.Contacts[0].Value)
	}
	assert.Error(t, web.CheckProxies([]string{"10.0.0.0/8", "nearby"}))
	assert.NoError(t, web.CheckProxies([]string{"10.0.0.0/8", "::1"}))
}

// Too much from one address waits a minute; a robot that fills in what nobody sees is
// thanked, and nothing is kept; what is too long is told so.
func TestGuards(t *testing.T) {
	a := newAppWith(t, web.Options{Limits: player.Limits{Starts: 2, Finishes: 1}})
	m := quiztest.New("any")
	m.Opening = &quiz.Opening{Heading: "Begin"}
	m.Ask("words", quiz.LongText)
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	begin := func(pairs ...string) (*http.Response, string) { return c.form("/q/"+z.Slug, pairs...) }
	r, page := begin("website", "https://spam.example")
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.Contains(t, page, "Thank you")
	assert.Empty(t, r.Header.Get("Location"))

	var at []string
	for range 4 {
		r, _ := begin()
		require.Equal(t, http.StatusSeeOther, r.StatusCode)
		at = append(at, r.Header.Get("Location"))
	}
	r, page = begin()
	assert.Equal(t, http.StatusTooManyRequests, r.StatusCode)
	assert.Equal(t, "60", r.Header.Get("Retry-After"))
	assert.Contains(t, page, "Try again in a minute")

	r, page = c.form(at[0], "asked", "words", "answer.words", strings.Repeat("x", 600<<10), "go", "on")
	assert.Equal(t, http.StatusRequestEntityTooLarge, r.StatusCode)
	assert.Contains(t, page, "That was too much")
	for i := range 3 {
		r, page = c.form(at[i], "asked", "words", "answer.words", "Two & two", "go", "on")
	}
	assert.Equal(t, http.StatusTooManyRequests, r.StatusCode)
	assert.Contains(t, page, "Two &amp; two", "what was typed is still there")
	list, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
	require.NoError(t, err)
	assert.Len(t, list, 2)
}

// A workspace that somebody else holds gives a page that says to try again, with the
// answers in the form; then it is kept, once.
func TestALockedWorkspace(t *testing.T) {
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t)
	at := c.walk("cherries", "middle", "later", "enough", "little")
	free := a.lock(t)
	r, page := c.answer(at, "us")
	free()
	require.Equal(t, http.StatusServiceUnavailable, r.StatusCode)
	assert.Equal(t, "5", r.Header.Get("Retry-After"))
	assert.Contains(t, page, "It is still here: try again in a moment.")
	assert.True(t, bytes.Contains([]byte(page), []byte(`value="us" checked`)), "the answer is in the form")
	list, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
	require.NoError(t, err)
	assert.Empty(t, list)
	r, _ = c.answer(at, "us")
	assert.Equal(t, http.StatusSeeOther, r.StatusCode)
	list, err = a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
	require.NoError(t, err)
	assert.Len(t, list, 1)
}

// The first page is light, asks nobody else for anything, and nothing on it moves when
// the picture and the typeface come.
func TestTheFirstPageIsLight(t *testing.T) {
	a := newApp(t)
	z := a.day(t, nil)
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	p.until("all has come", `document.readyState === "complete" && document.fonts.status === "loaded"`)
	type part struct {
		Name  string
		Bytes int
	}
	parts := read[[]part](
		p,
		`[...performance.getEntriesByType("navigation"), ...performance.getEntriesByType("resource")].map(e => ({Name: e.name, Bytes: e.encodedBodySize}))`,
	)
	weight := 0
	for _, one := range parts {
		assert.True(t, strings.HasPrefix(one.Name, a.URL+"/"), "%s is asked for", one.Name)
		if !strings.Contains(one.Name, ".woff2") && !strings.Contains(one.Name, "drawing-") {
			weight += one.Bytes
		}
	}
	t.Logf("%d bytes in %d parts, without picture and typeface", weight, len(parts))
	assert.Greater(t, len(parts), 2)
	assert.Less(t, weight, 40<<10)
	p.run(
		`new Promise(done => { new PerformanceObserver(list => { window.shift = (window.shift ?? 0) + list.getEntries().reduce((sum, e) => sum + e.value, 0) }).observe({type: "layout-shift", buffered: true}); setTimeout(done, 300) })`,
	)
	assert.Zero(t, read[float64](p, `window.shift ?? 0`), "layout shift")
}

// Without a connection nothing is lost: the answer goes on its way when it is back.
func TestAConnectionThatIsLost(t *testing.T) {
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	p := a.atFirstQuestion(t, z)
	p.run(`Object.defineProperty(navigator, "onLine", {value: false, configurable: true})`)
	p.click("[value=cherries]")
	p.until("it says so",
		`document.querySelector(".offline")?.textContent.trim().replace(/\s+/g, " ").includes("no connection")`)
	p.axe("no connection")
	assert.True(t, read[bool](p, `document.querySelector("[value=cherries]").checked`))
	p.run(`Object.defineProperty(navigator, "onLine", {value: true}); dispatchEvent(new Event("online"))`)
	p.asked("size")
}

// All kinds without scripts.
func TestEveryKindWithoutScripts(t *testing.T) {
	a := newApp(t)
	z := a.day(t, nil)
	p := a.newTabOf(t, 390, 844, false)
	p.open("/q/" + z.Slug)
	p.click(".button")
	for _, step := range []struct{ question, click string }{
		{"see", "[value=hives]"}, {"bring", "[value=children]"}, {"home", ""},
		{"habits", ".gridrow:nth-of-type(%d) [value=some]"}, {"fear", "[value='3']"}, {"honeylove", "[value='5']"},
		{"queen", "[value=thousand]"}, {"sting", "[value=no]"}, {"yard", "[value=hill]"},
		{"time", ".time input"}, {"name", ""}, {"phone", ""},
	} {
		p.do(chromedp.WaitVisible(chromedp.CSS("[data-question=" + step.question + "]")))
		switch step.question {
		case "home":
			p.do(chromedp.SetValue(chromedp.CSS("select"), "oak"))
		case "habits":
			for i := range 3 {
				p.click(fmt.Sprintf(step.click, i+1))
			}
		case "name":
			p.do(chromedp.Focus(chromedp.CSS("[name='answer.name']")), chromedp.KeyEvent("Ann"))
		case "phone":
		default:
			p.click(step.click)
		}
		p.click("[name=go][value=on]")
	}
	p.do(chromedp.WaitVisible(chromedp.CSS(".booked")))
	assert.Contains(t, p.text(".reviewed h2"), "2 of 2 right")
	got := a.answers(t, z, 1)
	assert.Equal(t, "oak", got["home"])
	assert.Equal(t, "hill", got["yard"])
}

// Who goes back and takes another branch loses nothing that was typed; what is off the way
// in the end is not kept as an answer.
func TestAnotherBranch(t *testing.T) {
	a := newApp(t)
	m := quiztest.New("few", "many")
	m.Scale("points", quiz.Sum)
	m.Ask("hives", quiz.YesNo, "yes points=1", "no")
	m.Ask("count", quiz.Number)
	m.Ask("sells", quiz.Single, "yes points=1", "no")
	m.Questions["hives"].Answers["no"].Then = &quiz.Then{Go: quiz.ToQuestion, To: "sells"}
	m.Bands("points", "few", "2=many")
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	back := func() { p.click("[name=go][value=back]") }
	p.tap("[value=yes]")
	p.asked("count")
	assert.Contains(
		t,
		read[string](p, `document.querySelector(".progress").getAttribute("aria-label")`),
		"Question 2, 1 more to come",
	)
	p.fill("[name='answer.count']", "12")
	back()
	p.asked("hives")
	p.tap("[value=no]")
	p.asked("sells")
	back()
	p.asked("hives")
	p.tap("[value=yes]")
	p.asked("count")
	assert.Equal(t, "12", p.value("[name='answer.count']"), "it is still there")
	back()
	p.asked("hives")
	p.tap("[value=no]")
	p.asked("sells")
	p.tap("[value=yes]")
	p.until("it has landed", `location.pathname.endsWith("/end")`)
	whole, err := a.store.Responses.Response(t.Context(), z.ID, 1)
	require.NoError(t, err)
	require.Len(t, whole.Answers, 2, "the number of hives is off the way")
	assert.Equal(t, "few", whole.Outcome)
}
