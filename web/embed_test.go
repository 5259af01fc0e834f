package web_test

import (
	"fmt"
	"net/http"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// elsewhere is the address of the stand-ins as another site's.
func (a *app) elsewhere() string { return strings.Replace(a.standIns, "127.0.0.1", "localhost", 1) }

// A shop is a page of another origin, which shows a quiz of the application.
func (a *app) shop(query string) string {
	return a.elsewhere() + "/standin/host?quiz=test&title=A+quiz&" + query
}

// shown adds a short quiz that the shop may show, or may not.
func (a *app) shown(t testing.TB, allowed bool) *store.Quiz {
	t.Helper()
	m := quiztest.New("away", "here")
	m.Opening = &quiz.Opening{Heading: "Begin here", Button: "Begin"}
	m.Ask("first", quiz.Single, "leaves", "stays")
	m.Ask("second", quiz.Single, "c", "d")
	m.Decision.Steps = map[string]*quiz.Step{
		"go": {
			Kind:    quiz.RuleStep,
			Outcome: "away",
			When: &quiz.Condition{
				Subject: quiz.Subject{Answer: "first"},
				Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words("leaves")},
			},
		},
	}
	m.Decision.Otherwise = "here"
	m.Outcomes["away"].Landings = map[string]*quiz.Landing{
		"go": {Kind: quiz.RedirectLanding, Address: a.standIns + "/standin/booking?first={first}"},
	}
	m.Settings = &quiz.Settings{Frames: []string{"https://shop.example.org"}}
	if allowed {
		m.Settings.Frames = append(m.Settings.Frames, a.elsewhere())
	}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	return z
}

// inFrame evaluates an expression in the quiz inside the page, which is another origin's
// and so can only be asked through the browser.
func (b *tab) inFrame(what, expression string, do string) {
	b.t.Helper()
	require.Eventually(b.t, func() bool {
		frames, err := chromedp.Targets(b.ctx)
		if err != nil {
			return false
		}
		for _, f := range frames {
			if f.Type != "iframe" || !strings.HasPrefix(f.URL, b.app.URL) {
				continue
			}
			inside, leave := chromedp.NewContext(b.ctx, chromedp.WithTargetID(f.TargetID))
			holds, err := chromedp.Run(inside, chromedp.Evaluate[bool]("Boolean("+expression+")"))
			if err == nil && holds && do != "" {
				_, err = chromedp.Run(inside, chromedp.Evaluate[chromedp.Void](do))
			}
			_ = leave
			if err == nil && holds {
				return true
			}
		}
		return false
	}, patience, 50*time.Millisecond, what)
}

// A block grows with its content, and a redirect leaves the frame.
func TestABlockInAPage(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.shown(t, true)
	b := a.newTab(t)
	b.open(a.shop(""))
	frame := func() float64 {
		return read[float64](b, `document.querySelector("iframe").getBoundingClientRect().height`)
	}
	b.until("the frame is as high as the opening", `document.querySelector("iframe").style.height !== "480px"`)
	opening := frame()
	assert.Less(t, opening, 480.0)
	b.axe("a page with a quiz in it")
	b.inFrame(
		"the opening",
		`document.querySelector("h1")?.textContent.trim().replace(/\s+/g, " ") === "Begin here"`,
		`document.querySelector(".button").click()`,
	)
	b.inFrame("the first question", `document.querySelector("[data-question=first]")`, "")
	b.until(
		"the frame has grown",
		fmt.Sprintf(`document.querySelector("iframe").getBoundingClientRect().height > %f`, opening),
	)
	b.run(
		`document.querySelector("iframe").contentWindow.postMessage({omphalos: {height: 5}}, "*"); window.postMessage({omphalos: {height: 5000, go: "https://example.org/"}}, "*")`,
	)
	b.inFrame(
		"the first question",
		`document.querySelector("[data-question=first]")`,
		`document.querySelector("[value=leaves]").checked = true; document.querySelector("[name=go][value=on]").click()`,
	)
	assert.Less(t, frame(), 2000.0, "what others say is not heard")
	b.inFrame(
		"the second question",
		`document.querySelector("[data-question=second]")`,
		`document.querySelector("[value=c]").checked = true; document.querySelector("[name=go][value=on]").click()`,
	)
	b.until("the page itself has gone on", `location.pathname === "/standin/booking"`)
}

