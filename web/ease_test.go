package web_test

import (
	"fmt"
	"html/template"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/core/starter"
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
