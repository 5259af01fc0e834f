package web_test

import (
	"fmt"
	"net/http"
	"os"
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
	t.Parallel()
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
	t.Parallel()
	a := newApp(t)
	z := a.day(t, nil)
	p := a.newTab(t)
	p.open("/q/" + z.Slug)
	p.do(chromedp.KeyEvent(kb.Tab + kb.Enter))
	p.asked("see")
	p.do(chromedp.KeyEvent("3"))
	assert.False(t, read[bool](p, `!!document.querySelector(":checked")`), "a key alone is nobody's outside the answers")
	for _, step := range []struct{ question, keys string }{
		{"see", kb.Tab + "3" + kb.Enter}, {"bring", kb.Tab + "13" + kb.Enter}, {"home", kb.Tab + "haz" + kb.Enter + kb.Enter},
		{"habits", kb.Tab + " " + kb.Tab + kb.ArrowDown + kb.Tab + kb.ArrowUp + kb.Enter},
		{"fear", kb.Tab + "0" + kb.Enter}, {"honeylove", kb.Tab + "5" + kb.Enter}, {"queen", kb.Tab + "3" + kb.Enter},
		{"sting", kb.Tab + "2" + kb.Enter}, {"yard", kb.Tab + kb.Tab + "2" + kb.Enter}, {"time", kb.Tab + kb.Tab + "4" + kb.Enter}, {"name", kb.Tab + "Ann" + kb.Enter},
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
	t.Parallel()
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

// Numbers, picks and steps are taken as the odds count them: what lies between two steps,
// is more than can be counted with, or fewer picks than the least, is told, and what was
// typed is still there; a least number of picks is of those who pick any.
func TestWhatCanBeGiven(t *testing.T) {
	t.Parallel()
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
	t.Parallel()
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

// All kinds without scripts.
func TestEveryKindWithoutScripts(t *testing.T) {
	t.Parallel()
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
