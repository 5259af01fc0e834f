package web_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// part selects a part of the condition at a path.
func part(path, at, what string) string {
	return fmt.Sprintf(`[data-act^="when?path=%s&at=%s&part=%s"]`, path, at, what)
}

// A condition is made, widened, turned and taken away in place; two answers of one
// question under "all" are offered as "any".
func TestConditionsInPlace(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	path := "/questions/bloom/showWhen"
	sentence := func() string {
		q := a.draft(t, z.ID)
		return q.Sentence(q.Questions["bloom"].ShowWhen)
	}
	b.press(`[data-path="/questions/bloom/label"]`, kb.ArrowRight) // the buttons show
	b.click(part(path, "", "begin"))
	b.kept()
	b.choose(part(path, "all/0", "subject"), "answer crop")
	b.kept()
	b.choose(part(path, "all/0", "value"), "apples")
	b.kept()
	assert.Equal(t, "“What do you grow?” is “Apples or pears”", sentence())
	b.click(part(path, "", "clause"))
	b.kept()
	b.choose(part(path, "all/1", "subject"), "answer crop")
	b.kept()
	b.choose(part(path, "all/1", "value"), "cherries")
	b.kept()
	b.axeOf("#questions", "a condition that never holds")
	b.click(part(path, "", "how") + "[data-act$=any]")
	b.kept()
	assert.Equal(
		t,
		"“What do you grow?” is “Apples or pears” or “What do you grow?” is “Cherries or plums”",
		sentence(),
	)
	b.choose(part(path, "any/1", "subject"), "scale readiness")
	b.kept()
	b.choose(part(path, "any/1", "op"), "between")
	b.kept()
	b.fill(part(path, "any/1", "to"), "12")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.until("between 0 and 12", fmt.Sprintf(`document.querySelector(%q).value === "12"`, part(path, "any/1", "to")))
	assert.Contains(t, sentence(), "is between 0 and 12")
	b.fill(part(path, "any/1", "to"), "a dozen")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.until("words are no number",
		`document.getElementById("notice").textContent.trim().replace(/\s+/g, " ").includes("is not a number")`)
	assert.Contains(t, sentence(), "is between 0 and 12", "nothing was changed")
	b.click(part(path, "", "nest"))
	b.kept()
	b.choose(part(path, "any/2/any/0", "subject"), "visitor country")
	b.kept()
	b.click(part(path, "any/2/any/0", "remove"))
	b.kept()
	b.until("the empty group is gone", fmt.Sprintf(`!document.querySelector(%q)`, part(path, "any/2", "clause")))
	for range 2 {
		b.click(part(path, "any/0", "remove"))
		b.kept()
	}
	assert.Nil(t, a.draft(t, z.ID).Questions["bloom"].ShowWhen)
}

