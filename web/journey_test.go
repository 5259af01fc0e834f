package web_test

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/store"
)

// A marketer makes a quiz from nothing, weighs it, sets its cuts, gives it
// landings, releases it; a respondent takes it on a phone; the response is read
// with its explanation. The figures are common practice, no source: answers
// worth 1 or 10 and 2 or 15, a cut at 16.
func TestFromAnEmptyQuizToAResponse(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.open("/studio")
	assert.Contains(t, b.address(), "/studio/sign-in", "nobody gets in without signing in")
	b.axe("sign-in")
	b.fill("[name=email]", email)
	b.fill("[name=password]", "not the password")
	b.click("button")
	b.until("the wrong password is told",
		`document.querySelector(".wrong")?.textContent.trim().replace(/\s+/g, " ").includes("wrong")`)
	b.signInByHand()
	b.until(
		"an empty list teaches the next step",
		`document.querySelector(".empty")?.textContent.trim().replace(/\s+/g, " ").includes("Type a title")`,
	)
	b.axe("Quizzes, empty")

	b.fill("#new-title", "Ready for two hives?")
	b.do(chromedp.KeyEvent(kb.Enter))
	b.do(chromedp.WaitVisible(chromedp.CSS("#desk")))
	b.axe("Sheet, new")

	// Write: the question, its answers by Enter, a second question.
	b.click(`[data-act="lay?kind=points"]`)
	b.until("a column", `document.querySelectorAll("#part-head .col").length === 1`)
	b.fill(`[data-path="/questions/question_1/label"]`, "How much land?")
	b.do(chromedp.KeyEvent(kb.Enter))
	b.do(chromedp.KeyEvent("A garden"))
	b.fill(`[data-path="/questions/land/answers/answer_2/label"]`, "A farm")
	b.click(`#add-question button`)
	b.until(
		"the new question has the keyboard",
		`document.activeElement.dataset.path === "/questions/question_2/label"`,
	)
	b.do(chromedp.KeyEvent("When do you start?" + kb.Enter))
	b.do(chromedp.KeyEvent("Later"))
	b.fill(`[data-path="/questions/start/answers/answer_2/label"]`, "Now")
	b.kept()

	// Weigh: down the ledger by Enter.
	b.press(`[data-path="/questions/land/answers/answer_1/adds/points"]`, "1\r")
	b.do(chromedp.KeyEvent("10\r"))
	b.do(chromedp.KeyEvent("2\r"))
	b.do(chromedp.KeyEvent("15\r"))
	b.kept()
	b.until(
		"the feet are true",
		`[...document.querySelectorAll(".footcell")].map(c => c.textContent).join() === "3,25,14.0"`,
	)

	// The cut: typed, then dragged away and put back by the arrow keys.
	b.fill(`.cut`, "16")
	b.do(chromedp.KeyEvent(kb.Enter))
	b.kept()
	b.until("the cut stands at 16", `document.querySelector(".handle").getAttribute("aria-valuenow") === "16"`)
	b.until("half get it",
		`document.querySelectorAll(".bands .odds span")[1].textContent.trim().replace(/\s+/g, " ") === "50 %"`)
	dragCut(b, 4)
	b.kept()
	moved := read[int](b, `Number(document.querySelector(".handle").getAttribute("aria-valuenow"))`)
	assert.Greater(t, moved, 16)
	for at := moved; at > 16; at-- {
		b.press(".handle", kb.ArrowLeft)
	}
	b.until("the arrows brought the cut back", `document.querySelector(".cut").value === "16"`)
	b.kept()

	// Landings: a bad address is refused with a sentence, and stays as it was typed.
	b.do(chromedp.SetValue(chromedp.CSS(`[data-path="/outcomes/good_fit/landings/page/kind"]`), "redirect"))
	b.run(
		`document.querySelector('[data-path="/outcomes/good_fit/landings/page/kind"]').dispatchEvent(new Event("change", {bubbles: true}))`,
	)
	address := `[data-path="/outcomes/good_fit/landings/page/address"]`
	b.do(chromedp.WaitVisible(chromedp.CSS(address)))
	b.fill(address, "javascript:alert(1)")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.until(
		"the address is refused",
		`document.querySelector(".fieldwrong")?.textContent.trim().replace(/\s+/g, " ").includes("must start with https://")`,
	)
	assert.Equal(t, "javascript:alert(1)", b.value(address))
	b.fill(address, a.standIns+"/standin/booking{?land,points}")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.until("the sentence is gone", `!document.querySelector(".fieldwrong")`)

	b.fill(`[data-path="/outcomes/not_now/headline"]`, "Not just now")
	b.click(`#part-o-not_now [data-act$="kind=action"]`)
	b.do(chromedp.WaitVisible(chromedp.CSS(`#part-o-not_now .blockpart`)))
	b.fill(`#part-o-not_now .blockpart [data-path$="/label"]`, "Read on")
	b.fill(`#part-o-not_now .blockpart [data-path$="/address"]`, "https://quillbrook.example/read?land={land}")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.until("nothing is left to finish",
		`document.querySelector(".findlink").textContent.trim().replace(/\s+/g, " ") === "No findings"`)
	b.axe("Sheet, finished")

	// Undo and redo, across a reload.
	b.open(b.address())
	b.click(`[data-act=undo]`)
	b.until("the address is undone", `document.querySelector('#part-o-not_now [data-path$="/address"]').value === ""`)
	b.click(`[data-act=redo]`)
	b.until(
		"the address is back",
		`document.querySelector('#part-o-not_now [data-path$="/address"]').value.startsWith("https://quillbrook.example")`,
	)
	b.kept()

	// Release.
	b.click(`#part-bar .button`)
	b.do(chromedp.WaitVisible(chromedp.CSS("form .button")))
	b.axe("Release")
	b.click(`main form .button`)
	b.until("the release is public",
		`document.querySelector(".flash")?.textContent.trim().replace(/\s+/g, " ").includes("Release 1 is public")`)

	respondOnAPhone(t, a)

	// The response and why it came out so.
	b.open("/studio/quizzes/1/learn")
	b.axe("Responses")
	assert.Contains(t, b.text("tbody"), "No. 2")
	b.click("tbody tr:last-child a")
	b.do(chromedp.WaitVisible(chromedp.CSS(".verdict")))
	b.axe("Response")
	page := b.text("main")
	assert.Contains(t, page, "Good fit")
	assert.Contains(t, page, "A garden Points +1")
	assert.Contains(t, page, "Now Points +15")
	assert.Contains(t, page, "Points of 16 lies in the band from 16, so it is “Good fit”.")

	b.open("/studio")
	b.until("the list counts them",
		`document.querySelector("tbody").textContent.trim().replace(/\s+/g, " ").includes("50 %")`)
	b.axe("Quizzes")
	b.click(`[aria-label="Rename Ready for two hives?"]`)
	b.until(
		"the title can be typed",
		`document.activeElement.name === "title" && document.activeElement.value === "Ready for two hives?"`,
	)
	b.do(chromedp.KeyEvent("Ready for three?" + kb.Enter))
	b.until("it is renamed",
		`document.querySelector("tbody a").textContent.trim().replace(/\s+/g, " ") === "Ready for three?"`)
	b.click(`[aria-label="Delete Ready for three?"]`)
	b.until(
		"it is gone, and can be brought back",
		`!document.querySelector("tbody") && document.querySelector(".flash button").textContent.trim().replace(/\s+/g, " ") === "Undo"`,
	)
	b.click(".flash button")
	b.until("it is back",
		`document.querySelector("tbody a")?.textContent.trim().replace(/\s+/g, " ") === "Ready for three?"`)
	b.click(`[aria-label^="Sign out"]`)
	b.until("signed out", `location.pathname === "/studio/sign-in"`)
}

