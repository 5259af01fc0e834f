package web_test

import (
	"fmt"
	"html"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
	"omphalos/store/tally"
	"omphalos/web"
)

// Who only looks, who leaves where, and who finishes is counted from their own pages, by where
// they come from; the room tells it, beside each question.
func TestTheStream(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("cold", "hot")
	m.Scale("need", quiz.Sum)
	m.Opening = &quiz.Opening{Heading: "Welcome"}
	m.Ask("crop", quiz.Single, "apples need=3", "pears need=1").Required = true
	m.Ask("hives", quiz.Number)
	m.Ask("soon", quiz.Single, "now", "later")
	m.Bands("need", "cold", "2=hot")
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	at := "/q/" + z.Slug
	walk := func(from string, answers ...string) {
		c := a.client(t) // each on a device of their own
		r, _ := c.get(at + from)
		require.Equal(t, http.StatusOK, r.StatusCode)
		if len(answers) == 0 {
			return
		}
		r, _ = c.form(at + from)
		for _, answer := range answers[1:] {
			r, _ = c.answer(r.Header.Get("Location"), answer)
			require.Equal(t, http.StatusSeeOther, r.StatusCode)
		}
	}
	walk("")
	walk("?utm_source=letter")
	walk("?utm_source=letter", "begin")                             // is under way at the first
	walk("?utm_source=letter", "begin", "apples")                   // leaves at the number
	walk("", "begin", "pears", "")                                  // leaves at the last
	walk("", "begin", "apples", "", "now")                          // finish, without the number
	walk("?utm_source=letter", "begin", "apples", "3", "later")     //
	walk("?utm_source=letter&x=1", "begin", "apples", "7", "later") //
	early, err := http.NewRequest(http.MethodGet, a.URL+at, nil)
	require.NoError(t, err)
	early.Header.Set("Sec-Purpose", "prefetch;prerender")
	a.client(t).send(early)

	flow, err := a.store.Responses.Flow(t.Context(), z.ID, nil)
	require.NoError(t, err)
	assert.Equal(t, 8, flow.Seen, "without the page that was fetched before anybody wanted it")
	assert.Equal(t, 3, flow.Under)
	require.NoError(t, a.store.Responses.Tally(t.Context(), z.ID, func(all *tally.Tally) {
		one := func(kind tally.Kind, key string) int {
			return all.Slice(tally.Part{Of: tally.Property{Kind: kind, Key: key}, Values: []string{""}}).Count()
		}
		assert.Equal(t, []int{3, 3, 3}, []int{one(tally.Asked, "crop"), one(tally.Asked, "hives"), one(tally.Asked, "soon")})
		assert.Equal(t, 2, one(tally.Answered, "hives"))
		assert.NotEmpty(t, all.Slice().Values(tally.Property{Kind: tally.Spent, Key: "hives"}, 1), "how long they stayed")
	}))

	a.later(t, z.ID)
	c := openFile(t, a.file, web.Options{}, func(h http.Handler) http.Handler { return h }).client(t).signIn()
	page := func(query string) string {
		_, page := c.get(fmt.Sprintf("/studio/quizzes/%d/learn?%s", z.ID, query))
		return strings.Join(strings.Fields(html.UnescapeString(page)), " ")
	}
	for query, told := range map[string][]string{
		"":                        {"saw it 8", "began 75 % 6", "finished", "50 % 3"},
		"source=letter":           {"saw it 5", "began 80 % 4", "50 % 2"},
		"source=letter&vs=others": {"saw it 5", "began 80 % 4", "50 % 2 0 points"},
	} {
		figures := regexp.MustCompile(`(?s)<dl class="flow">(.*?)</dl>`).FindString(page(query))
		figures = plainly(figures)
		for _, words := range told {
			assert.Contains(t, figures, words, query)
		}
	}
	sections := page("")
	assert.Contains(t, sections, "3 answered · of 6 asked · 1 left here (17 %), half of them after 0 s · 2 left later", "the first question")
	assert.Contains(t, sections, "of 5 asked · 1 skipped · 1 left here (20 %)", "the number")
	assert.Contains(t, page("outcome=hot"), "it is not known what they would have answered or got")
}

// database is the file itself, for what no page does.
func (a *app) database(t testing.TB) *gorm.DB {
	t.Helper()
	db, err := gorm.Open(sqlite.Open(a.file), &gorm.Config{})
	require.NoError(t, err)
	return db
}

// later lets an hour go by for those who are under way.
func (a *app) later(t testing.TB, quiz uint) {
	t.Helper()
	db := a.database(t)
	require.NoError(t, db.Exec(
		"UPDATE passages SET updated = datetime(updated, '-1 hour') || '+00:00' WHERE quiz_id = ?", quiz).Error)
}

