package web_test

import (
	"context"
	"fmt"
	"net/url"
	"os"
	"os/exec"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"
)

// A tab is a page of a browser. Its methods do what a person does, and fail
// the test where that can't be done within some seconds.
type tab struct {
	t   testing.TB
	ctx context.Context
	app *app
}

var browser struct {
	sync.Once
	ctx context.Context
}

// chromium starts the browser that all tabs of this test run live in.
func chromium(t testing.TB) context.Context {
	t.Helper()
	browser.Do(func() {
		path, err := exec.LookPath("chromium")
		require.NoError(t, err, "the browser tests need Debian's chromium; make test installs it")
		options := append(
			slices.Clone(chromedp.DefaultExecAllocatorOptions[:]),
			chromedp.ExecPath(path),
			chromedp.NoSandbox,
			chromedp.DisableGPU,
			chromedp.Flag("disable-quic", true),
			chromedp.Flag("disable-background-networking", true),
			chromedp.Flag("disable-component-update", true),
			chromedp.Flag("force-prefers-reduced-motion", true),
		)
		allocator, _ := chromedp.NewExecAllocator(context.Background(), options...)
		browser.ctx, _ = chromedp.NewContext(allocator) // ends with the test program
		_, err = chromedp.Run(browser.ctx, chromedp.Navigate("about:blank"))
		require.NoError(t, err)
	})
	return browser.ctx
}

// newTab opens a tab with cookies of its own, 1280 × 800.
func (a *app) newTab(t testing.TB) *tab { return a.newTabOf(t, 1280, 800, true) }

func (a *app) newTabOf(t testing.TB, width, height int64, scripts bool) *tab {
	t.Helper()
	ctx, closeTab := chromedp.NewContext(chromium(t), chromedp.WithNewBrowserContext())
	t.Cleanup(closeTab)
	tb := &tab{t, ctx, a}
	tb.do(chromedp.Navigate("about:blank"))
	tb.do(chromedp.EmulateViewport(width, height))
	if !scripts {
		_, err := chromedp.Call(
			ctx,
			emulation.SetScriptExecutionDisabled,
			emulation.SetScriptExecutionDisabledParams{Value: true},
		)
		require.NoError(t, err)
	}
	return tb
}

// beside opens another tab of the same browser, signed in as this one is.
func (b *tab) beside() *tab {
	ctx, closeTab := chromedp.NewContext(b.ctx)
	b.t.Cleanup(closeTab)
	tb := &tab{b.t, ctx, b.app}
	tb.do(chromedp.Navigate("about:blank"))
	tb.do(chromedp.EmulateViewport(1280, 800))
	return tb
}

const patience = 40 * time.Second

func (b *tab) do(actions ...chromedp.Action[chromedp.Void]) {
	b.t.Helper()
	for _, action := range actions {
		get(b, action)
	}
}

// within bounds what is done in a tab, but for the first time, which opens it.
func (b *tab) within() (context.Context, context.CancelFunc) {
	if chromedp.FromContext(b.ctx).Target == nil {
		return b.ctx, func() {}
	}
	return context.WithTimeout(b.ctx, patience)
}

func get[T any](b *tab, action chromedp.Action[T]) T {
	b.t.Helper()
	ctx, cancel := b.within()
	defer cancel()
	value, err := chromedp.Run(ctx, action)
	for replaced(err) && ctx.Err() == nil {
		value, err = chromedp.Run(ctx, action)
	}
	require.NoError(b.t, err)
	return value
}

// replaced tells whether an action found an element that the page had taken out before
// the action came to it. Nothing has been done then, and it is looked for again.
func replaced(err error) bool {
	return err != nil && strings.Contains(err.Error(), "with given id")
}

func (b *tab) open(path string) {
	b.t.Helper()
	if strings.HasPrefix(path, "/") {
		path = b.app.URL + path
	}
	b.do(chromedp.Navigate(path))
}

// leave opens another page from one that asks whether it may be left.
func (b *tab) leave(path string) {
	b.t.Helper()
	listening, done := context.WithCancel(b.ctx)
	asked, answered := chromedp.Events(listening, page.JavascriptDialogOpening), make(chan int, 1)
	go func() {
		n := 0
		for _, err := range asked {
			if err != nil {
				break
			}
			n++
			_, _ = chromedp.Call(b.ctx, page.HandleJavaScriptDialog, page.HandleJavaScriptDialogParams{Accept: true})
		}
		answered <- n
	}()
	b.open(path)
	done()
	require.Equal(b.t, 1, <-answered, "it asks whether to leave")
}

func (b *tab) click(selector string) {
	b.t.Helper()
	b.do(chromedp.Click(chromedp.CSS(selector), chromedp.NodeVisible))
}

// tap chooses an answer of the question that stands alone on a page, which goes on.
func (b *tab) tap(selector string) {
	b.t.Helper()
	before := b.address()
	b.click(selector)
	b.until(
		"a tap on "+selector+" goes on",
		fmt.Sprintf("location.href !== %q && document.readyState === \"complete\"", before),
	)
}

// press gives the keyboard to an element and types.
func (b *tab) press(selector, keys string, options ...chromedp.KeyOption) {
	b.t.Helper()
	b.do(chromedp.Focus(chromedp.CSS(selector)), chromedp.KeyEvent(keys, options...))
}

// drawn waits until what was scrolled to is drawn, and has its size.
func (b *tab) drawn() {
	b.t.Helper()
	get(b, chromedp.Evaluate[bool](
		`new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(() => drawn(true))))`,
		chromedp.EvalAwaitPromise))
}