// dragCut drags the first cut by a number of scores with the mouse.
func dragCut(b *tab, by float64) {
	b.t.Helper()
	b.run(`document.querySelector(".ruler").scrollIntoView({block: "center"})`)
	at := read[[]float64](
		b,
		`(() => { const r = document.querySelector(".handle .gem").getBoundingClientRect(), ruler = document.querySelector(".ruler");
		return [r.x + r.width / 2, r.y + r.height / 2, Number(ruler.dataset.per) * ruler.getBoundingClientRect().width / 720]; })()`,
	)
	b.do(chromedp.DragAndDropXY(at[0], at[1], at[0]+by*at[2], at[1], 5))
}

// respondOnAPhone takes the quiz twice: 1 + 15 is sent to the booking stand-in,
// 10 + 2 gets the page.
func respondOnAPhone(t *testing.T, a *app) {
	t.Helper()
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/ready-for-two-hives")
	p.axe("opening")
	p.click(".button")
	p.do(chromedp.WaitVisible(chromedp.CSS("[data-question]")))
	p.axe("question")
	p.click("[name=go][value=on]")
	p.until("a required answer is asked for",
		`document.querySelector(".wrong")?.textContent.trim().replace(/\s+/g, " ").includes("needed")`)
	p.axe("question, not answered")
	p.press("[type=radio]", "1")
	p.click("[name=go][value=on]")
	p.until("the second question",
		`document.querySelector("h1").textContent.trim().replace(/\s+/g, " ").includes("When do you start?")`)
	p.click("[name=go][value=back]")
	p.until(
		"the first answer is still chosen",
		`document.querySelector("[value=answer_1]")?.checked && document.querySelector("h1").textContent.trim().replace(/\s+/g, " ").includes("How much land")`,
	)
	p.click("[name=go][value=on]")
	p.until("the second question again",
		`document.querySelector("h1").textContent.trim().replace(/\s+/g, " ").includes("When do you start?")`)
	p.tap("[value=answer_2]")
	p.until("the booking page", `location.pathname === "/standin/booking"`)
	assert.Equal(t, a.standIns+"/standin/booking?land=answer_1&points=16", p.address())
	p.axe("booking stand-in")

	p.open("/q/ready-for-two-hives")
	p.click(".button")
	p.do(chromedp.WaitVisible(chromedp.CSS("[data-question]")))
	p.tap("[value=answer_2]")
	p.until("the second question",
		`document.querySelector("h1").textContent.trim().replace(/\s+/g, " ").includes("When do you start?")`)
	p.tap("[value=answer_1]")
	p.until("the page", `document.querySelector("h1").textContent.trim().replace(/\s+/g, " ") === "Not just now"`)
	p.axe("result")
	assert.Equal(
		t,
		"https://quillbrook.example/read?land=answer_2",
		read[string](p, `document.querySelector("a.button").href`),
	)
	p.do(chromedp.Reload())
	require.Equal(t, "Not just now", p.text("h1"))
}

// Without scripts the whole way works by forms alone.
func TestARespondentWithoutScripts(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.release(t, a.orchard(t))
	p := a.newTabOf(t, 1280, 800, false)
	p.open("/q/is-your-orchard-ready-for-hired-bees")
	p.click(".button")
	for _, answer := range []string{"cherries", "middle", "later", "enough", "little", "us"} {
		p.click("[value=" + answer + "]")
		p.click("[name=go][value=on]")
	}
	p.do(chromedp.WaitVisible(chromedp.CSS(".score")))
	assert.Equal(t, "Plan it with us", p.text("h1"))
	assert.Equal(t, "14 of 29", read[string](p, `document.querySelector(".score text").textContent`))
	assert.Contains(t, p.text(".actions"), "Get the planning guide")
	list, err := a.store.Responses.List(t.Context(), 1, store.Page{}, 10)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "plan", list[0].Outcome)
}
