package web_test

import (
	"encoding/csv"
	"fmt"
	"html"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
	"omphalos/store/tally"
)

// many keeps responses of which it is known who answered what: every third grows pears, one
// in five comes by a letter, one a day.
func (a *app) many(t testing.TB, n int) *store.Quiz {
	t.Helper()
	m := quiztest.New("cold", "hot")
	m.Scale("need", quiz.Sum).Name = "Need"
	m.Ask("crop", quiz.Single, "apples need=3", "pears need=1")
	m.Ask("hives", quiz.Number).Limits = &quiz.Limits{Low: quiztest.NumberBound(0), High: quiztest.NumberBound(40)}
	m.Ask("again", quiz.Rating)
	m.Ask("pests", quiz.Grid, "never", "often").Rows = map[string]*quiz.Row{"mites": {Order: 1, Label: "mites"},
		"moths": {Order: 2, Label: "moths"}}
	m.Ask("say", quiz.ShortText)
	m.Bands("need", "cold", "2=hot")
	m.Contact = &quiz.Contact{Place: quiz.AfterResult,
		Fields: map[string]*quiz.Question{"name": {Kind: quiz.Name, Label: "Name"}}}
	z := a.add(t, string(m.Write()))
	r := a.release(t, z)
	var list []*store.Response
	for i := range n {
		crop, outcome, need := "apples", "hot", int64(3)
		if i%3 == 0 {
			crop, outcome, need = "pears", "cold", 1
		}
		at := time.Date(2026, 6, 1, 12, 0, 0, 0, time.UTC).AddDate(0, 0, i)
		one := &store.Response{QuizID: z.ID, ReleaseID: r.ID, Passage: store.PassageNumber(), Outcome: outcome,
			Landing: "page",
			Started: at.Add(-time.Duration(30+i) * time.Second), Finished: at, Visitor: `{"device":"phone"}`,
			Scores: []store.ResponseScore{{Scale: "need", Millionths: decimal.FromInt(need)}},
			Answers: []store.ResponseAnswer{{Question: "crop", Answer: crop},
				{Question: "hives", Answer: fmt.Sprint(i % 40)}, {Question: "again", Answer: fmt.Sprint(i % 11)},
				{Question: "pests", Row: "mites", Answer: "often"}, {Question: "say", Answer: "=1+1, \"so\""}},
			Contacts: []store.Contact{{Field: "name", Kind: quiz.Name, Value: fmt.Sprint("No ", i)}}}
		if i%5 == 0 {
			one.Visitor = `{"source":"letter","device":"desktop"}`
		}
		list = append(list, one)
	}
	require.NoError(t, a.store.Responses.AddResponses(t.Context(), list))
	return z
}

