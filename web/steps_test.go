package web_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// A counted tab counts what a person does: a press, a choice, a field that is written.
type counted struct {
	*tab
	steps int
}

func (c *counted) press(selector string)         { c.steps++; c.click(selector) }
func (c *counted) pick(selector, value string)   { c.steps++; c.choose(selector, value); c.kept() }
func (c *counted) write(selector, words string)  { c.steps++; c.fill(selector, words) }
func (c *counted) pasted(selector, words string) { c.steps++; c.focus(selector); c.tab.paste(words) }

// What is done again and again takes few steps; whoever adds one here says why.
func TestCountedSteps(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()

	t.Run("six answers against three outcomes", func(t *testing.T) {
		m := quiztest.New("garden", "farm", "roof")
		m.Ask("place", quiz.Single, "a", "b", "c", "d", "e", "f")
		z := a.add(t, string(m.Write()))
		c := counted{tab: b}
		b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
		c.press(`#deciding [data-act="lay?kind=closeness"]`)
		b.until("a column for each outcome", `document.querySelectorAll("#part-head .col").length === 3`)
		b.kept()
		c.pasted(`[data-path^="/questions/place/answers/a/adds/"]`, strings.Repeat("3\t-1\t2\n", 6))
		b.kept()
		b.until("all are weighed",
			`[...document.querySelectorAll('[data-path^="/questions/place/answers/"][data-path*="/adds/"]')].filter((f) => f.value).length === 18`)
		assert.Len(t, a.draft(t, z.ID).Decision.Steps, 1)
		assert.Equal(t, 2, c.steps)
	})

	t.Run("three offers to a released quiz", func(t *testing.T) {
		c := counted{tab: b}
		b.open("/studio")
		c.press(`[href="/studio/new/offers"]`)
		b.until("the starter", `document.querySelector("#lines")`)
		c.write("#title", "How much help do you want?")
		c.write("#lines", "A guide: those who read\nA day together: those who learn by doing\nEverything "+
			"done: those without time")
		c.press(".starterform .button")
		b.until("the sheet", `document.readyState === "complete" && !!document.querySelector("#part-q-like_you")`)
		c.press(".topbar .right .button")
		b.until("the room of releases", `document.readyState === "complete" && !!document.querySelector("#make")`)
		boxes := read[int](b, `document.querySelectorAll("#make [name=tick]").length`)
		for i := range boxes { // each says that an address is a sample's
			c.steps++
			b.run(fmt.Sprintf(`document.querySelectorAll("#make [name=tick]")[%d].click()`, i))
		}
		c.press("#make .button")
		b.until("it is public",
			`document.readyState === "complete" && document.body.textContent.includes("Release 1 is public")`)
		list, err := a.store.Definitions.Quizzes(t.Context())
		require.NoError(t, err)
		released := 0
		for _, z := range list {
			released += z.Released
		}
		assert.Equal(t, 1, released)
		assert.Equal(t, 6+boxes, c.steps)
		assert.LessOrEqual(t, boxes, 3)
	})

	t.Run("a condition on two answers", func(t *testing.T) {
		m := quiztest.New("any")
		m.Ask("crop", quiz.Single, "apples", "pears")
		m.Ask("size", quiz.Single, "small", "large")
		m.Ask("hives", quiz.Number)
		z := a.add(t, string(m.Write()))
		c := counted{tab: b}
		b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
		path := "/questions/hives/showWhen"
		b.focus(`[data-path="/questions/hives/label"]`)
		c.press(part(path, "", "begin"))
		b.kept()
		c.pick(part(path, "all/0", "subject"), "answer crop")
		c.pick(part(path, "all/0", "value"), "pears")
		c.press(part(path, "", "clause"))
		b.kept()
		c.pick(part(path, "all/1", "subject"), "answer size")
		c.pick(part(path, "all/1", "value"), "large")
		q := a.draft(t, z.ID)
		assert.Equal(t, "“crop” is “pears” and “size” is “large”", q.Sentence(q.Questions["hives"].ShowWhen))
		assert.Equal(t, 6, c.steps)
	})
}
