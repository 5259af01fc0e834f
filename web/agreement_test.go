package web_test

import (
	"flag"
	"fmt"
	"math/rand/v2"
	"net/http"
	"os"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/store"
)

var agreeFor = flag.Duration(
	"agree",
	0,
	"how long edits are made at random and the page is compared with a fresh load, again and again",
)

// slow answers late, now more and now less, as a server far away does.
func slow(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method != http.MethodGet {
			time.Sleep(time.Duration(rand.IntN(250)) * time.Millisecond)
		}
		next.ServeHTTP(w, r)
	})
}

// shown is everything that the sheet shows of a draft: each field's value, and the words
// of each cell, share, foot and finding.
const shown = `JSON.stringify({
	fields: [...document.querySelectorAll("[data-path]:is(input,textarea,select)")].map((f) => [f.dataset.path, f.type === "checkbox" ? f.checked : f.tagName === "SELECT" ? f.options[f.selectedIndex]?.textContent : f.value, f.closest(".cell")?.className ?? ""]),
	shares: [...document.querySelectorAll(".odds,.stepshare,.bigshare,.footcell,.state,.length,.findings li p")].map((s) => s.textContent.trim()),
})`

// late takes its time with each change.
func late(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method != http.MethodGet {
			time.Sleep(300 * time.Millisecond)
		}
		next.ServeHTTP(w, r)
	})
}

// lateSheet opens the sheet of the orchard on such a server.
func lateSheet(t *testing.T) (*app, *store.Quiz, *tab) {
	t.Helper()
	a := newAppBehind(t, late)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	return a, z, b
}

// meaning takes down what each field was last given by hand, until something is taken back or
// moved; unmeant are the fields that hold something else in the end.
const (
	meaning = `{
		const fields = "[data-path]:is(input,textarea,select)";
		const holds = (f) => f.type === "checkbox" ? f.checked : f.value.replace("−", "-").replace(/^[+]/, "").trim();
		window.meant = new Map();
		for (const type of ["input", "change"]) addEventListener(type, (e) => e.target.matches(fields) && meant.set(e.target.dataset.path, holds(e.target)), true);
		const forget = (e) => { if (e.target.closest?.("[data-act]") || e.ctrlKey) meant.clear(); };
		addEventListener("click", forget, true);
		addEventListener("keydown", forget, true);
		window.trace = [];
		const note = (...what) => trace.push([Math.round(performance.now()), ...what].join(" "));
		for (const type of ["keydown", "click", "input", "change", "focusin"])
			addEventListener(type, (e) => note(type, e.key ?? "", e.target.dataset?.path ?? e.target.dataset?.act ?? e.target.tagName, e.target.value ?? ""), true);
		const asked = window.fetch;
		window.fetch = async (url, options) => {
			note("ask", url, options?.body ?? "");
			const answer = await asked(url, options);
			note("told", url, answer.status, (await answer.clone().text()).slice(0, 200));
			return answer;
		};
		window.unmeant = () => [...meant].flatMap(([path, given]) => {
			const f = document.querySelector(fields + '[data-path="' + CSS.escape(path) + '"]');
			return !f || holds(f) === given ? [] : path + ": " + given + " became " + holds(f);
		});
	}`
	unmeant = `window.unmeant()`
)

// traced is what happened to the fields that were lost, and what was asked and told meanwhile.
func traced(b *tab, lost []string) string {
	if len(lost) == 0 {
		return ""
	}
	return read[string](b, `trace.join("\n")`)
}

