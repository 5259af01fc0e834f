package web_test

import (
	"encoding/xml"
	"os"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The map shows every place with the share that comes to it, leads to the sheet, is made
// larger, folded and downloaded.
func TestMap(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	data, err := os.ReadFile("../cmd/omphalos/demo/finder.json")
	require.NoError(t, err)
	a.add(t, string(data))
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	b.click(`a[href$="/map"]`)
	b.do(chromedp.WaitVisible(chromedp.CSS("svg.map")))
	b.axe("Map")
	assert.Equal(t, 14.0, read[float64](b, `document.querySelector("svg.map rect").getBoundingClientRect().height`),
		"as it is drawn: no style of the page makes it higher")
	folded := read[int](b, `document.querySelectorAll("svg.map a").length`)
	assert.Less(t, folded, 13, "a stretch that nobody leaves is one place")
	b.click(`a[href="?all=1"]`)
	b.until("every question", `document.querySelector('a[href="?"]')`)
	assert.Equal(
		t,
		13,
		read[int](b, `document.querySelectorAll("svg.map a").length`),
		"the opening, six questions, the decision, five outcomes",
	)
	assert.Contains(
		t,
		read[string](b, `document.querySelector("svg.map").textContent`),
		"go from “What may it cost, all in all?” to Later, parting ways",
	)
	wide := read[float64](b, `document.querySelector("svg.map").getBoundingClientRect().width`)
	b.click(`.mapped button`)
	assert.InDelta(t, 1.25*wide, read[float64](b, `document.querySelector("svg.map").getBoundingClientRect().width`), 1)
	b.run(
		`document.querySelector('svg.map a[href$="#part-q-lifting"]').dispatchEvent(new MouseEvent("click", {bubbles: true, cancelable: true}))`,
	)
	b.until("the place on the sheet", `location.hash === "#part-q-lifting" && document.getElementById("desk")`)

	_, file := a.client(t).signIn().get("/studio/quizzes/1/map.svg")
	reader := xml.NewDecoder(strings.NewReader(file))
	paths := 0
	for {
		token, err := reader.Token()
		if token == nil {
			break
		}
		require.NoError(t, err)
		if e, ok := token.(xml.StartElement); ok && e.Name.Local == "path" {
			paths++
		}
	}
	assert.Greater(t, paths, 10)
	assert.Contains(t, file, "and on to question 6")

	// A quiz without anything says what to do.
	c := a.client(t).signIn()
	r, _ := c.form("/studio/quizzes", "title", "Nothing yet")
	_, page := c.get(r.Header.Get("Location") + "/map")
	assert.Contains(t, page, "svg")
}
