package web_test

import (
	"fmt"
	"html"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store/tally"
	"omphalos/web"
)

// Who only looks, who leaves where, and who finishes is counted from their own pages, by where
// they come from; the room tells it, beside each question.
func TestTheStream(t *testing.T) {
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
		figures = strings.Join(strings.Fields(regexp.MustCompile(`<[^>]*>`).ReplaceAllString(figures, " ")), " ")
		for _, words := range told {
			assert.Contains(t, figures, words, query)
		}
	}
	sections := page("")
	assert.Contains(t, sections, "6 asked · 1 left (17 %), half of them after 0 s", "the first question")
	assert.Contains(t, sections, "5 asked · 1 skipped · 1 left (20 %)", "the number")
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
	require.NoError(t, db.Exec("UPDATE passages SET updated = datetime(updated, '-1 hour') || '+00:00' WHERE quiz_id = ?", quiz).Error)
}
