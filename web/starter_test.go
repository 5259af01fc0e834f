package web_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A quiz is laid out from offers: what is missing is said and nothing typed is lost;
// the sheet that opens is balanced, and only asks for one's own words.
func TestStartingFromOffers(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio")
	b.axe("Quizzes, none yet")
	b.click(`[href="/studio/new/offers"]`)
	b.until("the starter", `document.querySelector("h1")?.textContent.trim().replace(/\s+/g, " ") === "From your offers"`)
	b.axe("Starter")
	b.fill("#title", "How much help do you want?")
	b.fill("#lines", "A guide: those who read")
	b.click(".starterform .button")
	b.until(
		"what is missing",
		`document.querySelector("#wrong")?.textContent.trim().replace(/\s+/g, " ").includes("needs other lines: give 2 to 8, one a line")`,
	)
	assert.Equal(t, "A guide: those who read", b.value("#lines"))
	assert.Equal(t, "How much help do you want?", b.value("#title"))
	b.fill(
		"#lines",
		"A guide: those who read\nA day together: those who learn by doing\nEverything done: those without time",
	)
	b.click(".starterform .button")
	b.until("the sheet", `document.readyState === "complete" && !!document.querySelector("#part-q-like_you")`)
	assert.Equal(t, "3 findings", b.text(".findlink"), "the addresses are still a sample's")
	assert.Equal(t, 3, read[int](b, `document.querySelectorAll(".outcome").length`))
	shares := read[[]string](b, `[...document.querySelectorAll(".bigshare")].map((s) => s.textContent)`)
	assert.Equal(t, []string{"36 %", "28 %", "36 %"}, shares, "balanced")
	for _, key := range []string{"keywords", "gate", "finder"} {
		b.open("/studio/new/" + key)
		b.fill("#title", "Another")
		if read[bool](b, `!!document.querySelector("#lines")`) {
			b.run(`document.querySelector("#lines").value = document.querySelector("#lines").placeholder`)
		}
		b.click(".starterform .button")
		b.until("the sheet of "+key, `!!document.querySelector(".outcome")`)
		assert.False(t, read[bool](b, `!!document.querySelector(".level.error")`), key)
	}
}