// The figures of a slice are those that counting one by one gives, in the page and in the
// file that goes out.
func TestFiguresOfASlice(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	const n = 60
	z := a.many(t, n)
	c := a.client(t).signIn()
	whole, _, err := a.store.Responses.Find(t.Context(), z.ID, nil, tally.Order{}, 0, n)
	require.NoError(t, err)
	require.Len(t, whole, n)
	crop := func(r store.Response) string { return r.Answers[0].Answer }
	for query, fits := range map[string]func(i int, r store.Response) bool{
		"":                                     func(int, store.Response) bool { return true },
		"source=letter":                        func(i int, _ store.Response) bool { return i%5 == 0 },
		"answer.crop=pears":                    func(_ int, r store.Response) bool { return crop(r) == "pears" },
		"answer.crop=pears&answer.crop=apples": func(int, store.Response) bool { return true },
		"outcome=hot&device=desktop":           func(i int, r store.Response) bool { return r.Outcome == "hot" && i%5 == 0 },
		"score.need=2..9":                      func(_ int, r store.Response) bool { return crop(r) == "apples" },
		"amount.hives=10..19":                  func(i int, _ store.Response) bool { return i%40 >= 10 && i%40 < 20 },
		"from=2026-06-11&to=2026-06-20":        func(i int, _ store.Response) bool { return i >= 10 && i < 20 },
		"answer.pests.mites=often&release=1":   func(int, store.Response) bool { return true },
		"answer.crop=plums":                    func(int, store.Response) bool { return false },
	} {
		count, pears, hot := 0, 0, 0
		for i, r := range whole {
			if !fits(i, r) {
				continue
			}
			count++
			if crop(r) == "pears" {
				pears++
			}
			if r.Outcome == "hot" {
				hot++
			}
		}
		r, page := c.get(fmt.Sprintf("/studio/quizzes/%d/learn?%s", z.ID, query))
		require.Equal(t, http.StatusOK, r.StatusCode, query)
		page = strings.Join(strings.Fields(html.UnescapeString(page)), " ")
		assert.True(t, strings.Contains(page, fmt.Sprintf(`<p class="big">%d</p>`, count)), "%s: %d of them", query, count)
		if count > 0 {
			assert.True(t, regexp.MustCompile(fmt.Sprintf(`>pears</a>.{0,600}?<small>%d`, pears)).
				MatchString(page), "%s: %d grow pears", query, pears)
			assert.True(t, regexp.MustCompile(fmt.Sprintf(`>hot </a>.{0,600}?<b>%d</b>`, hot)).
				MatchString(page), "%s: %d are hot", query, hot)
		} else {
			assert.Contains(t, page, "Nobody fits this.")
		}
		r, file := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/responses.csv?%s", z.ID, query))
		assert.Equal(t, "text/csv; charset=utf-8; header=present", r.Header.Get("Content-Type"))
		rows, err := csv.NewReader(strings.NewReader(file)).ReadAll()
		require.NoError(t, err, query)
		require.Len(t, rows, 1+count, query)
	}
	_, file := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/responses.csv", z.ID))
	assert.Equal(t, 1+n, strings.Count(file, "\r\n"), "lines end as RFC 4180 has them")
	rows, err := csv.NewReader(strings.NewReader(file)).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, "number,finished,seconds,release,end,outcome,landing,address,country,language,device,source,medium,campaign,score.need,"+
		"answer.crop,answer.hives,answer.again,answer.pests.mites,answer.pests.moths,answer.say,contact.name",
		strings.Join(rows[0], ","))
	assert.Equal(t, []string{"1", "2026-06-01T12:00:00.000Z", "30", "1"}, rows[1][:4])
	assert.Equal(t, []string{"1", "pears", "0", "0", "often", "", "'=1+1, \"so\"", "No 0"}, rows[1][14:],
		"and no spreadsheet runs what somebody wrote")
	a.edit(t, z.ID, `[{"op":"remove","path":"/questions/say"}]`)
	kept, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, kept)
	_, file = c.get(fmt.Sprintf("/studio/quizzes/%d/learn/responses.csv", z.ID))
	again, err := csv.NewReader(strings.NewReader(file)).ReadAll()
	require.NoError(t, err)
	assert.ElementsMatch(t, rows[0], again[0], "what is not asked any more was answered all the same")
	assert.Equal(t, "answer.say", again[0][len(again[0])-1])
	_, file = c.get(fmt.Sprintf("/studio/quizzes/%d/learn/responses.csv?words=yes&source=letter", z.ID))
	assert.Equal(t, 14, strings.Count(file, "\r\n"), "with a second line of words")
	for format, begins := range map[string]string{"jsonl": `{"number":1,`, "xlsx": "PK", "parquet": "PAR1"} {
		r, file := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/responses.%s?source=letter", z.ID, format))
		require.Equal(t, http.StatusOK, r.StatusCode)
		assert.Equal(t, `attachment; filename="`+z.Slug+"."+format+`"`, r.Header.Get("Content-Disposition"))
		assert.True(t, strings.HasPrefix(file, begins), format)
	}
	_, page := c.get(fmt.Sprintf("/studio/quizzes/%d/learn?source=letter", z.ID))
	assert.Contains(t, page, "12 responses: wait for 30 before you believe a percent.")
	assert.Contains(t, page, "promoters less detractors")
}

