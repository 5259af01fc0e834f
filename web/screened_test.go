package web_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Those who are screened out keep no answers, and are counted wherever people are: how far they
// came, which outcome they got, the releases of an experiment, what the sheet observes, the
// interface for other systems, the workbook's figures. Nobody can be told from what is kept.
func TestScreenedOutIsCountedEverywhere(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("stay", "gone")
	m.Scale("need", quiz.Sum)
	budget := m.Ask("budget", quiz.Single, "none", "some need=2")
	budget.Required, budget.Answers["none"].Then = true, &quiz.Then{Go: quiz.PartWays, To: "gone"}
	m.Ask("crop", quiz.Single, "apples need=1", "pears")
	z := a.add(t, string(m.Write()))
	r := a.release(t, z)
	z, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	walk := func(from string, answers ...string) {
		c, at := a.client(t), "/q/"+z.Slug+from
		for _, answer := range answers {
			r, _ := c.answer(at, answer)
			at = r.Header.Get("Location")
		}
	}
	for range 3 {
		walk("?utm_source=letter", "some", "apples")
	}
	for range 5 {
		walk("?utm_source=letter", "none")
	}
	walk("", "none")
	studio := a.client(t).signIn()
	learn := func(query string) string {
		_, page := studio.get(fmt.Sprintf("/studio/quizzes/%d/learn?%s", z.ID, query))
		return plainly(page)
	}
	page := learn("")
	for _, told := range []string{"saw it 9", "began 100 % 9", "33 % 3", "screened out 67 % 6", "6 people were screened out",
		"of 9 asked · 6 screened out here (67 %)", "gone 6 67 %", "6 of them screened out",
		"none 0 % 0, screens out", "some 100 % 3, expected 100 %"} {
		assert.Contains(t, page, told)
	}
	assert.Contains(t, learn("source=letter"), "screened out 63 % 5")
	assert.Contains(t, learn("outcome=gone"), "gone 6 100 %", "nobody who finished has it")
	assert.NotContains(t, learn("answer.crop=apples"), "screened out", "of their answers nothing is known")
	_, csv := studio.get(fmt.Sprintf("/studio/quizzes/%d/learn/pictures/outcomes.csv", z.ID))
	assert.Contains(t, csv, "gone,6,0.666667")
	_, csv = studio.get(fmt.Sprintf("/studio/quizzes/%d/learn/pictures/outcomes.csv?source=letter", z.ID))
	assert.Contains(t, csv, "gone,5,0.625,0.5,from letter", "a part of all says which")

	a.edit(t, z.ID, `[{"op":"replace","path":"/title","value":"Other"}]`)
	z, err = a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	second := a.release(t, z)
	require.NoError(t, a.store.Definitions.TrySince(t.Context(), z.ID, r.Number, 0.5, time.Now().Add(-time.Hour)))
	_, arms := studio.get(fmt.Sprintf("/studio/quizzes/%d/release", z.ID))
	assert.Contains(t, plainly(arms), "9 people came to an end since, 6 of them screened out")
	assert.NotEqual(t, second.ID, r.ID)

	studio.get(fmt.Sprintf("/studio/quizzes/%d?odds=observed", z.ID)) // is remembered
	_, sheet := studio.get(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	assert.Contains(t, plainly(sheet), "and 6 who were screened out")

	_, list := studio.get("/studio")
	assert.Contains(t, plainly(list), "stay: 33 % B gone: 67 %", "outcomes are of all who came to an end")
	studio.form(fmt.Sprintf("/studio/quizzes/%d/learn/adopt", z.ID))
	expects := a.draft(t, z.ID).Questions["budget"].Expect
	assert.Equal(t, "66.7 33.3", expects["none"].String()+" "+expects["some"].String())

	var rows []map[string]any
	require.NoError(t, a.database(t).Raw("SELECT * FROM screenings").Scan(&rows).Error)
	require.Len(t, rows, 2, "a row for each place they came from, not for each person")
	for _, row := range rows {
		for column, value := range row {
			assert.NotContains(t, []string{"id", "rowid", "passage", "time", "made", "finished"}, column)
			assert.Less(t, len(fmt.Sprint(value)), 12, "%s: a day, a key or a count", column)
		}
	}
	var left int64
	require.NoError(t, a.database(t).Raw("SELECT count(*) FROM passages").Scan(&left).Error)
	assert.Zero(t, left)
	var ordered string
	require.NoError(t, a.database(t).Raw("SELECT sql FROM sqlite_master WHERE name = 'screenings'").Scan(&ordered).Error)
	assert.Contains(t, ordered, "WITHOUT ROWID", "nor does their order say who came first")
}

// Responses to releases that differ stand together: what is not offered any more keeps its row,
// other words and weights are told apart, and scores are of the weights that are shown.
func TestReleasesPooledAreToldApart(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("stay")
	m.Scale("need", quiz.Sum).Name = "Need"
	why := m.Ask("why", quiz.Single, "cheap need=1", "near need=2", "old")
	why.Required, why.Answers["cheap"].Label = true, "Cheap"
	z := a.add(t, string(m.Write()))
	answer := func(answers ...string) {
		for _, one := range answers {
			a.client(t).answer("/q/"+z.Slug, one)
		}
	}
	a.release(t, z)
	answer("cheap", "cheap", "near", "old")
	a.edit(t, z.ID, `[{"op":"replace","path":"/questions/why/answers/cheap/label","value":"Quality"},
		{"op":"replace","path":"/questions/why/answers/near/adds/need","value":5},
		{"op":"remove","path":"/questions/why/answers/old"}]`)
	z, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, z)
	answer("cheap", "near", "near")
	_, page := a.client(t).signIn().get(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	page = plainly(page)
	for _, told := range []string{
		"Quality 2 as “Cheap” in release 1", "near 1 worth +2 Need in release 1",
		"old not offered any more", "43 %", "14 %",
		"questions, words and expectations are those of release 2. Scores are of release 2 alone",
	} {
		assert.Contains(t, page, told)
	}
	mean := (1 + 5 + 5) * decimal.One / 3
	assert.Contains(t, page, mean.Round(2).Words(), "of the newest weights")
}

// Who and where somebody is asked for among the questions counts as any other question does.
func TestPersonalQuestionsAreCounted(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("stay")
	for _, kind := range []quiz.Kind{quiz.Name, quiz.Email, quiz.Phone, quiz.Company, quiz.Country} {
		m.Ask("the_"+strings.ReplaceAll(string(kind), "-", "_"), kind)
	}
	z := a.add(t, string(m.Write()))
	r := a.release(t, z)
	p, err := program.Compile(m.Quiz)
	require.NoError(t, err)
	given := map[quiz.Kind]string{quiz.Name: "Ann", quiz.Email: "ann@example.org", quiz.Phone: "+353 1 496 0000",
		quiz.Company: "Orchards", quiz.Country: "IE"}
	for i := range 4 {
		c, at := a.client(t), "/q/"+z.Slug
		for k := range p.Questions {
			typed := given[p.Question(k).Kind]
			if i == 3 {
				typed = ""
			}
			r, _ := c.answer(at, typed)
			at = r.Header.Get("Location")
		}
	}
	assert.NotNil(t, r)
	_, page := a.client(t).signIn().get(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	assert.Equal(t, 5, strings.Count(plainly(page), "3 answered · of 4 asked · 1 skipped"), plainly(page))
}

// What an address asks of the responses is understood whole, or refused: numbers are found by
// their value, and what no release has is not passed over, in a page or in a file.
func TestWhatCantBeAskedIsRefused(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("stay")
	m.Ask("rating", quiz.Rating)
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	for _, points := range []string{"9", "9", "3"} {
		a.client(t).answer("/q/"+z.Slug, points)
	}
	c := a.client(t).signIn()
	for query, found := range map[string]int{"": 3, "answer.rating=9": 2, "amount.rating=9": 2, "outcome=stay": 3} {
		_, csv := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/responses.csv?%s", z.ID, query))
		assert.Equal(t, found+1, strings.Count(csv, "\r\n"), query)
	}
	for query, says := range map[string]string{"rating=9": "rating is no field", "answer.gone=1": "has what answer.gone is about",
		"release=7": "there is no release 7", "amount.rating=many": "is no range", "from=yesterday": "is no day",
		"answer.rating=9&answer.rating=3": "several values"} {
		for _, file := range []string{"", "/responses.csv", "/pictures/outcomes.csv"} {
			r, page := c.get(fmt.Sprintf("/studio/quizzes/%d/learn%s?%s", z.ID, file, query))
			assert.Equal(t, http.StatusBadRequest, r.StatusCode, "%s %s", file, query)
			assert.Contains(t, plainly(page), says)
		}
	}
}