// fill replaces what is in a field by typing.
func (b *tab) fill(selector, text string) {
	b.t.Helper()
	// What is there may just be replaced by the same: it is looked for until it has the focus.
	b.until(selector+" has the focus", fmt.Sprintf(
		`(() => { const field = document.querySelector(%q); field?.focus(); return !!field && document.activeElement === field; })()`, selector))
	if read[string](b, `document.activeElement.value`) != "" {
		b.run(`document.activeElement.select()`)
		b.do(chromedp.KeyEvent("\b"))
	}
	b.do(chromedp.KeyEvent(text))
}

// pressWhile presses what can be pressed with the mouse, and lets it go after something else.
func (b *tab) pressWhile(selector string, meanwhile func()) {
	b.t.Helper()
	at := b.middle(selector)
	b.do(mouse(input.DispatchMouseEventTypeMousePressed, at, 1))
	meanwhile()
	b.do(mouse(input.DispatchMouseEventTypeMouseReleased, at, 1))
}

// clickAfterClick clicks twice at one place, with something between.
func (b *tab) clickAfterClick(selector string, between func()) {
	b.t.Helper()
	at := b.middle(selector)
	for n := range 2 {
		if n == 1 {
			between()
		}
		b.do(mouse(input.DispatchMouseEventTypeMousePressed, at, n+1))
		b.do(mouse(input.DispatchMouseEventTypeMouseReleased, at, n+1))
	}
}

func mouse(kind input.DispatchMouseEventType, at []float64, clicks int) chromedp.Action[chromedp.Void] {
	return chromedp.MouseEvent(kind, at[0], at[1], chromedp.ButtonLeft, chromedp.ClickCount(clicks))
}

// middle scrolls to what can be pressed, and returns where it is in the window.
func (b *tab) middle(selector string) []float64 {
	b.t.Helper()
	b.do(chromedp.WaitVisible(chromedp.CSS(selector)))
	b.run(fmt.Sprintf(`document.querySelector(%q).scrollIntoView({ block: "center" })`, selector))
	b.drawn()
	return read[[]float64](b, fmt.Sprintf(
		`(() => { const r = document.querySelector(%q).getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]; })()`,
		selector))
}

// run runs a script in the page. One that leads away from it has run, whatever is heard of it.
func (b *tab) run(script string) {
	b.t.Helper()
	ctx, cancel := b.within()
	defer cancel()
	if _, err := chromedp.Run(ctx, chromedp.Evaluate[chromedp.Void](script)); err == nil ||
		!strings.Contains(err.Error(), "navigated or closed") {
		require.NoError(b.t, err)
	}
}

// read evaluates an expression in the page.
func read[T any](b *tab, expression string) T {
	b.t.Helper()
	return get(b, chromedp.Evaluate[T](expression))
}

func (b *tab) text(selector string) string {
	b.t.Helper()
	// Found and read at once: what is there may just be replaced.
	one := fmt.Sprintf("document.querySelector(%q)", selector)
	b.until(selector+" is there", one)
	return strings.Join(strings.Fields(read[string](b, one+`?.innerText ?? ""`)), " ")
}

func (b *tab) value(selector string) string {
	b.t.Helper()
	return get(b, chromedp.Value(chromedp.CSS(selector)))
}

func (b *tab) address() string {
	b.t.Helper()
	return get(b, chromedp.Location())
}

// until waits for a condition in the page to hold.
func (b *tab) until(what, condition string) {
	b.t.Helper()
	b.untilWithin(patience, what, condition)
}

func (b *tab) untilWithin(limit time.Duration, what, condition string) {
	b.t.Helper()
	require.Eventually(b.t, func() bool {
		once, stop := context.WithTimeout(b.ctx, 2*time.Second) // a page that goes while it is asked says nothing
		defer stop()
		holds, err := chromedp.Run(once, chromedp.Evaluate[bool]("Boolean("+condition+")"))
		return err == nil && holds
	}, limit, 25*time.Millisecond, what)
}

func (b *tab) kept() {
	b.t.Helper()
	b.until("all changes are kept",
		`document.getElementById("status").textContent.trim().replace(/\s+/g, " ") === "All changes kept"`)
}

// signIn gives the tab's browser a session, as the door does.
func (b *tab) signIn() {
	b.t.Helper()
	at, err := url.Parse(b.app.URL)
	require.NoError(b.t, err)
	for _, c := range b.app.client(b.t).signIn().Jar.Cookies(at) {
		_, err := chromedp.Call(
			b.ctx,
			network.SetCookie,
			network.SetCookieParams{Name: c.Name, Value: c.Value, URL: b.app.URL},
		)
		require.NoError(b.t, err)
	}
}

// signInByHand goes through the door.
func (b *tab) signInByHand() {
	b.t.Helper()
	b.open("/studio/sign-in")
	b.fill("[name=email]", email)
	b.fill("[name=password]", password)
	b.click("button")
	b.do(chromedp.WaitVisible(chromedp.CSS("#new-title")))
}

// shot takes a picture of the window, or of the whole page.
func (b *tab) shot(file string, whole bool) {
	b.t.Helper()
	b.do(chromedp.Sleep(200 * time.Millisecond))
	if whole {
		b.run("{" + drawWhole + "}")
		b.drawn()
	}
	take := chromedp.CaptureScreenshot()
	if whole {
		take = chromedp.FullScreenshot(100)
	}
	png := get(b, take)
	require.NoError(b.t, os.WriteFile(file, png, 0o644))
}