// What the sheet shows is what is kept: after edits of every kind, at any speed, with a
// slow server, it is the same as a fresh load shows; and what somebody gave last is what is
// shown. make agree runs it.
func TestTheSheetShowsWhatIsKept(t *testing.T) {
	if *agreeFor == 0 {
		t.Skip("only make agree edits at random")
	}
	a := newAppBehind(t, slow)
	data, err := os.ReadFile("../cmd/omphalos/demo/orchard.json")
	require.NoError(t, err)
	z := a.add(t, string(data))
	b := a.newTab(t)
	b.signIn()
	address := fmt.Sprintf("/studio/quizzes/%d", z.ID)
	seed := uint64(time.Now().UnixNano())
	r := rand.New(rand.NewPCG(seed, 1))
	until := time.Now().Add(*agreeFor)
	for round := 1; round <= 2 || time.Now().Before(until); round++ {
		b.open(address)
		b.run(meaning)
		for range 25 {
			b.editAtRandom(r)
		}
		b.run(`document.activeElement.blur()`)
		b.until("all is kept",
			`document.getElementById("status").textContent.trim().replace(/\s+/g, " ") === "All changes kept"`)
		b.do(chromedp.Sleep(100 * time.Millisecond))
		b.kept()
		lost := read[[]string](b, unmeant)
		require.Empty(t, lost, "round %d of seed %d, after\n%s", round, seed, traced(b, lost))
		mine := read[string](b, shown)
		b.open(address)
		require.JSONEq(t, read[string](b, shown), mine, "round %d of seed %d", round, seed)
	}
}

// editAtRandom types, chooses, ticks, adds, moves or takes back something, and waits a
// little or not at all.
func (b *tab) editAtRandom(r *rand.Rand) {
	b.t.Helper()
	pick := func(selector string) string {
		n := read[int](
			b,
			fmt.Sprintf(
				`[...document.querySelectorAll(%q)].filter((f) => f.offsetParent && !f.disabled).length`,
				selector,
			),
		)
		if n == 0 {
			return ""
		}
		b.run(
			fmt.Sprintf(
				`{ const f = [...document.querySelectorAll(%q)].filter((f) => f.offsetParent && !f.disabled)[%d]; f.scrollIntoView({block: "center"}); f.focus(); f.select?.(); }`,
				selector,
				r.IntN(n),
			),
		)
		return selector
	}
	switch r.IntN(9) {
	case 0, 1, 2, 3: // cells, one after the other
		if pick(".cell input[data-type=number]") == "" {
			return
		}
		for range 1 + r.IntN(3) {
			b.keys(fmt.Sprint(r.IntN(19)-9), []string{kb.Enter, kb.Tab, kb.ArrowDown}[r.IntN(3)])
		}
	case 4:
		if pick("textarea[data-path]") != "" {
			b.keys(fmt.Sprintf("word %d", r.IntN(100)), kb.Tab)
		}
	case 5:
		b.run(
			fmt.Sprintf(
				`{ const all = [...document.querySelectorAll("select[data-path]")].filter((f) => f.offsetParent), s = all[%d %% all.length];
			const o = [...s.options].filter((o) => o.value !== "+" && o.value !== ""); if (o.length) { s.focus(); s.value = o[%d %% o.length].value; s.dispatchEvent(new Event("change", {bubbles: true})); } }`,
				r.IntN(1000),
				r.IntN(1000),
			),
		)
	case 6:
		b.run(
			fmt.Sprintf(
				`{ const all = [...document.querySelectorAll("input[type=checkbox][data-path]")].filter((f) => f.offsetParent); const one = all[%d %% all.length]; one?.focus(); one?.click(); %s }`,
				r.IntN(1000),
				[]string{"", "one?.click();"}[r.IntN(2)],
			),
		)
	case 7:
		b.run(
			fmt.Sprintf(
				`{ const all = [...document.querySelectorAll(".answer [data-act=up],.answer [data-act=down]")].filter((f) => !f.disabled); all[%d %% all.length]?.click(); }`,
				r.IntN(1000),
			),
		)
	case 8:
		if r.IntN(2) == 0 {
			b.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2)))
			break
		}
		b.run(`document.querySelector("[data-act=` + []string{"undo", "redo"}[r.IntN(2)] + `]").click()`)
	}
	if r.IntN(3) == 0 {
		b.do(chromedp.Sleep(time.Duration(r.IntN(400)) * time.Millisecond))
	}
}

