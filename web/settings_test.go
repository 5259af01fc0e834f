package web_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/store"
)

// Right answers with their reason, what a tap does, the time zone and the pages that may
// show the quiz are set up on the sheet, and undone.
func TestHowAQuizIsTaken(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	b.choose(`[data-path="/settings/review"]`, "end")
	b.kept()
	b.until(
		"it says what is missing",
		`document.querySelector("#part-words").textContent.trim().replace(/\s+/g, " ").includes("No answer is marked as right yet")`,
	)
	b.do(chromedp.Focus(chromedp.CSS(`[data-path="/questions/crop/answers/berries/label"]`)))
	b.click(`[aria-label="Mark answer 3 as right"]`)
	b.kept()
	b.until("why", `document.querySelector('[data-path="/questions/crop/reason"]')`)
	b.fill(`[data-path="/questions/crop/reason"]`, "Berries *love* bees.")
	b.kept()
	b.click("#part-words [data-path='/settings/tapStays']")
	b.kept()
	b.fill(`[data-path="/settings/timeZone"]`, "Europe/Dublin")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	for _, page := range []string{"https://Shop.example.org/bees?x=1", "http://localhost:8080"} {
		b.fill("[data-frames]", page)
		b.do(chromedp.KeyEvent(kb.Tab))
		b.kept()
	}
	b.until("both are there", `document.querySelectorAll("#part-words .tag").length === 2`)
	b.click(`#part-o-plan [data-path$="/noReview"]`)
	b.kept()
	assert.True(t, a.draft(t, z.ID).Outcomes["plan"].NoReview, "not with this result")
	b.run(`document.querySelector("#part-o-plan .fills summary").click()`)
	b.until(
		"fill-ins with what a respondent would see",
		`document.querySelector('#part-o-plan .fills [data-insert="{crop}"]')?.textContent.trim().replace(/\s+/g, " ").includes("Apples or pears")`,
	)
	b.axeOf("#part-words", "how a quiz is taken")
	q := a.draft(t, z.ID)
	assert.Equal(
		t,
		&quiz.Settings{
			Language: "en",
			Review:   quiz.ReviewEnd,
			TapStays: true,
			TimeZone: "Europe/Dublin",
			Frames:   []string{"https://shop.example.org", "http://localhost:8080"},
		},
		q.Settings,
	)
	assert.True(t, q.Questions["crop"].Answers["berries"].Right)
	assert.Equal(t, "Berries *love* bees.", q.Questions["crop"].Reason)

	b.fill("[data-frames]", "the shop")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.until(
		"what is no address is refused",
		`document.getElementById("notice").textContent.trim().replace(/\s+/g, " ").includes("is not the beginning of an address")`,
	)
	b.fill(`[data-path="/settings/timeZone"]`, "Middle of nowhere")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.until(
		"what is no zone is refused",
		`document.querySelector("#part-words .fieldwrong")?.textContent.trim().replace(/\s+/g, " ").includes("is not a time zone")`,
	)
	b.fill(`[data-path="/settings/timeZone"]`, "Europe/Dublin")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.click("#part-words .tag button")
	b.kept()
	b.until("one is left", `document.querySelectorAll("#part-words .tag").length === 1`)
	b.click("[data-act=undo]")
	b.kept()
	b.until("and comes back", `document.querySelectorAll("#part-words .tag").length === 2`)
}

// Places are kept one by one and as a file; what is wrong is told, and nothing is changed.
func TestPlaces(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/places")
	b.axe("Places, empty")
	b.fill("[name=table]", "yards")
	b.fill("[name=name]", "River yard")
	b.fill("[name=latitude]", "north")
	b.do(chromedp.KeyEvent(kb.Enter))
	b.until("it is refused",
		`document.querySelector(".wrong")?.textContent.trim().replace(/\s+/g, " ").includes("is no latitude in degrees")`)
	assert.Equal(t, "River yard", b.value("[name=name]"), "what was typed is still there")
	b.fill("[name=latitude]", "52.7")
	b.fill("[name=longitude]", "-8.6")
	b.do(chromedp.KeyEvent(kb.Enter))
	b.until("it is there",
		`document.querySelector("tbody")?.textContent.trim().replace(/\s+/g, " ").includes("River yard")`)
	b.axe("Places")
	list, err := a.store.Definitions.Places(t.Context(), "yards")
	require.NoError(t, err)
	assert.Equal(
		t,
		[]store.Place{
			{
				WorkspaceID: store.First,
				Table:       "yards",
				Key:         "river_yard",
				Name:        "River yard",
				Latitude:    52.7,
				Longitude:   -8.6,
			},
		},
		list,
	)
	b.click("tbody .link")
	b.fill("[name=address]", "By the ferry")
	b.do(chromedp.KeyEvent(kb.Enter))
	b.until("it is changed",
		`document.querySelector("tbody")?.textContent.trim().replace(/\s+/g, " ").includes("By the ferry")`)
	b.click(`[aria-label="Take River yard out of yards"]`)
	b.until("it is out", `!document.querySelector("tbody")`)
	b.click(".flash button")
	b.until("and back", `document.querySelector("tbody")?.textContent.trim().replace(/\s+/g, " ").includes("By the ferry")`)

	c := a.client(t).signIn()
	for file, says := range map[string]string{
		"table,key,name,latitude,longitude\nyards,x,X,91,0\n":   "the latitude goes from -90 to 90",
		"table,key,name,latitude,longitude\nyards,a b,X,1,0\n":  "may hold letters, digits",
		"table,key,name,latitude,longitude\nyards,x,X,1,east\n": "is no longitude in degrees",
		"table,key,latitude,longitude\nyards,x,1,0\n":           "the column &#34;name&#34; is missing",
		"table,key,name,latitude,longitude\nyards,x,X,1\n":      "has 4 columns",
	} {
		r, page := c.upload("/studio/places/import", file)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, file)
		assert.Contains(t, page, says)
	}
	file := "table,key,name,address,latitude,longitude\nyards,north,North " +
		"yard,,54.1,-8.4\nyards,river_yard,River yard,\"By the ferry, below\",52.7,-8.6\n"
	r, page := c.upload("/studio/places/import", file)
	require.Equal(t, http.StatusSeeOther, r.StatusCode, page)
	_, back := c.get("/studio/places.csv")
	assert.Equal(t, file, back)
}