// A press on a figure adds to the sentence, and another takes it away; each part is chosen
// where it stands. The address says it all.
func TestTheSentenceOfLearn(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.many(t, 60)
	b := a.newTab(t)
	b.signIn()
	at := fmt.Sprintf("/studio/quizzes/%d/learn", z.ID)
	b.open(at)
	b.axe("Learn")
	big := func() int {
		b.until("the figure is there", `document.querySelector(".big")`) // a page that is coming has less
		return read[int](b, `Number(document.querySelector(".big").textContent)`)
	}
	assert.Equal(t, 60, big())
	b.click(`#q-crop .found a[href*="pears"]`)
	b.until("those who grow pears",
		`document.querySelector(".slicer").textContent.includes("who answered “pears” to “crop”")`)
	assert.Equal(t, 20, big())
	assert.Equal(t, "true",
		read[string](b, `document.querySelector('#q-crop .found [aria-current]').getAttribute("aria-current")`))
	b.click(`.facet:has([name=source]) summary`)
	b.axe("Learn, a part that is chosen")
	b.click(`.facet [name=source][value=letter]`)
	b.click(`.facet:has([name=source]) .button`)
	b.until("of the letter", `document.querySelector(".slicer").textContent.includes("from letter")`)
	assert.Equal(t, 4, big())
	u, err := url.Parse(b.address())
	require.NoError(t, err)
	assert.Equal(t, url.Values{"answer.crop": {"pears"}, "source": {"letter"}}, u.Query())
	b.click(".chip a")
	b.until("without the pears", `!document.querySelector(".chip")`)
	assert.Equal(t, 12, big())
	b.click(`.slicer > a`)
	b.until("all of them", `location.search === "" && document.querySelector(".facet summary")`)
	b.run(`document.querySelector(".facet summary").click()`)
	b.fill("[name=from]", "06112026")
	b.click(".facet form .button")
	b.until("since a day", `document.querySelector(".slicer").textContent.includes("since 2026-06-11")`)
	assert.Equal(t, 50, big())
	// A handle of the strip, by keyboard: of 60 days the earlier one stands at the eleventh.
	b.until("the strip is alive", `document.querySelector("[aria-label=From]").ariaValueText === "2026-06-11"`)
	b.press("[aria-label=From]", kb.ArrowRight)
	b.until("a day later", `document.querySelector(".slicer").textContent.includes("since 2026-06-12")`)
	assert.Equal(t, 49, big())
	b.until("the strip is alive", `document.querySelector("[aria-label=From]").ariaValueText === "2026-06-12"`)
	b.run(`document.querySelector("[aria-label=Until]").value = 20; document.querySelector("[aria-label=Until]").dispatchEvent(new Event("change", { bubbles: true }))`)
	b.until("until a day", `document.querySelector(".slicer").textContent.includes("from 2026-06-12 to 2026-06-21")`)
	assert.Equal(t, 10, big())
	// A press on the fourth of sixty days, and on the bar of the higher score.
	b.click(`.slicer > a`)
	b.until("all days", `location.search === "" && !!document.querySelector("[aria-label=From]")?.ariaValueText`)
	b.run(`(() => {
		const days = document.querySelector(".days svg"), box = days.getBoundingClientRect();
		days.dispatchEvent(new MouseEvent("click", { bubbles: true, clientX: box.left + (3.5 / 60) * box.width }));
	})()`)
	b.until("one day", `document.querySelector(".slicer").textContent.includes("of 2026-06-04")`)
	assert.Equal(t, 1, big())
	b.click(`.slicer > a`)
	b.until("all days", `location.search === "" && !!document.querySelector("[aria-label=From]")?.ariaValueText`)
	b.run(`document.querySelector(".scalefound a:last-of-type").dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true }))`)
	b.until("those with the score", `document.querySelector(".chip")?.textContent.includes("Need 3")`)
	assert.Equal(t, 40, big())
	// The file that goes out is that of what is shown.
	b.run(`fetch(document.querySelector(".files a[download]").href).then((r) => r.text()).then((text) => (window.file = text))`)
	b.until("the file", `!!window.file`)
	assert.Equal(t, 41, strings.Count(read[string](b, `window.file`), "\r\n"))
	for _, wide := range []int64{768, 1280} {
		tab := a.newTabOf(t, wide, 800, true)
		tab.signIn()
		tab.open(at)
		assert.LessOrEqual(t, read[int64](tab, `document.documentElement.scrollWidth`), wide)
	}
}