// A cell that is reached by mouse is taken whole; a second click sets the caret. The
// control that was used keeps the focus. What is typed as the page goes is not lost, and
// a change and its undoing are no change.
func TestNothingTypedIsLost(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	address := fmt.Sprintf("/studio/quizzes/%d", z.ID)
	b.open(address)
	cell := `[data-path="/questions/crop/answers/apples/adds/readiness"]`
	was := b.value(cell)
	b.click(cell)
	b.keys("5")
	assert.Equal(t, "5", b.value(cell), "instead of what was there")
	b.keys(kb.Enter)
	b.until("shown as it is kept", fmt.Sprintf(`document.querySelector(%q).value === "+5"`, cell))
	b.kept()
	b.click("[data-act=undo]")
	b.until("undone", fmt.Sprintf(`document.querySelector(%q).value === %q`, cell, was))
	b.kept()
	last := `[data-path="/questions/decides/answers/other/adds/readiness"]`
	b.click(last)
	for _, key := range []string{kb.Enter, kb.Tab} { // at the second 5 the browser speaks of no change
		b.keys("5", key)
		b.until("shown as it is kept", fmt.Sprintf(`document.querySelector(%q).value === "+5"`, last))
		b.kept()
	}
	b.click(cell)
	b.click(cell)
	assert.Equal(
		t,
		read[int](b, `document.activeElement.selectionStart`),
		read[int](b, `document.activeElement.selectionEnd`),
		"a caret",
	)

	kind := `[data-act^="turn?path=/questions/crop&"]`
	b.run(`document.querySelector('` + kind + `').focus()`)
	b.keys(kb.ArrowDown)
	b.do(chromedp.Sleep(time.Second))
	b.kept()
	assert.True(t, read[bool](b, `document.activeElement.matches('`+kind+`')`), "the kind keeps the focus")
	b.keys(kb.ArrowUp)
	b.do(chromedp.Sleep(time.Second))
	b.kept()
	assert.Equal(t, "single", b.value(kind))

	title := `[data-path="/questions/crop/label"]`
	b.fill(title, "What grows there?")
	b.open(address) // before the pause after the last key is over
	b.until("taken up again", fmt.Sprintf(`document.querySelector(%q).value === "What grows there?"`, title))
	b.kept()
	kept, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Contains(t, kept.Draft, "What grows there?")

	a.release(t, kept)
	b.open(address)
	b.click(cell)
	b.keys("7", kb.Tab)
	b.until("kept", fmt.Sprintf(`document.querySelector(%q).value === "+7"`, cell))
	b.kept()
	assert.Contains(t, b.text("header"), "1 change since release")
	b.click("[data-act=undo]")
	b.until("no change",
		`document.querySelector("header").textContent.trim().replace(/\s+/g, " ").includes("As in release")`)
}

// What has the focus, or was pressed again before the server had answered, shows what is kept in
// the end, and what was pressed last is.
func TestWhatWasDoneLastIsKept(t *testing.T) {
	t.Parallel()
	a, z, b := lateSheet(t)
	const box, list, text = `[data-path="/settings/results/share"]`, `[data-path="/look/corners"]`, `[data-path="/opening/heading"]`
	shares := func() bool {
		s := a.draft(t, z.ID).Settings
		return s != nil && s.Results != nil && s.Results.Share
	}
	agree := func(want bool, when string) {
		b.kept()
		assert.Equal(t, want, shares(), when)
		assert.Equal(t, want, read[bool](b, `document.querySelector('`+box+`').checked`), when)
	}
	b.click(box)
	agree(true, "ticked")
	b.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2)))
	agree(false, "and taken back by a key, in the box")
	b.click(box)
	b.click(box)
	agree(false, "pressed twice")
	b.click(box)
	agree(true, "ticked again")
	b.click("[data-act=undo]")
	b.click(box)
	agree(false, "taken back, and pressed before that is known")

	was := b.value(list)
	b.focus(list)
	b.choose(list, "round")
	b.kept()
	b.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2)))
	b.kept()
	assert.Equal(t, was, b.value(list), "a list is taken back by a key, too")
	assert.Empty(t, a.draft(t, z.ID).Look.Corners)

	said := b.value(text)
	b.focus(text)
	b.keys(kb.End, "!")
	b.until("it is under way", `document.getElementById("status").textContent.includes("Keeping")`)
	b.keys(kb.Backspace)
	b.kept()
	assert.Equal(t, said, b.value(text), "what is typed away again is gone")
	assert.Equal(t, said, a.draft(t, z.ID).Opening.Heading)
}