// Where an answer leads is chosen from the list of what comes later, by words or by
// dragging its thread; a budget that is too small parts ways, and nothing is kept.
func TestRoutesAndPartingWays(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("fit", "away")
	m.Scale("points", quiz.Sum)
	m.Ask("first", quiz.Single, "a", "b")
	m.Ask("budget", quiz.Number)
	m.Ask("third", quiz.Single, "c points=1", "d")
	m.Ask("last", quiz.Single, "e", "f")
	m.Bands("points", "away", "1=fit")
	z := a.add(t, string(m.Write()))
	b := a.newTabOf(t, 1280, 1500, true)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	then := func() *quiz.Then { return a.draft(t, z.ID).Questions["first"].Answers["b"].Then }

	b.press(`[data-path="/questions/first/answers/b/label"]`, kb.ArrowRight)
	b.press(`[data-then="/questions/first/answers/b/then"]`, kb.Enter)
	b.until("the list", `document.getElementById("then").open`)
	b.axe("where an answer leads")
	assert.NotContains(t, b.text("#then-list"), "1 · first", "only what comes later")
	b.keys("last", kb.Enter)
	b.kept()
	assert.Equal(t, &quiz.Then{Go: quiz.ToQuestion, To: "last"}, then())
	assert.Contains(t, b.text(`[data-then="/questions/first/answers/b/then"]`), "then on to question 4, “last”")

	// Drag the thread to another question, and upwards, which is no way.
	drag := func(to string) {
		b.run(`scrollTo(0, 0)`)
		at := read[[]float64](
			b,
			fmt.Sprintf(
				`(() => { const c = (e) => { const r = e.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2] };
			return [...c(document.querySelector('[data-loose="/questions/first/answers/b/then"]')), ...c(document.querySelector(%q))] })()`,
				to,
			),
		)
		b.do(chromedp.DragAndDropXY(at[0], at[1], at[2], at[3], 8))
		b.kept()
	}
	drag(`[data-path="/questions/third/label"]`)
	b.until(
		"it leads to the third",
		`document.querySelector('[data-then="/questions/first/answers/b/then"]').textContent.trim().replace(/\s+/g, " ").includes("third")`,
	)
	assert.Equal(t, &quiz.Then{Go: quiz.ToQuestion, To: "third"}, then())
	drag(`[data-path="/questions/first/label"]`)
	assert.Equal(t, &quiz.Then{Go: quiz.ToQuestion, To: "third"}, then())

	// A rule: below 1,000 it parts ways.
	b.press(`[data-path="/questions/budget/label"]`, kb.ArrowRight)
	b.click(`[data-act="add?path=/questions/budget/then"]`)
	b.kept()
	rule := "/questions/budget/then/then_1"
	b.choose(part(rule+"/when", "all/0", "op"), "less than")
	b.kept()
	b.fill(part(rule+"/when", "all/0", "value"), "1000")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.press(fmt.Sprintf(`[data-then=%q]`, rule), kb.Enter)
	b.until("the list", `document.getElementById("then").open`)
	b.run(`[...document.querySelectorAll("#then-list button")].at(-1).click()`) // parting ways with the last outcome
	b.kept()
	b.until(
		"it says that nothing is kept",
		fmt.Sprintf(
			`document.querySelector('[data-then=%q]').textContent.trim().replace(/\s+/g, " ").includes("nothing is kept but a count")`,
			rule,
		),
	)
	require.Equal(t, quiz.Then{Go: quiz.PartWays, To: "away"}, a.draft(t, z.ID).Questions["budget"].Then["then_1"].Then)

	z, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, z)
	c := a.client(t)
	r, _ := c.answer("/q/"+z.Slug, "a")
	_, page := c.answer(r.Header.Get("Location"), "999.99")
	assert.Contains(t, page, "Your answers have not been kept")
	screened, err := a.store.Responses.Screened(t.Context(), z.ID, nil)
	require.NoError(t, err)
	require.Len(t, screened, 1)
	assert.Equal(t, "away", screened[0].Outcome)
	r, _ = c.answer("/q/"+z.Slug, "a")
	r, _ = c.answer(r.Header.Get("Location"), "1000")
	assert.Contains(t, r.Header.Get("Location"), "/third")
}

