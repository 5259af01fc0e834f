package web_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// paced is a quiz of two sections whose second question shows for those with hives.
func paced(pace quiz.Pace) quiztest.Maker {
	m := quiztest.New("few", "many")
	m.Scale("points", quiz.Sum)
	m.Pace = pace
	m.Sections = map[string]*quiz.Section{
		"yard":  {Order: 1, Heading: "Your yard", Text: "Two or three questions."},
		"trade": {Order: 2, Heading: "Your trade"},
	}
	for key, section := range map[string]string{"hives": "yard", "count": "yard", "sells": "trade"} {
		m.Ask(key, quiz.Single, "yes points=1", "no points=0")
		m.Questions[key].Section, m.Questions[key].Required = section, true
	}
	m.Questions["hives"].Order, m.Questions["count"].Order = 1, 2
	m.Questions["count"].ShowWhen = &quiz.Condition{
		Subject: quiz.Subject{Answer: "hives"},
		Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words("yes")},
	}
	m.Bands("points", "few", "2=many")
	return m
}

func TestPacesAskTheSame(t *testing.T) {
	t.Parallel()
	for _, pace := range []quiz.Pace{quiz.ByQuestion, quiz.BySection, quiz.OnePage} {
		a := newApp(t)
		z := a.add(t, string(paced(pace).Write()))
		a.release(t, z)
		for _, want := range []struct{ answers, outcome string }{{"hives=yes count=yes sells=no", "many"},
			{"hives=no sells=yes", "few"}} {
			c := a.client(t)
			answers := map[string]string{}
			for _, pair := range strings.Fields(want.answers) {
				key, answer, _ := strings.Cut(pair, "=")
				answers[key] = answer
			}
			at, pages := "/q/"+z.Slug, 0
			for !strings.HasSuffix(at, "/end") {
				_, page := c.get(at)
				form := []string{"go", "on"}
				for _, piece := range strings.Split(page, `name="asked" value="`)[1:] {
					key, _, _ := strings.Cut(piece, `"`)
					form = append(form, "asked", key, "answer."+key, answers[key])
				}
				require.Less(t, pages, 9, page)
				r, page := c.form(at, form...)
				require.Equal(t, http.StatusSeeOther, r.StatusCode, page)
				at = r.Header.Get("Location")
				pages++
			}
			assert.Equal(t, want.outcome, a.last(t, z).Outcome, "%s: %s", pace, want.answers)
			most := map[quiz.Pace]int{
				quiz.ByQuestion: len(answers),
				quiz.BySection:  len(answers),
				quiz.OnePage:    len(answers) - 1,
			}
			assert.Equal(t, most[pace], pages, "a question that comes up asks once more: %s: %s", pace, want.answers)
		}
	}
}

func TestSeveralQuestionsOnAPage(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.add(t, string(paced(quiz.OnePage).Write()))
	a.release(t, z)

	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	p.axe("all on one page")
	top := read[float64](p, `document.querySelector("#at-hives").getBoundingClientRect().top`)
	p.click("#at-hives label:first-of-type")
	p.until("the second question comes up in its place", `document.querySelector("#at-hives + #at-count")`)
	assert.Contains(t, p.text("#news"), "Asked further down: count", "which is read out")
	assert.InDelta(
		t,
		top,
		read[float64](p, `document.querySelector("#at-hives").getBoundingClientRect().top`),
		1,
		"the page does not jump",
	)
	p.click("#at-hives label:last-of-type")
	p.until("and goes", `!document.querySelector("#at-count")`)
	assert.Contains(t, p.text("#news"), "Not asked any more: count")
	p.click("#at-hives label:first-of-type")
	p.until("and comes again", `document.querySelector("#at-count")`)
	p.do(chromedp.Reload())
	p.until(
		"a reload loses nothing",
		`document.querySelector("#at-hives [type=radio]")?.checked && document.querySelector("#at-count")`,
	)
	p.click("button.button")
	p.until("the question that was not answered says so", `document.querySelector("#at-sells .wrong")`)
	assert.Contains(t, p.text("#at-sells .wrong"), "This one is needed")
	assert.True(
		t,
		read[bool](p, `document.querySelector("#at-hives [type=radio]").checked`),
		"what was answered is still there",
	)
	p.axe("something is missing")
	p.click("#at-sells label:first-of-type")
	p.click("#at-count label:first-of-type")
	p.click("button.button")
	p.until("it has landed", `location.pathname.endsWith("/end")`)
	assert.Equal(t, "many", a.last(t, z).Outcome)
}

// What can't be taken is still in its field when one goes back and comes again.
func TestGoingBackKeepsWhatIsNotValid(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("any")
	m.Ask("first", quiz.Single, "yes", "no")
	m.Ask("count", quiz.Number)
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	r, _ := c.answer("/q/"+z.Slug, "yes")
	at := r.Header.Get("Location")
	r, _ = c.form(at, "asked", "count", "answer.count", "a dozen", "go", "back")
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	_, page := c.get(at)
	assert.Contains(t, page, `value="a dozen"`)
}

// A section at a time, on a large window and on a phone, with scripts and without: what an
// answer brings up stands in the same section, and the next one begins with its heading.
func TestASectionAtATime(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.add(t, string(paced(quiz.BySection).Write()))
	a.release(t, z)
	for _, window := range []struct {
		width, height int64
		scripts       bool
	}{{1280, 800, true}, {390, 844, true}, {390, 844, false}} {
		p := a.newTabOf(t, window.width, window.height, window.scripts)
		p.open("/q/" + z.Slug)
		assert.Equal(t, "Your yard", p.text("h1"))
		p.click("#at-hives label:first-of-type")
		if !window.scripts {
			p.click("button.button")
		}
		p.do(chromedp.WaitVisible(chromedp.CSS("#at-count")))
		if window.scripts {
			p.axe("a section")
			p.fits("a section")
		}
		p.click("#at-count label:first-of-type")
		p.click("button.button")
		p.do(chromedp.WaitVisible(chromedp.CSS("#at-sells")))
		assert.Equal(t, "Your trade", p.text("h1"))
		p.click(".quiet")
		p.do(chromedp.WaitVisible(chromedp.CSS("#at-count")))
		p.click("button.button")
		p.do(chromedp.WaitVisible(chromedp.CSS("#at-sells")))
		p.click("#at-sells label:first-of-type")
		p.click("button.button")
		p.do(chromedp.WaitNotPresent(chromedp.CSS("form.quiz")))
		assert.Contains(t, p.address(), "/end")
		assert.Equal(t, "many", a.last(t, z).Outcome)
	}
}
