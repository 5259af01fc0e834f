package web_test

import (
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/gate"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// An ending is a quiz of two questions with a way to end, and what is read there.
type ending struct {
	name  string
	set   func(m *quiztest.Maker)
	last  string // answer to the second question
	reads string
	kept  int // responses
}

var endings = []ending{
	{"a page", func(*quiztest.Maker) {}, "yes", "Well done", 1},
	{"screened out", func(m *quiztest.Maker) {
		m.Questions["second"].Answers["no"].Then = &quiz.Then{Go: quiz.PartWays, To: "gone"}
		m.Outcomes["gone"].Headline = "Not this year"
	}, "no", "Not this year", 0},
	{"right answers after each", func(m *quiztest.Maker) {
		m.Settings.Review = quiz.ReviewEach
		m.Questions["second"].Answers["yes"].Right = true
	}, "yes", "That is right.", 1},
	{"contact before the result", func(m *quiztest.Maker) {
		m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
			Fields: map[string]*quiz.Question{"mail": {Kind: quiz.Email, Label: "Mail"}}}
	}, "yes", "Who are you?", 0},
}

func (a *app) ending(t testing.TB, e ending) *store.Quiz {
	m := quiztest.New("done", "gone")
	m.Settings = &quiz.Settings{}
	m.Ask("first", quiz.Single, "yes", "no")
	m.Ask("second", quiz.Single, "yes", "no")
	m.Decision.Otherwise = "done"
	m.Outcomes["done"].Headline = "Well done"
	e.set(&m)
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	return z
}

// Every end is reached, by whoever answers quickly or slowly, twice, and by whoever loads it again
// or goes back, with and without scripts.
func TestEveryEndIsReached(t *testing.T) {
	t.Parallel()
	for _, e := range endings {
		for _, scripts := range []bool{true, false} {
			t.Run(fmt.Sprint(e.name, ", scripts ", scripts), func(t *testing.T) {
				a := newApp(t)
				z := a.ending(t, e)
				b := a.newTabOf(t, 390, 844, scripts)
				tap := func(question, answer string, wait time.Duration) {
					b.do(chromedp.WaitVisible(chromedp.CSS(`[data-question=` + question + `]`)))
					b.do(chromedp.Sleep(wait))
					b.click("[value=" + answer + "]")
					if !scripts {
						b.click("[name=go][value=on]")
					}
				}
				there := func(what string) {
					b.until(what, fmt.Sprintf("document.body?.innerText.includes(%q)", e.reads))
				}
				for i, wait := range []time.Duration{0, 1500 * time.Millisecond} {
					b.open("/q/" + z.Slug + "?start=anew")
					tap("first", "yes", wait)
					tap("second", e.last, wait)
					there("the end")
					b.do(chromedp.Reload())
					there("the end, loaded again")
					if e.kept > 0 {
						b.run(`history.back()`)
						b.do(chromedp.Sleep(500 * time.Millisecond))
						b.run(`history.forward()`)
						b.do(chromedp.Sleep(500 * time.Millisecond))
						there("the end, come back to")
					}
					list, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
					require.NoError(t, err)
					assert.Len(t, list, e.kept*(i+1))
				}
			})
		}
	}
}

var hidden = regexp.MustCompile(`<input type="hidden" name="([^"]+)" value="([^"]*)"`)

// unseen are the fields of a page's form that nobody sees.
func unseen(page string) (pairs []string) {
	for _, m := range hidden.FindAllStringSubmatch(page, -1) {
		pairs = append(pairs, m[1], m[2])
	}
	return pairs
}

// What is sent twice, since its answer was lost, is answered as it was; it counts once.
func TestWhatIsSentTwice(t *testing.T) {
	t.Parallel()
	for _, e := range endings[:2] {
		for _, script := range []string{"", "yes"} {
			a := newApp(t)
			z := a.ending(t, e)
			c := a.client(t)
			at, page := "/q/"+z.Slug, ""
			send := func(answer string) (status int, page, address string) {
				_, form := c.get(at)
				key := regexp.MustCompile(`name="asked" value="([^"]+)"`).FindStringSubmatch(form)[1]
				fields, pairs := url.Values{"answer." + key: {answer}, "go": {"on"}}, unseen(form)
				for i := 0; i < len(pairs); i += 2 {
					fields.Add(pairs[i], pairs[i+1])
				}
				r, err := http.NewRequest(http.MethodPost, a.URL+at, strings.NewReader(fields.Encode()))
				require.NoError(t, err)
				r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
				r.Header.Set("Page-Sent", script)
				again := r.Clone(t.Context())
				again.Body, _ = r.GetBody()
				first, said := c.send(r)
				second, saidAgain := c.send(again)
				assert.Equal(t, first.StatusCode, second.StatusCode, "%s: %s", e.name, at)
				assert.Equal(t, said, saidAgain, "%s: %s", e.name, at)
				for _, name := range []string{"Location", "Page-Address", "Page-Elsewhere"} {
					assert.Equal(t, first.Header.Get(name), second.Header.Get(name), "%s: %s", e.name, at)
				}
				return first.StatusCode, said, first.Header.Get("Location") + first.Header.Get("Page-Address")
			}
			_, _, at = send("yes")
			require.Contains(t, at, "/second")
			_, page, at = send(e.last)
			if page == "" || !strings.Contains(page, e.reads) {
				_, page = c.get(at)
			}
			assert.Contains(t, page, e.reads)
			list, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
			require.NoError(t, err)
			assert.Len(t, list, e.kept, e.name)
			out, err := a.store.Responses.Screened(t.Context(), z.ID, nil)
			require.NoError(t, err)
			assert.Len(t, out, 1-e.kept, e.name)
			if e.kept == 0 {
				assert.Equal(t, 1, out[0].Count, "once")
			}
		}
	}
}