// A frame of somebody's own, without the line, works as well: cookies are kept from it, and who
// answers gets their result with their name in it. A stranger does not.
func TestAFrameOfOnesOwn(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("done")
	m.Ask("who", quiz.Name)
	m.Ask("crop", quiz.Single, "apples", "pears")
	m.Outcomes["done"].Headline = "Good day, {who}"
	m.Settings = &quiz.Settings{Frames: []string{a.elsewhere()}}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	b := a.newTab(t)
	b.open(a.shop(""))
	b.run(fmt.Sprintf(`document.querySelector("iframe").src = %q`, a.URL+"/q/"+z.Slug))
	b.inFrame("who", `document.querySelector("[name='answer.who']")`,
		`document.querySelector("[name='answer.who']").value = "Ann Weaver"; document.querySelector("[name=go][value=on]").click()`)
	b.inFrame("what", `document.querySelector("[data-question=crop]")`,
		`document.querySelector("[value=apples]").checked = true; document.querySelector("[name=go][value=on]").click()`)
	b.inFrame("the result", `document.body?.innerText.includes("Good day, Ann Weaver")`, "location.reload()")
	b.inFrame("loaded again", `document.body?.innerText.includes("Good day, Ann Weaver")`, "")
	r, page := a.client(t).get("/p/" + a.last(t, z).Passage + "/end?frame=1")
	assert.Equal(t, http.StatusForbidden, r.StatusCode)
	assert.NotContains(t, page, "Ann")
}

// What the quiz does not name shows no quiz.
func TestFramesAreForThoseNamed(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.shown(t, false)
	c := a.client(t)
	r, page := c.get("/q/" + z.Slug)
	assert.Contains(t, r.Header.Get("Content-Security-Policy"), "frame-ancestors 'self' https://shop.example.org;")
	assert.Contains(t, page, `data-frames="https://shop.example.org"`)
	b := a.newTab(t)
	b.open(a.shop(""))
	b.do(chromedp.Sleep(time.Second))
	assert.Equal(
		t,
		"480px",
		read[string](b, `document.querySelector("iframe").style.height`),
		"nothing has told its height",
	)
	plain := a.orchard(t)
	a.release(t, plain)
	r, _ = c.get("/q/" + plain.Slug)
	assert.Contains(t, r.Header.Get("Content-Security-Policy"), "frame-ancestors 'none'")
	r, script := c.get("/embed.js")
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.Less(t, len(script), 6<<10, "even without compression")
}

// A pop-up opens after seconds, or when so much is scrolled, or at leaving: once for each
// visitor, never on phones if so set; Escape closes it and gives the focus back.
func TestAPopUp(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.shown(t, true)
	open := `document.querySelector("body > div:last-of-type")?.shadowRoot?.querySelector("dialog")?.open`
	b := a.newTab(t)
	b.open(a.shop("as=popup&after=1"))
	b.do(chromedp.Focus(chromedp.CSS("main button")))
	assert.False(t, read[bool](b, "Boolean("+open+")"), "not at once")
	b.until("it opens", open)
	b.axe("a pop-up")
	b.inFrame("the quiz", `document.querySelector("h1")?.textContent.trim().replace(/\s+/g, " ") === "Begin here"`, "")
	b.do(chromedp.KeyEvent(kb.Escape))
	b.until("it is closed", "!("+open+")")
	assert.Equal(
		t,
		"A button of the page",
		read[string](b, `document.activeElement.textContent`),
		"the focus is where it was",
	)
	b.open(a.shop("as=popup&after=0"))
	b.do(chromedp.Sleep(600 * time.Millisecond))
	assert.False(t, read[bool](b, "Boolean("+open+")"), "once for each visitor")

	b = a.newTab(t)
	b.open(a.shop("as=popup&scrolled=50"))
	b.do(chromedp.Sleep(300 * time.Millisecond))
	assert.False(t, read[bool](b, "Boolean("+open+")"))
	b.run(`scrollTo(0, document.documentElement.scrollHeight * 0.6)`)
	b.until("it opens when half is scrolled", open)

	b = a.newTab(t)
	b.open(a.shop("as=popup&leaving="))
	b.run(`document.documentElement.dispatchEvent(new MouseEvent("mouseleave", { clientY: -1 }))`)
	b.until("it opens at leaving", open)

	for phones, want := range map[string]bool{"no": false, "yes": true} {
		p := a.newTabOf(t, 390, 844, true)
		p.open(a.shop("as=popup&after=0&phones=" + phones))
		p.do(chromedp.Sleep(700 * time.Millisecond))
		assert.Equal(t, want, read[bool](p, "Boolean("+open+")"), "phones: %s", phones)
	}
}