// What was answered becomes what is expected, at a press: an edit of the draft that is undone
// like any other. Where a question was not asked of all, what was expected is of those asked.
func TestWhatWasAnsweredIsExpected(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.many(t, 60)
	c := a.client(t).signIn()
	at := fmt.Sprintf("/studio/quizzes/%d/learn", z.ID)
	r, _ := c.form(at+"/adopt?source=letter", "question", "crop")
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	assert.Equal(t, at+"?source=letter", r.Header.Get("Location"))
	_, page := c.get(at + "?source=letter")
	assert.Contains(t, page, "The sheet expects now what 12 respondents answered.")
	q := a.draft(t, z.ID)
	assert.Equal(t, "33.3 66.7", q.Questions["crop"].Expect["pears"].String()+" "+
		q.Questions["crop"].Expect["apples"].String())
	assert.Empty(t, q.Questions["again"].Expect)
	kept, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	_, _, err = a.store.Definitions.Undo(t.Context(), z.ID, kept.Revision)
	require.NoError(t, err)
	assert.Empty(t, a.draft(t, z.ID).Questions["crop"].Expect)
	c.form(at + "/adopt")
	q = a.draft(t, z.ID)
	assert.Equal(t, "33.3 10", q.Questions["crop"].Expect["pears"].String()+" "+
		q.Questions["again"].Expect["0"].String(), "of all questions")
	kept, err = a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	_, _, err = a.store.Definitions.Undo(t.Context(), z.ID, kept.Revision)
	require.NoError(t, err)

	a.edit(t, z.ID, `[{"op":"add","path":"/questions/again/showWhen","value":{"answer":"crop","op":"is","value":"pears"}}]`)
	kept, err = a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, kept)
	_, page = c.get(at)
	page = strings.Join(strings.Fields(page), " ")
	assert.True(t, regexp.MustCompile(`amount.again=7..7" >7</a>.{0,600}?expected 9 %`).MatchString(page),
		"one of eleven points of those who see it")
}

