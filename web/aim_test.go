package web_test

import (
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Cuts are found for what is wanted, with what they would have done to leads that were won and lost,
// and taken over.
func TestAim(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	a.ended(t, 40) // 20 with 8 points: cherries 4, me 3, little 1; 20 with 4: apples 3, little 1
	c := a.client(t).signIn()
	said := c.says("/studio/quizzes/1/learn/aim")
	assert.Contains(t, said, "Over 43 responses walked through the draft")
	assert.NotContains(t, said, "Take these cuts over", "nothing is wanted yet")
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1/learn/aim")
	b.click(`[name="way"][value="wins"]`)
	b.fill(`[name="part"]`, "49")
	b.run(`document.querySelector("main form .button").click()`)
	b.until("cuts are found",
		`[...document.querySelectorAll("button")].some((b) => b.textContent === "Take these cuts over")`)
	row := read[string](b,
		`[...document.querySelectorAll("tr")].find((tr) => tr.textContent.includes("A team of bees")).textContent.replace(/\s+/g, " ")`)
	assert.Contains(t, row, "0 → 15", "three in four of the twenty with 8 points were won")
	assert.Contains(t, row, "0 → 5")
	assert.Contains(t, row, "49 %")
	b.axe("Aim")
	b.run(`[...document.querySelectorAll("button")].find((b) => b.textContent === "Take these cuts over").click()`)
	b.until("it is told", `document.querySelector(".flash")?.textContent.includes("In the draft now: ")`)
	told := b.text(".flash")
	assert.Contains(t, told, "21 → 8", "every cut that changed")
	assert.Equal(t, 2, strings.Count(told, "Cut of Promise"), told)
	cuts := a.draft(t, 1).Decision.Steps["bands"].Cuts
	assert.Equal(t, "8", cuts["hot"].At.String())
	assert.Less(t, cuts["warm"].At, cuts["hot"].At)
	assert.Contains(t, c.says("/studio/quizzes/1/learn/replay"), "Cut of Promise 21 → 8",
		"and the replay tells who moves")
	assert.Contains(t, c.says(
		"/studio/quizzes/1/learn/aim?way=shares&share.0=90&share.1=9&share.2=1&scores=exact"), "Over all passages")
	// What is asked for stays; the others fill the rest where everybody sees it.
	_, form := c.get("/studio/quizzes/1/learn/aim?way=shares&scores=exact")
	shown := regexp.MustCompile(`name="(share\.\d)"[^>]*?value="([^"]*)"`).FindAllStringSubmatch(form, -1)
	require.Len(t, shown, 3)
	query := url.Values{"way": {"shares"}, "scores": {"exact"}}
	for _, one := range shown {
		query.Set(one[1], one[2])
		query.Set(strings.Replace(one[1], "share", "was", 1), one[2])
	}
	query.Set("share.2", "20")
	_, form = c.get("/studio/quizzes/1/learn/aim?" + query.Encode())
	sum := 0.0
	for _, one := range regexp.MustCompile(`name="share\.(\d)"[^>]*?value="([^"]*)"`).FindAllStringSubmatch(form, -1) {
		n, err := strconv.ParseFloat(one[2], 64)
		require.NoError(t, err)
		if sum += n; one[1] == "2" {
			assert.Equal(t, 20.0, n, "as asked")
		}
	}
	assert.InDelta(t, 100, sum, 0.2)
	query.Set("share.1", "90")
	assert.Contains(t, c.says("/studio/quizzes/1/learn/aim?"+query.Encode()), "The shares come to 110 %")
	_, page := c.get("/studio/quizzes/1/learn/aim?way=shares&share.0=many&share.1=9&scores=exact")
	assert.Contains(t, plainly(page), "“many” is not a share in percent: write a number such as 12.5.")
	assert.Contains(t, page, `value="many"`, "what was typed is still there")
	assert.Contains(t, c.says("/studio/quizzes/1/learn/aim?way=week&wanted=-3"), "is not how many a week")
	assert.Contains(t, c.says("/studio/quizzes/1/learn/aim?source=fair"), "Nobody has come to the bands yet.")
	a.edit(t, 1, `[{"op":"remove","path":"/decision/steps/bands"}]`)
	assert.Contains(t, c.says("/studio/quizzes/1/learn/aim"), "no bands with a cut")
}