// What is pressed at the end is counted once a respondent, by this application alone; who
// left a contact is counted, too. Both can be asked for.
func TestWhatIsPressed(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("fit")
	m.Ask("crop", quiz.Single, "apples", "pears")
	m.Decision.Otherwise = "fit"
	m.Outcomes["fit"].Landings["page"].Blocks = map[string]*quiz.Block{
		"book": {Order: 1, Kind: quiz.ActionBlock, Label: "Book a visit", Address: "https://example.org/book"},
		"read": {Order: 2, Kind: quiz.LinkBlock, Label: "Read on", Address: "#"},
		"say":  {Order: 3, Kind: quiz.TextBlock, Text: "Thank you"},
	}
	m.Outcomes["fit"].Landings["page"].Blocks["read"].Address = "https://example.org/read"
	m.Contact = &quiz.Contact{Place: quiz.AfterResult,
		Fields: map[string]*quiz.Question{"name": {Kind: quiz.Name, Label: "Name"}}}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	finish := func() (*client, string) {
		c := a.client(t)
		r, _ := c.answer("/q/"+z.Slug, "apples")
		require.Equal(t, http.StatusSeeOther, r.StatusCode)
		return c, strings.TrimSuffix(r.Header.Get("Location"), "/end")
	}
	pressed := func() map[string]int {
		counts := map[string]int{}
		require.NoError(t, a.store.Responses.Tally(t.Context(), z.ID, func(all *tally.Tally) {
			for _, kind := range []tally.Kind{tally.Pressed, tally.Contact} {
				for _, c := range all.Slice().Split(tally.Property{Kind: kind}) {
					counts[c.Value] = c.Count
				}
			}
		}))
		return counts
	}
	one, at := finish()
	assert.Empty(t, pressed())
	for range 3 {
		r, _ := one.form(at + "/pressed-button?block=page.book")
		assert.Equal(t, http.StatusNoContent, r.StatusCode)
	}
	for _, nothing := range []string{"page.say", "page.nothing", "other.book", "book", ""} {
		r, _ := one.form(at + "/pressed-button?block=" + nothing)
		assert.Equal(t, http.StatusNotFound, r.StatusCode, nothing)
	}
	stranger := a.client(t)
	r, _ := stranger.form(at + "/pressed-button?block=page.read")
	assert.Equal(t, http.StatusForbidden, r.StatusCode, "nobody presses for somebody else")
	other, there := finish()
	other.form(there+"/your-contact", "name", "Ann", "go", "on")
	assert.Equal(t, map[string]int{"page.book": 1, "yes": 1}, pressed())

	// By hand: the page tells while the browser goes on.
	b := a.newTab(t)
	b.open("/q/" + z.Slug)
	b.run(`document.querySelector("[value=apples]").click()`)
	b.click("[name=go][value=on]")
	b.until("the landing", `!!document.querySelector("[data-press]")`)
	b.run(`document.querySelectorAll("[data-press]").forEach((a) => a.addEventListener("click", (e) => e.preventDefault()))`)
	b.click(`[data-press*="page.read"]`)
	require.Eventually(t, func() bool { return pressed()["page.read"] == 1 }, patience, 20*time.Millisecond)

	c := a.client(t).signIn()
	page := func(query string) string {
		return c.says(fmt.Sprintf("/studio/quizzes/%d/learn?%s", z.ID, query))
	}
	all := page("")
	assert.Contains(t, all, "left a contact 33 % 1")
	assert.Contains(t, all, "went on from there 67 % 2")
	assert.Contains(t, all, "pressed “Book a visit” 33 % 1")
	assert.Contains(t, page("pressed=page.book"), "who pressed “Book a visit”")
	assert.Contains(t, page("pressed=page.book"), "Who left is not told here")
	assert.Contains(t, page("contact=yes"), "with a contact")
	again, err := store.Open(a.file) // what is on disk says the same
	require.NoError(t, err)
	defer again.Close()
	require.NoError(t, again.Responses.Tally(t.Context(), z.ID, func(all *tally.Tally) {
		assert.Equal(t, 1, all.Slice(tally.Part{Of: tally.Property{Kind: tally.Contact}, Values: []string{"yes"}}).Count())
		assert.Len(t, all.Slice().Split(tally.Property{Kind: tally.Pressed}), 2)
	}))
}

// Who leaves at a page that asks nothing left at the question behind it, and who leaves as they
// are asked who they are left behind all questions: nobody is lost.
func TestWhereTheyLeft(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("fit")
	m.Ask("crop", quiz.Single, "apples", "pears")
	m.Ask("pause", quiz.Interlude).Label = "Half way"
	m.Ask("soon", quiz.Single, "now", "later")
	m.Decision.Otherwise = "fit"
	m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
		Fields: map[string]*quiz.Question{"name": {Kind: quiz.Name, Label: "Name"}}}
	z := a.add(t, string(m.Write()))
	r := a.release(t, z)
	var gone []store.Departure
	for place, n := range map[string]int{"crop": 1, "pause": 2, "soon": 3, "your-contact": 4, "asked before": 5} {
		for range n {
			gone = append(gone, store.Departure{QuizID: z.ID, ReleaseID: r.ID, Place: place, Seconds: 10 * n, Ended: time.Now()})
		}
	}
	require.NoError(t, a.store.Responses.AddDepartures(t.Context(), gone))
	require.NoError(t, a.store.Responses.AddResponses(t.Context(), []*store.Response{{
		QuizID: z.ID, ReleaseID: r.ID, Passage: store.PassageNumber(), Outcome: "fit", Finished: time.Now(), Visitor: "{}",
		Answers: []store.ResponseAnswer{{Question: "crop", Answer: "apples"}, {Question: "soon", Answer: "now"}},
	}}))
	c := a.client(t).signIn()
	page := c.says(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	for _, told := range []string{
		"began 100 % 16", "11 asked · 1 left here (9 %), half of them after 10 s",
		"10 asked · 5 left here (50 %), half of them after 30 s",
		"left behind the questions 4", "left where nothing is asked any more 5", "6 % 1",
	} {
		assert.Contains(t, page, told)
	}
}