// A slim bar makes room for itself, opens the quiz, and stays away once it was put away.
func TestABarOnTop(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.shown(t, true)
	b := a.newTab(t)
	at := a.shop("as=bar&words=Which+hive&button=Find+out")
	b.open(at)
	inside := `document.querySelector("body > div:last-of-type")?.shadowRoot`
	b.until("the bar", inside+`?.querySelector(".bar")?.textContent.trim().replace(/\s+/g, " ").includes("Which hive")`)
	b.axe("a bar")
	assert.NotEqual(t, "0px", read[string](b, `getComputedStyle(document.documentElement).marginTop`))
	b.run(inside + `.querySelector(".open").click()`)
	b.until("the quiz", inside+`.querySelector("dialog").open`)
	b.do(chromedp.KeyEvent(kb.Escape))
	b.run(inside + `.querySelector(".bar .close").click()`)
	b.until("it is gone", "!"+inside+`.querySelector(".bar")`)
	b.open(at)
	b.do(chromedp.Sleep(300 * time.Millisecond))
	assert.False(t, read[bool](b, `Boolean(`+inside+`?.querySelector(".bar"))`))
}

// The line that is put into a page is written out in the room of releases.
func TestTheLineForAPage(t *testing.T) {
	t.Parallel()
	var shown atomic.Int32 // how often the quiz was asked for
	a := newAppBehind(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if r.URL.Path == "/q/test" {
				shown.Add(1)
			}
			h.ServeHTTP(w, r)
		})
	})
	z := a.shown(t, true)
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d/release", z.ID))
	b.axe("Release, with a block")
	assert.Equal(
		t,
		fmt.Sprintf(`<script async src="%s/embed.js" data-quiz="test" data-title="Test"></script>`, a.URL),
		b.value(".snippet textarea"),
	)
	b.choose("[name=as]", "popup")
	b.until(
		"a pop-up, after as long as is common",
		`document.querySelector(".snippet textarea")?.value.includes('data-as="popup" data-after="25"')`,
	)
	b.fill("[name=after]", "20")
	b.fill("[name=scrolled]", "40")
	b.click("[name=leaving]")
	b.choose("[name=phones]", "no")
	b.until(
		"written out",
		`document.querySelector(".snippet textarea")?.value.includes('data-after="20" data-scrolled="40" data-leaving="" data-phones="no"')`,
	)
	b.until(
		"the page beside is as it says",
		`document.querySelector("#pages iframe").src.endsWith("after=20&as=popup&leaving=&phones=no&quiz=test&scrolled=40&title=Test")`,
	)
	assert.Equal(t, "20", b.value("[name=after]"), "the fields stay")
	b.axe("Release, with a pop-up")
	before := shown.Load()
	b.fill("[name=after]", "0")
	b.run(`document.querySelector("#pages iframe").scrollIntoView()`)
	require.Eventually(t, func() bool {
		return shown.Load() > before
	}, patience, 25*time.Millisecond, "the pop-up comes in it")
}