// A quiz that closes, rests or is full says so to whoever is mid-way, also to a script.
func TestAQuizThatShutsMidWay(t *testing.T) {
	t.Parallel()
	for reads, g := range map[string]gate.Gate{"This quiz is full": {Most: 1}, "This quiz rests": {Paused: true},
		"This quiz is over": {Closed: true}} {
		a := newApp(t)
		z := a.ending(t, endings[0])
		b := a.newTabOf(t, 390, 844, true)
		b.open("/q/" + z.Slug)
		b.click("[value=yes]")
		b.do(chromedp.WaitVisible(chromedp.CSS("[data-question=second]")))
		if g.Most > 0 {
			c := a.client(t)
			r, _ := c.answer("/q/"+z.Slug, "yes")
			c.answer(r.Header.Get("Location"), "yes")
		}
		require.NoError(t, a.store.Definitions.SetGate(t.Context(), z.ID, g))
		b.click("[value=yes]")
		b.until(reads, fmt.Sprintf("document.body.innerText.includes(%q)", reads))
	}
}

// blocked keeps cookies from the browser and from the server.
func blocked(h http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		r.Header.Del("Cookie")
		h.ServeHTTP(cookieless{w}, r)
	})
}

type cookieless struct{ http.ResponseWriter }

func (w cookieless) WriteHeader(status int) {
	w.Header().Del("Set-Cookie")
	w.ResponseWriter.WriteHeader(status)
}

func (w cookieless) Write(b []byte) (int, error) {
	w.Header().Del("Set-Cookie")
	return w.ResponseWriter.Write(b)
}

// Who keeps no cookies gets their result, with what they said of themselves in it, and can load it
// again; a stranger does not.
func TestCookiesAreBlocked(t *testing.T) {
	t.Parallel()
	for _, opening := range []bool{true, false} {
		for _, scripts := range []bool{true, false} {
			a := newAppBehind(t, blocked)
			m := quiztest.New("done")
			if opening {
				m.Opening = &quiz.Opening{Heading: "Begin here"}
			}
			m.Ask("who", quiz.Name).Required = true
			m.Ask("crop", quiz.Single, "apples", "pears")
			m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
				Fields: map[string]*quiz.Question{"mail": {Kind: quiz.Email, Label: "Mail", Required: true}}}
			m.Outcomes["done"].Headline = "Good day, {who}"
			z := a.add(t, string(m.Write()))
			a.release(t, z)
			b := a.newTabOf(t, 390, 844, scripts)
			// Where cookies are blocked, browsers keep their stores from a page, too.
			_, err := chromedp.Call(b.ctx, page.AddScriptToEvaluateOnNewDocument,
				page.AddScriptToEvaluateOnNewDocumentParams{Source: `Object.defineProperty(window, "sessionStorage",
					{get() { throw new DOMException("denied", "SecurityError"); }})`})
			require.NoError(t, err)
			b.open("/q/" + z.Slug)
			if opening {
				b.click(".button")
			}
			b.fill("[name='answer.who']", "Ann Weaver")
			b.click("[name=go][value=on]")
			if scripts {
				b.click("[data-untap]")
				b.until("a tap stays from now on", `!document.getElementById("taps")`)
			}
			b.click("[value=apples]")
			b.click("[name=go][value=on]")
			b.fill("[name=mail]", "ann@example.org")
			b.click("[name=go][value=on]")
			b.until("the result", `document.body?.innerText.includes("Good day, Ann Weaver")`)
			b.do(chromedp.Reload())
			b.until("loaded again", `document.body?.innerText.includes("Good day, Ann Weaver")`)
			address, _, _ := strings.Cut(b.address(), "?")
			for _, query := range []string{"", "?token=", "?token=0123456789abcdef0123456789abcdef", "?frame=1"} {
				r, shown := a.client(t).get(strings.TrimPrefix(address, a.URL) + query)
				assert.Equal(t, http.StatusForbidden, r.StatusCode, query)
				assert.NotContains(t, shown, "Ann")
				assert.Contains(t, shown, "Take the quiz", "and how to begin")
			}
		}
	}
}

