package web_test

import (
	"fmt"
	"html"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// From one response of a slice one goes to the next of it, and back to all of it.
func TestOneResponseOfASlice(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.many(t, 10)
	c := a.client(t).signIn()
	at := fmt.Sprintf("/studio/quizzes/%d/learn", z.ID)
	link := func(page, name string) string {
		m := regexp.MustCompile(`href="([^"]*)"[^>]*>` + name + `<`).FindStringSubmatch(page)
		if m == nil {
			return ""
		}
		return html.UnescapeString(m[1])
	}
	_, page := c.get(at + "?answer.crop=pears")
	first := link(page, `No\. 10`)
	assert.Equal(t, at+"/10?answer.crop=pears", first)
	_, page = c.get(first)
	assert.Empty(t, link(page, "Newer"))
	older := link(page, "Older")
	assert.Equal(t, at+"/7?answer.crop=pears", older, "every third grows pears")
	_, page = c.get(older)
	assert.Equal(t, first, link(page, "Newer"))
	assert.Equal(t, at+"?answer.crop=pears", link(page, "All responses"))
}

// A slice in pages of the list keeps its sentence.
func TestAListOfASlice(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.many(t, 160)
	c := a.client(t).signIn()
	at := fmt.Sprintf("/studio/quizzes/%d/learn?answer.crop=apples", z.ID)
	link := regexp.MustCompile(`href="([^"]*)">(Older|Newer)<`)
	var seen []string
	for range 5 {
		_, page := c.get(html.UnescapeString(at))
		for _, m := range regexp.MustCompile(`No\. (\d+)<`).FindAllStringSubmatch(page, -1) {
			seen = append(seen, m[1])
		}
		at = ""
		for _, m := range link.FindAllStringSubmatch(page, -1) {
			if m[2] == "Older" {
				at = strings.TrimSuffix(m[1], "#responses")
				assert.Contains(t, at, "answer.crop=apples")
			}
		}
		if at == "" {
			break
		}
	}
	assert.Len(t, seen, 106, "two in three, each once")
}

// What was written can be read and searched, with how many have written which word.
func TestWordsOfRespondents(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("fit")
	m.Ask("say", quiz.LongText)
	m.Ask("crop", quiz.Several, "apples", "other").Answers["other"].WriteIn = true
	z := a.add(t, string(m.Write()))
	r := a.release(t, z)
	var list []*store.Response
	for i, text := range []string{"Die Bäume blühen, BÄUME!", "the trees are blooming",
		"<b>trees</b> & 果樹 blooming", "", "no tree"} {
		one := &store.Response{QuizID: z.ID, ReleaseID: r.ID, Passage: store.PassageNumber(), Outcome: "fit",
			Finished: time.Now(), Visitor: "{}",
			Answers: []store.ResponseAnswer{{Question: "crop", Answer: "apples"},
				{Question: "crop", Answer: "other", WriteIn: fmt.Sprint("quince ", i)}}}
		if text != "" {
			one.Answers = append([]store.ResponseAnswer{{Question: "say", Answer: text}}, one.Answers...)
		}
		list = append(list, one)
	}
	require.NoError(t, a.store.Responses.AddResponses(t.Context(), list))
	c := a.client(t).signIn()
	page := func(path string) string {
		return c.says(fmt.Sprintf("/studio/quizzes/%d/learn/%s", z.ID, path))
	}
	all := page("words/say")
	assert.Contains(t, all, "4 texts, the newest first.")
	assert.Contains(t, all, "blooming 2 trees 2 blühen 1 bäume 1", "by how many wrote it, whichever case it has")
	assert.Contains(t, all, "<b>trees</b> & 果樹 blooming No. 3")
	found := page("words/say?words=B%C3%84UM")
	assert.Contains(t, found, "1 of 4 texts")
	assert.Contains(t, found, "Die Bäume blühen")
	assert.NotContains(t, found, "no tree")
	assert.Contains(t, page("words/say?words=pears"), "Nobody wrote this.")
	assert.Contains(t, page("words/crop"), "5 texts")
	assert.Contains(t, page("words/crop?words=quince+4"), "1 of 5 texts")
	assert.Contains(t, page("words/say?answer.crop=pears"), "Nobody of them wrote anything here.")
	r404, _ := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/words/nothing", z.ID))
	assert.Equal(t, http.StatusNotFound, r404.StatusCode)
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	b.click(`#q-say a[href$="/words/say"]`)
	b.click(`.often a[href*="words=trees"]`)
	b.until("those with the word", `document.querySelectorAll(".texts li").length === 2`)
	b.axe("Learn, what was written")
}

// The list shows the columns that are chosen, in the order that is chosen, page by page; what
// is chosen stays when the sentence changes.
func TestTheListOfResponses(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.many(t, 120)
	c := a.client(t).signIn()
	at := fmt.Sprintf("/studio/quizzes/%d/learn", z.ID)
	numbers := regexp.MustCompile(`class="link strong" href="([^"]*)">No. (\d+)<`)
	read := func(path string) (listed []int, page string) {
		_, page = c.get(path)
		for _, m := range numbers.FindAllStringSubmatch(page, -1) {
			n, err := strconv.Atoi(m[2])
			require.NoError(t, err)
			listed = append(listed, n)
		}
		return listed, html.UnescapeString(page)
	}
	// By hives, which are i % 40 of the i-th from 0, the most first; then by number.
	var all []int
	next := at + "?sort=-answer.hives&columns=answer.hives&columns=answer.crop&columns=nothing"
	for next != "" {
		listed, page := read(next)
		all = append(all, listed...)
		assert.Contains(t, page, `aria-sort="descending"`)
		next = ""
		if m := regexp.MustCompile(`href="([^"]*)">Further<`).FindStringSubmatch(page); m != nil {
			next = m[1]
		}
	}
	require.Len(t, all, 120)
	for i := 1; i < len(all); i++ {
		before, this := (all[i-1]-1)%40, (all[i]-1)%40
		require.True(t, before > this || before == this && all[i-1] > all[i], "%d before %d", all[i-1], all[i])
	}
	listed, page := read(at + "?sort=score.need&source=letter")
	assert.Len(t, listed, 24)
	assert.Contains(t, page, "sort=score.need&source=letter", "the sentence keeps the order")
	listed, _ = read(at + "?sort=anything")
	assert.Equal(t, 120, listed[0], "the newest first")
	_, page = read(at + "?columns=contact.name&columns=answer.pests.mites")
	assert.Contains(t, page, "No 119")
	assert.Contains(t, page, "often")

	b := a.newTab(t)
	b.signIn()
	b.open(at)
	b.run(`document.querySelector("#responses .facet:last-of-type summary").click()`)
	b.click(`#responses [value="answer.hives"]`)
	b.click(`#responses form .button`)
	b.until("the column is there",
		`[...document.querySelectorAll(".list th")].some((th) => th.textContent.trim() === "hives")`)
	b.click(`.list th a[href*="sort=-answer.hives"]`)
	b.until("it is sorted", `document.querySelector('.list [aria-sort="descending"]')?.textContent.includes("hives")`)
	b.axe("Learn, a list that is sorted")
}
