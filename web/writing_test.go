package web_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// labels are the words of a question's answers, from the top.
func (b *tab) labels(question string) []string {
	return read[[]string](b, `[...document.querySelectorAll("`+question+` .answer textarea")].map((f) => f.value)`)
}

// Writing is helped and never overruled: what is typed brings up ready-made answers, a
// series that has been begun is continued, both on purpose only; pasted lines become
// answers, and those without words yet take the first of them.
func TestWritingIsHelped(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio")
	b.fill("#new-title", "Ready for bees?")
	b.click(".newquiz .button")
	b.until("the sheet", `document.readyState === "complete" && !!document.querySelector("#part-q-question_1")`)
	b.click(`[data-act="lay?kind=points"]`)
	b.until("a column", `document.querySelectorAll("#part-head .col").length === 1`)
	question := "#questions > :nth-child(1)"
	b.fill(question+" .q", "What is your budg")
	b.until(
		"answers are offered",
		`document.querySelector("#offer")?.textContent.trim().replace(/\s+/g, " ").includes("Nothing yet, Less than 1,000")`,
	)
	b.axe("Sheet with a suggestion")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.until("not offered any more", `!document.querySelector("#offer")`)
	b.kept()
	assert.Equal(t, []string{"", ""}, b.labels(question), "going on takes nothing")
	b.focus(question + " .q")
	b.until("offered again", `!!document.querySelector("#offer")`)
	b.do(chromedp.KeyEvent(kb.ArrowDown))
	b.do(chromedp.KeyEvent(kb.Enter))
	b.until("taken", `document.querySelectorAll("`+question+` .answer").length === 5`)
	b.kept()
	assert.Equal(t, "What is your budg", b.value(question+" .q"), "the question stays as it was worded")
	assert.Equal(
		t,
		[]string{"Nothing yet", "Less than 1,000", "1,000 to 5,000", "5,000 to 20,000", "More than 20,000"},
		b.labels(question),
	)

	b.click("#add-question [data-act='add?path=/questions']")
	second := "#questions > :nth-child(2)"
	b.until("a second question", `!!document.querySelector("`+second+`")`)
	b.kept()
	b.fill(second+" .q", "Zebra crossings")
	b.fill(second+` [data-path$="answer_1/label"]`, "Not at all")
	b.kept()
	b.focus(second + ` [data-path$="answer_2/label"]`)
	b.until("the series goes on",
		`document.querySelector("#offer button")?.textContent.trim().replace(/\s+/g, " ") === "Hardly"`)
	b.do(chromedp.KeyEvent(kb.ArrowDown))
	b.do(chromedp.KeyEvent(kb.Enter))
	b.until("and on", `document.querySelector("#offer button")?.textContent.trim().replace(/\s+/g, " ") === "Partly"`)
	b.kept()
	assert.Equal(t, []string{"Not at all", "Hardly", ""}, b.labels(second))
	b.do(chromedp.KeyEvent(kb.Escape))
	b.paste("One\t3\nTwo\t5\nThree\n")
	b.until("three answers of three lines", `document.querySelectorAll("`+second+` .answer").length === 5`)
	b.kept()
	assert.Equal(t, []string{"Not at all", "Hardly", "One", "Two", "Three"}, b.labels(second))
	assert.Equal(t, "+5", read[string](b, `[...document.querySelectorAll("`+second+` .cell input")].at(-2).value`))
	b.click("[data-act=undo]")
	b.until("undone at once", `document.querySelectorAll("`+second+` .answer").length === 3`)
	b.kept()
}

// Sections have a head, fold, take questions in and let them go.
func TestSectionsOnTheSheet(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	b.click("#add-question [data-act='add?path=/sections']")
	b.until("two heads", `document.querySelectorAll(".sectionhead").length === 2`)
	b.kept()
	head := `[data-path="/sections/section_2/heading"]`
	b.fill(head, "About your orchard")
	b.kept()
	order := func() []string {
		return read[[]string](
			b,
			`[...document.querySelectorAll("#questions > *")].map((p) => p.id.replace("part-", ""))`,
		)
	}
	assert.Equal(t, "sec-section_2", order()[7])
	b.focus(`[data-path="/questions/decides/label"]`)
	b.do(chromedp.KeyEvent(kb.ArrowDown, chromedp.KeyModifiers(1)))
	b.until("moved over the head", `document.querySelector("#questions").lastElementChild.id === "part-q-decides"`)
	b.kept()
	assert.Equal(
		t,
		"/questions/decides/label",
		read[string](b, `document.activeElement.dataset.path`),
		"the cursor stays",
	)
	b.click(`[data-fold=section_2]`)
	assert.True(t, read[bool](b, `document.querySelector("#part-q-decides").hidden`))
	b.click(`[data-fold=section_2]`)
	b.run(`scrollTo(0, 0)`)
	b.axeOf("#questions", "Sheet with sections")
	b.focus(head)
	b.do(chromedp.KeyEvent(kb.ArrowUp, chromedp.KeyModifiers(1)))
	b.until(
		"the section is the first",
		`document.querySelector("#questions").firstElementChild.id === "part-sec-section_2"`,
	)
	b.kept()
	assert.Equal(t, []string{"sec-section_2", "q-decides", "sec-main", "q-crop"}, order()[:4])
	b.click(`#part-sec-section_2 [data-act=remove]`)
	b.until(
		"its question is in the other",
		`document.querySelectorAll(".sectionhead").length === 0 && !!document.querySelector("#part-q-decides")`,
	)
	b.kept()
}

// All changes are said to be kept only when they are: not while one is being typed, and not
// while a field holds what can't be kept, whatever else is kept meanwhile.
func TestKeptIsSaidOfWhatIs(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	status := func(says string) {
		t.Helper()
		b.until(says, fmt.Sprintf(`document.getElementById("status").textContent.trim() === %q`, says))
	}
	b.fill(`[data-path="/look/ink"]`, "#12")
	status("Typing …") // a colour is sent when it is left
	b.fill(`[data-path="/look/owner"]`, "Quill and Brook")
	status("Not kept")
	b.fill(`[data-path="/look/ink"]`, "#123456")
	b.press(`[data-path="/look/ink"]`, "\t")
	b.kept()
	b.fill(`[data-path="/questions/crop/answers/none/adds/readiness"]`, "many")
	status("Typing …")
	b.press(`[data-path="/questions/crop/answers/none/adds/readiness"]`, "\t")
	status("Not kept")
	b.leave(fmt.Sprintf("/studio/quizzes/%d/release", z.ID))
	b.until("told before a release", `document.querySelector("[x-data=unkept]").checkVisibility()`)
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	status("Not kept")
	assert.Equal(t, "many", b.value(`[data-path="/questions/crop/answers/none/adds/readiness"]`))
	b.fill(`[data-path="/questions/crop/answers/none/adds/readiness"]`, "2")
	b.press(`[data-path="/questions/crop/answers/none/adds/readiness"]`, "\t")
	b.kept()
	now, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	q, err := now.Document()
	require.NoError(t, err)
	assert.Equal(t, "#123456", q.Look.Ink)
	assert.Equal(t, "Quill and Brook", q.Look.Owner)
	assert.Equal(t, "2", q.Questions["crop"].Answers["none"].Adds["readiness"].String())
}