// Right answers are seen once, before the form that asks who somebody is; behind it is the result.
func TestRightAnswersBeforeContact(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("done")
	m.Settings = &quiz.Settings{Review: quiz.ReviewEach}
	m.Ask("first", quiz.Single, "yes", "no").Answers["yes"].Right = true
	m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
		Fields: map[string]*quiz.Question{"mail": {Kind: quiz.Email, Label: "Mail"}}}
	m.Outcomes["done"].Headline = "Well done"
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	r, _ := c.answer("/q/"+z.Slug, "yes")
	review := r.Header.Get("Location")
	_, page := c.get(review)
	require.Contains(t, page, "That is right.")
	onward := regexp.MustCompile(`class="button" href="([^"]+)"`).FindStringSubmatch(page)[1]
	require.Contains(t, onward, "your-contact")
	r, _ = c.form(onward, "mail", "ann@example.org", "go", "on")
	assert.True(t, strings.HasSuffix(r.Header.Get("Location"), "/end"), r.Header.Get("Location"))
}

// A server that is away loses nothing: what was typed stands there, is told to be unsent, goes on
// its way by itself, and is there after loading again.
func TestAnAnswerThatDoesNotArrive(t *testing.T) {
	t.Parallel()
	var away atomic.Bool
	a := newAppBehind(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if away.Load() && r.Method == http.MethodPost {
				http.Error(w, "bad gateway", http.StatusBadGateway) // as a proxy says
				return
			}
			h.ServeHTTP(w, r)
		})
	})
	m := quiztest.New("done")
	m.Ask("say", quiz.LongText).Required = true
	m.Outcomes["done"].Headline = "Well done"
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	b := a.newTabOf(t, 390, 844, true)
	b.open("/q/" + z.Slug)
	away.Store(true)
	b.fill("textarea", "Bees, mostly")
	b.click("[name=go][value=on]")
	b.until("it is told", `document.querySelector(".unsent")?.innerText.includes("Not sent yet. Trying again.")`)
	b.axe("an answer that has not arrived")
	b.do(chromedp.Reload())
	b.until("it is there again", `document.querySelector("textarea")?.value === "Bees, mostly"`)
	b.click("[name=go][value=on]")
	b.until("it is told", `document.querySelector(".unsent")`)
	away.Store(false)
	b.click(".unsent button")
	b.until("the result", `document.body.innerText.includes("Well done")`)
	list, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "Bees, mostly", list[0].Answers[0].Answer)
}

// Where something on the way keeps back what the server says to the script, the browser sends the
// form by itself.
func TestWhatIsKeptBackOnTheWay(t *testing.T) {
	t.Parallel()
	a := newAppBehind(t, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) { h.ServeHTTP(quieted{w}, r) })
	})
	z := a.ending(t, endings[0])
	b := a.newTabOf(t, 390, 844, true)
	b.open("/q/" + z.Slug)
	b.click("[value=yes]")
	b.until("the second", `document.querySelector("[data-question=second]")`)
	b.click("[name=go][value=back]")
	b.until("back", `document.querySelector("[data-question=first]")`)
}

type quieted struct{ http.ResponseWriter }

func (w quieted) WriteHeader(status int) {
	w.Header().Del("Page-Sent")
	w.ResponseWriter.WriteHeader(status)
}

// A program that fills in forms for a person fills in the field that nobody sees, too: they are
// asked, and lose nothing.
func TestAFieldThatNobodySees(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.ending(t, endings[0])
	for _, scripts := range []bool{true, false} {
		b := a.newTabOf(t, 390, 844, scripts)
		b.open("/q/" + z.Slug)
		b.run(`document.querySelector("[name=website]").value = "https://example.org"`)
		b.click("[value=yes]")
		if !scripts {
			b.click("[name=go][value=on]")
		}
		b.until("it is asked", `document.body.innerText.includes("Are you a person?")`)
		if scripts {
			b.axe("whether it is a person")
		}
		b.click("[name=person]")
		b.until("it goes on", `document.querySelector("[data-question=second]")`)
	}
}

// A tap that goes on says so beforehand, and whoever answers can turn it off for all that comes.
// Whether an answer is needed is written, and told to those who hear the page.
func TestWhatAQuestionSaysBeforehand(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("any")
	m.Ask("first", quiz.Single, "a", "b").Required = true
	m.Ask("second", quiz.Single, "c", "d")
	m.Ask("third", quiz.Several, "e", "f")
	m.Ask("fourth", quiz.ShortText).Required = true
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	assert.Contains(t, p.text("main"), "Required")
	assert.Equal(t, "true", read[string](p, `document.querySelector("[role=radiogroup]").ariaRequired`))
	assert.Contains(t, p.text("#taps"), "A tap on an answer goes on.")
	p.axe("what a question says")
	p.click("[data-untap]")
	p.click("[value=a]")
	p.do(chromedp.Sleep(600 * time.Millisecond))
	assert.True(t, read[bool](p, `document.querySelector("[value=a]").checked`), "it stays")
	p.click("[name=go][value=on]")
	p.asked("second")
	assert.Contains(t, p.text("main"), "Optional")
	assert.False(t, read[bool](p, `!!document.getElementById("taps")`))
	p.click("[name=go][value=on]")
	p.asked("third")
	assert.Contains(t, p.text("main"), "Choose all that apply.")
	p.click("[name=go][value=on]")
	p.asked("fourth")
	assert.Equal(t, "true", read[string](p, `document.querySelector("[type=text]").ariaRequired`))
}
