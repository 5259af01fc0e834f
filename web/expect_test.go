package web_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is expected is set by dragging a bar or with the arrow keys, the others share
// the rest, and the odds follow; with responses, what was observed can be seen instead.
func TestExpectations(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	c := a.client(t)
	// One hard half of them, one soft: taken one by one, their answers would make a middle.
	for _, answers := range [][]string{{"apples", "large", "soon", "some", "ample", "me"},
		{"none", "small", "not_now", "enough", "nothing", "other"}} {
		for range 2 {
			at := c.walk(answers[:5]...)
			c.answer(at, answers[5])
		}
	}
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	bar := func(question, answer string) string {
		return fmt.Sprintf(`[data-expect="/questions/%s/expect/%s"]`, question, answer)
	}
	before := b.text("#part-o-walk .bigshare")
	b.run(fmt.Sprintf(`document.querySelector(%q).scrollIntoView({block: "center"})`, bar("budget", "ample")))
	at := read[[]float64](
		b,
		fmt.Sprintf(
			`(() => { const r = document.querySelector(%q).getBoundingClientRect(); return [r.x + 10, r.y + r.height / 2] })()`,
			bar("budget", "ample"),
		),
	)
	b.do(chromedp.DragAndDropXY(at[0], at[1], at[0]+66, at[1], 5))
	b.kept()
	b.until(
		"80 % have an ample budget",
		fmt.Sprintf(`document.querySelector(%q).textContent.trim().replace(/\s+/g, " ").includes("80 %%")`,
			bar("budget", "ample")),
	)
	assert.Contains(t, b.text(bar("budget", "little")), "7 %", "the others share the rest")
	assert.NotEqual(t, before, b.text("#part-o-walk .bigshare"))
	b.run(`scrollTo(0, 0)`)
	b.axe("Sheet with expectations")

	b.focus(bar("budget", "ample"))
	b.do(chromedp.KeyEvent(kb.ArrowLeft))
	b.until("75 %", fmt.Sprintf(
		`document.querySelector(%q).textContent.trim().replace(/\s+/g, " ").includes("75 %%")`, bar("budget", "ample")))
	b.kept()
	b.focus(bar("budget", "ample"))
	b.do(chromedp.KeyEvent(kb.Delete))
	b.until(
		"left open again",
		fmt.Sprintf(`document.querySelector(%q).textContent.trim().replace(/\s+/g, " ").includes("25 %%")`,
			bar("budget", "ample")),
	)
	b.kept()
	assert.Equal(t, before, b.text("#part-o-walk .bigshare"))

	b.choose("[aria-label='Which odds are shown']", "?odds=observed")
	b.until(
		"what was observed",
		`document.readyState === "complete" && document.querySelector("#part-o-walk .bigshare")?.textContent.trim().replace(/\s+/g, " ") === "50 %"`,
	)
	assert.Contains(t, b.text(`#part-q-crop [data-item="/questions/crop/answers/apples"]`), "50 %")
	assert.Equal(
		t,
		[]string{"50 %", "0 %", "50 %"},
		[]string{
			b.text("#part-o-walk .bigshare"),
			b.text("#part-o-plan .bigshare"),
			b.text("#part-o-not_yet .bigshare"),
		},
	)
	assert.Contains(t, b.text("#part-decision"), "Counted from 4 responses")
	assert.Contains(t, b.text("#part-foot"), "observed")
	b.axeOf("#questions", "Sheet with what was observed")
	b.open(fmt.Sprintf("/studio/quizzes/%d/map", z.ID))
	assert.Contains(t, b.text("main"), "Observed in 4 responses")
	assert.Contains(
		t,
		read[string](b, `document.querySelector(".mapbox svg").textContent`),
		"50 % go from the decision",
	)
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))

	// One goes and another comes: as many as before, and not the same.
	require.NoError(t, a.store.Responses.DeleteResponse(t.Context(), z.ID, 4, 1))
	c.answer(c.walk("apples", "large", "soon", "some", "ample"), "me")
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	assert.Equal(t, "75 %", b.text("#part-o-walk .bigshare"))
	b.choose("[aria-label='Which odds are shown']", "?odds=expected")
	b.until(
		"what is expected",
		fmt.Sprintf(`document.querySelector("#part-o-walk .bigshare")?.textContent.trim().replace(/\s+/g, " ") === %q`, before),
	)
}