// The demo's season, whatever is asked of it, holds what its file says.
func TestLearnOfTheSeason(t *testing.T) {
	t.Parallel()
	data, err := os.ReadFile(filepath.Join("..", "cmd", "omphalos", "demo", "season.json"))
	require.NoError(t, err)
	a := newApp(t)
	z := a.add(t, string(data))
	c := a.client(t).signIn()
	r, page := c.get(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.Contains(t, page, "No responses yet.")
}

// A sentence is kept under a name, found again by it, and forgotten.
func TestViewsAreKept(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.many(t, 60)
	b := a.newTab(t)
	b.signIn()
	at := fmt.Sprintf("/studio/quizzes/%d/learn", z.ID)
	b.open(at + "?answer.crop=pears&source=letter&vs=others")
	b.click(".views summary")
	b.fill(".views [name=name]", "Pears by letter")
	b.click(".views .button")
	b.until("it is kept",
		`document.querySelector(".views summary")?.textContent.trim() === "Pears by letter" && location.search.includes("vs=others")`)
	b.open(at)
	b.click(".views summary")
	b.axe("Learn, views")
	b.click(".views a")
	b.until("it is there again",
		`document.querySelector(".chip")?.textContent.includes("pears") && location.search.includes("source=letter")`)
	b.click(".views summary")
	b.click(".views .tool")
	b.until("it is forgotten", `document.querySelector(".views summary")?.textContent.trim() === "Views"`)
	c := a.client(t).signIn()
	for name, kept := range map[string]int{"": 0, strings.Repeat("x", 61): 0, " Some  name ": 1, "Some name": 1} {
		c.form(at+"/views?source=letter", "name", name)
		if kept == 1 {
			views, err := a.store.Definitions.Views(t.Context(), z.ID)
			require.NoError(t, err)
			require.Len(t, views, 1)
			assert.Equal(t, "Some name", views[0].Name)
			assert.Equal(t, "source=letter", views[0].Query)
		}
	}
}

// What decided is told by the rule that took somebody, also where it asks for the visitor; an
// answer is called the same in the sentence, the figures and the list.
func TestTheSameNamesEverywhere(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("cold", "hot")
	m.Ask("land", quiz.Country)
	m.Ask("crop", quiz.Single, "apples", "pears")
	m.Ask("yard", quiz.Location).Table = "yards"
	is := func(value string) *quiz.Test { return &quiz.Test{Op: quiz.Is, Value: quiz.Words(value)} }
	m.Decide(quiz.Step{
		Kind:    quiz.TableStep,
		Columns: map[string]*quiz.Column{"by": {Subject: quiz.Subject{Visitor: "source"}}},
		Rules:   map[string]*quiz.TableRule{"one": {Cells: map[string]*quiz.Test{"by": is("letter")}, Outcome: "hot"}},
	})
	m.Decision.Otherwise = "cold"
	require.NoError(t, a.store.Definitions.PutPlaces(t.Context(),
		[]store.Place{{Table: "yards", Key: "n1", Name: "North yard", Latitude: 54, Longitude: -8}}))
	z := a.add(t, string(m.Write()))
	r := a.release(t, z)
	var list []*store.Response
	for i := range 40 {
		one := &store.Response{QuizID: z.ID, ReleaseID: r.ID, Passage: store.PassageNumber(), Outcome: "cold",
			Finished: time.Now(), Visitor: "{}",
			Answers: []store.ResponseAnswer{{Question: "land", Answer: "IE"},
				{Question: "crop", Answer: []string{"apples", "pears"}[i%2]}, {Question: "yard", Answer: "n1"}}}
		if i%4 == 0 {
			one.Visitor, one.Outcome = `{"source":"letter"}`, "hot"
		}
		list = append(list, one)
	}
	require.NoError(t, a.store.Responses.AddResponses(t.Context(), list))
	c := a.client(t).signIn()
	page := func(query string) string {
		return c.says(fmt.Sprintf("/studio/quizzes/%d/learn%s", z.ID, query))
	}
	measures := page("/measures")
	assert.Regexp(t, `letter”?: “hot” 25 % 10 `, measures, "ten came by the letter")
	assert.Contains(t, measures, "Otherwise 75 % 30")
	all := page("?columns=answer.land&columns=answer.yard&columns=answer.crop")
	assert.Regexp(t, `Ireland 100 % 40.*North yard 100 % 40.*No\. 40 Ireland North yard pears`, all)
	chosen := page("?answer.land=IE&answer.yard=n1&answer.crop=apples&vs.answer.crop=pears")
	assert.Contains(t, chosen, "who answered “Ireland” to “land”")
	assert.Contains(t, chosen, "who answered “North yard” to “yard”")
	assert.Contains(t, chosen, "compared with those who answered “pears” to “crop”")
	assert.Contains(t, page("?answer.crop=apples"), "with those who answered “pears” to “crop”",
		"and that is offered")
}