// A decision table over three questions of two answers is filled in by machine to 8 of
// 8, merged, pasted into and refused what it can't read; steps are moved and switched
// off, ties are settled, and outcomes are made where one is asked for.
func TestDecisionSteps(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("no", "yes")
	m.Scale("points", quiz.Sum)
	for i, k := range []string{"x", "y", "z"} {
		m.Ask(k, quiz.Single, fmt.Sprintf("on points=%d", 1<<i), "off").Required = true
	}
	z := a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	add := func(kind string) {
		b.click(fmt.Sprintf(`[data-act="add?path=/decision/steps&kind=%s"]`, kind))
		b.kept()
	}
	add("table")
	table := "/decision/steps/step_1"
	b.click(fmt.Sprintf(`[data-act="add?path=%s"]`, table+"/rules"))
	b.kept()
	b.fill(`[data-act*="&at=rule_1/x&"]`, "on")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.choose(fmt.Sprintf(`[data-path=%q]`, table+"/rules/rule_1/outcome"), "yes")
	b.kept()
	b.until("half", `document.querySelector(".covered").textContent.trim().replace(/\s+/g, " ").includes("4 of 8 combinations covered")`)
	b.axe("a decision table")
	b.run(`[...document.querySelectorAll("#part-s-step_1 .line2 [data-patch]")].at(0).click()`)
	b.kept()
	b.until("all", `document.querySelector(".covered").textContent.trim().replace(/\s+/g, " ").includes("8 of 8 combinations covered")`)
	b.fill(`[data-act*="&at=rule_1/x&"]`, "perhaps")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.until(
		"it says what is understood",
		`document.querySelector("#part-s-step_1 td .fieldwrong")?.textContent.includes("the answers to “x” are “on”, “off”")`,
	)
	b.click(`#part-s-step_1 [data-path="/decision/steps/step_1/off"]`) // another change of the step
	b.kept()
	assert.Equal(t, "perhaps", b.value(`[data-act*="&at=rule_1/x&"]`), "what can't be read stands there as wrong")
	assert.True(t, read[bool](b, `!!document.querySelector("#part-s-step_1 td .fieldwrong")`))
	b.click(`[data-act=undo]`)
	b.kept()

	b.focus(`[data-act*="&at=rule_1/x&"]`)
	b.paste("on\ton\t\tyes\r\non\toff\tany\tyes\r\noff\t\ton or off\tB\r\n")
	b.kept()
	b.until("three rules", `document.querySelectorAll("#part-s-step_1 tbody tr").length === 3`)
	assert.Equal(
		t,
		"on|on||yes",
		read[string](
			b,
			`[...document.querySelectorAll("#part-s-step_1 tbody tr:first-child :is(input,select)")].map(f => f.value).join("|")`,
		),
	)
	b.click(`[data-act^=alike]`)
	b.kept()
	b.until(
		"merged to one for all",
		`document.querySelectorAll("#part-s-step_1 tbody tr").length === 1 && document.querySelector(".covered").textContent.trim().replace(/\s+/g, " ").includes("8 of 8")`,
	)
	_, csv := a.client(t).signIn().get(fmt.Sprintf("/studio/quizzes/%d/tables/step_1.csv", z.ID))
	assert.Equal(t, "x,y,z,outcome\n,,,yes\n", csv)
	take := func(name, content string) {
		b.run(
			fmt.Sprintf(
				`{ const data = new DataTransfer(); data.items.add(new File([%q], %q)); const field = document.querySelector("[x-data=rulefile]"); field.files = data.files; field.dispatchEvent(new Event("change", {bubbles: true})) }`,
				content,
				name,
			),
		)
	}
	take("rules.csv", "x,outcome\nperhaps,yes\n")
	b.until("a wrong file",
		`document.getElementById("notice").textContent.trim().replace(/\s+/g, " ").includes("Row 1, column")`)
	take("rules.csv", "x,y,outcome\non,,yes\noff,on,no\n")
	b.until(
		"the rules of the file",
		`document.querySelectorAll("#part-s-step_1 tbody tr").length === 2 && document.querySelector(".covered").textContent.trim().replace(/\s+/g, " ").includes("3 of 4")`,
	)
	b.kept()
	b.undoUntil(z.ID, 0)

	// Bands whose cut is placed for the hottest eighth; a new outcome where one is asked for.
	add("bands")
	b.choose(`[data-path="/decision/steps/step_1/lowest"]`, "no")
	b.kept()
	b.choose(`[data-path="/decision/steps/step_1/cuts/cut_1/outcome"]`, "+")
	b.kept()
	b.until("there is a third outcome", `document.querySelectorAll(".outcome").length === 3`)
	assert.Equal(t, "outcome_3", a.draft(t, z.ID).Decision.Steps["step_1"].Cuts["cut_1"].Outcome)
	b.fill(".bands li:last-child [name=aim]", "12.5")
	b.click("[x-data=aims]")
	b.until("it says how near",
		`document.getElementById("notice").textContent.trim().replace(/\s+/g, " ").includes("aimed for")`)
	b.kept()
	assert.Equal(
		t,
		"7",
		a.draft(t, z.ID).Decision.Steps["step_1"].Cuts["cut_1"].At.String(),
		"only 1 + 2 + 4 of eight ways",
	)
	b.fill(".bands li:last-child [name=aim]", "120")
	b.click("[x-data=aims]")
	b.until("what can't be",
		`document.getElementById("notice").textContent.trim().replace(/\s+/g, " ").includes("in percent")`)

	add("rule")
	b.choose(part("/decision/steps/step_2/when", "all/0", "value"), "off")
	b.kept()
	b.choose(`[data-path="/decision/steps/step_2/outcome"]`, "yes")
	b.kept()
	decided := func() map[string]float64 {
		p, err := program.Compile(a.draft(t, z.ID))
		require.NoError(t, err)
		got := map[string]float64{}
		quiztest.Every(p, func(answers []string) { got[quiztest.Walk(t, p, answers...).Outcome]++ })
		return got
	}
	assert.Equal(t, map[string]float64{"no": 7, "outcome_3": 1}, decided())
	b.press(`#part-s-step_2 [data-path="/decision/steps/step_2/outcome"]`, kb.ArrowUp, chromedp.KeyModifiers(1))
	b.kept()
	b.until("moved up", `document.querySelector("#steps > .step").id === "part-s-step_2"`)
	assert.Equal(t, map[string]float64{"yes": 4, "no": 3, "outcome_3": 1}, decided())
	b.click("#part-s-step_2 .stephead input[type=checkbox]")
	b.kept()
	b.until("switched off", `document.querySelector("#part-s-step_2").classList.contains("off")`)
	assert.Equal(t, map[string]float64{"no": 7, "outcome_3": 1}, decided())
}