// What is done while the server takes its time is done in its order: what is typed after something
// was taken back is not taken back.
func TestUndoKeepsItsTurn(t *testing.T) {
	t.Parallel()
	answering := make(chan struct{})
	answer := sync.OnceFunc(func() { close(answering) })
	var undone atomic.Int32
	a := newAppBehind(t, func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if r.Method == http.MethodPatch {
				<-answering
			}
			if strings.HasSuffix(r.URL.Path, "/undo") {
				undone.Add(1)
			}
			next.ServeHTTP(w, r)
		})
	})
	t.Cleanup(answer)
	z := a.orchard(t)
	a.edit(t, z.ID, `[{"op":"add","path":"/opening/heading","value":"Bees?"}]`) // something to take back
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	const cell = `[data-path="/questions/crop/answers/apples/adds/readiness"]`
	b.click(`[data-path="/settings/results/share"]`) // is under way, while the others wait
	b.fill(cell, "5")
	b.keys(kb.Enter)
	b.click("[data-act=undo]")
	b.fill(cell, "7")
	b.keys(kb.Enter)
	answer()
	b.kept()
	assert.EqualValues(t, 1, undone.Load())
	assert.Equal(t, "+7", b.value(cell))
	assert.Equal(t, "7", a.draft(t, z.ID).Questions["crop"].Answers["apples"].Adds["readiness"].String())
}

// A double click does once what a click does: a condition more does not go, a second quiz is not
// made.
func TestADoubleClickDoesItOnce(t *testing.T) {
	t.Parallel()
	var made atomic.Int32
	a := newAppBehind(t, func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			switch {
			case r.Method == http.MethodPost && r.URL.Path == "/studio/quizzes":
				made.Add(1)
			case made.Load() > 0: // the quiz is there, and its sheet not yet
				time.Sleep(300 * time.Millisecond)
			}
			next.ServeHTTP(w, r)
		})
	})
	z := a.orchard(t)
	a.edit(t, z.ID, `[{"op":"add","path":"/questions/decides/showWhen","value":{"all":[
		{"answer":"crop","op":"is","value":"apples"},
		{"answer":"bloom","op":"is","value":"april"},
		{"answer":"hives","op":"is","value":"none"}]}}]`)
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	b.clickAfterClick(`[data-act="when?path=/questions/decides/showWhen&at=all/0&part=remove"]`, b.kept)
	b.kept()
	assert.Len(t, a.draft(t, z.ID).Questions["decides"].ShowWhen.All, 2)

	b.open("/studio")
	b.focus(`input[name=title]`)
	b.keys("Only one")
	b.clickAfterClick(`form[action="/studio/quizzes"] button`, func() { time.Sleep(100 * time.Millisecond) })
	b.until("its sheet", `document.getElementById("desk")`)
	assert.EqualValues(t, 1, made.Load())
}

// Keys that set a share or a cut go on from where they have come to, while the server answers to
// those before.
func TestKeysGoOnWhileTheServerAnswers(t *testing.T) {
	_, _, b := lateSheet(t)
	const bar, handle = `[data-expect="/questions/crop/expect/apples"]`, `.ruler .handle`
	at := func(selector string) int {
		return read[int](b, fmt.Sprintf(`Number(document.querySelector(%q).getAttribute("aria-valuenow"))`, selector))
	}
	b.focus(bar)
	was := at(bar)
	for range 5 {
		b.keys(kb.ArrowRight)
		b.do(chromedp.Sleep(120 * time.Millisecond))
	}
	b.kept()
	assert.Equal(t, was+25, at(bar))

	cut := at(handle)
	b.fill(`[data-path="/questions/crop/answers/apples/adds/readiness"]`, "3") // changes what the ruler shows
	b.keys(kb.Enter)
	b.focus(handle)
	for range 3 {
		b.keys(kb.ArrowRight)
		b.do(chromedp.Sleep(120 * time.Millisecond))
	}
	b.do(chromedp.Sleep(300 * time.Millisecond)) // until the last key counts
	b.kept()
	assert.Equal(t, cut+3, at(handle))
}