// undoUntil walks back until the decision has so many steps.
func (b *tab) undoUntil(z uint, steps int) {
	b.t.Helper()
	for range 20 {
		if len(b.app.draft(b.t, z).Decision.Steps) == steps {
			return
		}
		b.click("[data-act=undo]")
		b.kept()
	}
	require.Fail(b.t, "undo does not lead back")
}

// A leader step compares keywords; ties are told and settled as is said.
func TestLeaderOnTheSheet(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("tinkerer", "watcher", "between")
	for i, k := range []string{"tools", "quiet"} {
		m.Scales[k] = &quiz.Scale{Order: float64(i), Name: k, Kind: quiz.Keyword}
	}
	for _, k := range []string{"x", "y"} {
		m.Ask(k, quiz.Single, "build tools=1", "look quiet=1").Required = true
	}
	z := a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	b.click(`[data-act="add?path=/decision/steps&kind=leader"]`)
	b.kept()
	b.choose(`[data-path$="/contenders/tools/outcome"]`, "tinkerer")
	b.kept()
	b.choose(`[data-path$="/contenders/quiet/outcome"]`, "watcher")
	b.kept()
	b.until("half are tied",
		`document.querySelector("#part-s-step_1 .line2").textContent.trim().replace(/\s+/g, " ").includes("50 % are tied")`)
	b.choose(
		`[aria-label="How ties are settled"]`,
		read[string](b, `document.querySelector('[aria-label="How ties are settled"]').options[2].value`),
	)
	b.kept()
	b.choose(`[data-path$="/ties/outcome"]`, "between")
	b.kept()
	b.until(
		"they get what is between",
		`document.querySelector("#part-o-between .bigshare").textContent.trim().replace(/\s+/g, " ").includes("50 %")`,
	)
	assert.Contains(t, b.text("#part-s-step_1"), "An even split would give each 50 %")
	b.axe("a leader step")
}
