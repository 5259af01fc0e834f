package web_test

import (
	"encoding/csv"
	"encoding/xml"
	"fmt"
	"html"
	"io"
	"math"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/stat"

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
	a := newApp(t)
	const n = 60
	z := a.many(t, n)
	c := a.client(t).signIn()
	whole, _, err := a.store.Responses.Find(t.Context(), z.ID, nil, tally.Order{}, 0, n)
	require.NoError(t, err)
	require.Len(t, whole, n)
	crop := func(r store.Response) string { return r.Answers[0].Answer }
	for query, fits := range map[string]func(i int, r store.Response) bool{
		"":                                      func(int, store.Response) bool { return true },
		"source=letter":                         func(i int, _ store.Response) bool { return i%5 == 0 },
		"answer.crop=pears":                     func(_ int, r store.Response) bool { return crop(r) == "pears" },
		"answer.crop=pears&answer.crop=apples":  func(int, store.Response) bool { return true },
		"outcome=hot&device=desktop":            func(i int, r store.Response) bool { return r.Outcome == "hot" && i%5 == 0 },
		"score.need=2..9":                       func(_ int, r store.Response) bool { return crop(r) == "apples" },
		"amount.hives=10..19":                   func(i int, _ store.Response) bool { return i%40 >= 10 && i%40 < 20 },
		"from=2026-06-11&to=2026-06-20":         func(i int, _ store.Response) bool { return i >= 10 && i < 20 },
		"answer.pests.mites=often&release=1":    func(int, store.Response) bool { return true },
		"answer.crop=plums":                     func(int, store.Response) bool { return false },
		"release=7":                             func(int, store.Response) bool { return false },
		"score.need=nothing&before=x&other=why": func(int, store.Response) bool { return true },
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
	assert.Equal(t, []string{"1", "2026-06-01T12:00:00Z", "30", "1"}, rows[1][:4])
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

// A file that breaks off is not taken for a whole one.
func TestAnExportThatBreaksOff(t *testing.T) {
	a := newApp(t)
	z := a.many(t, 30)
	c := a.client(t).signIn()
	require.NoError(t, a.database(t).Exec("UPDATE responses SET packed = x'ff' WHERE number = 20").Error)
	r, err := c.Get(a.URL + fmt.Sprintf("/studio/quizzes/%d/learn/responses.csv", z.ID))
	if err == nil {
		_, err = io.ReadAll(r.Body)
		r.Body.Close()
	}
	assert.Error(t, err, "the connection is cut")
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

// From one response of a slice one goes to the next of it, and back to all of it.
func TestOneResponseOfASlice(t *testing.T) {
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

// What was answered becomes what is expected, at a press: an edit of the draft that is undone
// like any other. Where a question was not asked of all, what was expected is of those asked.
func TestWhatWasAnsweredIsExpected(t *testing.T) {
	a := newApp(t)
	z := a.many(t, 60)
	c := a.client(t).signIn()
	at := fmt.Sprintf("/studio/quizzes/%d/learn", z.ID)
	r, _ := c.form(at+"/adopt?source=letter", "question", "crop")
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	assert.Equal(t, at+"?source=letter", r.Header.Get("Location"))
	_, page := c.get(at + "?source=letter")
	assert.Contains(t, page, "The sheet expects now what 12 responses answered.")
	q := a.draft(t, z.ID)
	assert.Equal(t, "33.3 66.6", q.Questions["crop"].Expect["pears"].String()+" "+
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

// A slice in pages of the list keeps its sentence.
func TestAListOfASlice(t *testing.T) {
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

// The demo's season, whatever is asked of it, holds what its file says.
func TestLearnOfTheSeason(t *testing.T) {
	data, err := os.ReadFile(filepath.Join("..", "cmd", "omphalos", "demo", "season.json"))
	require.NoError(t, err)
	a := newApp(t)
	z := a.add(t, string(data))
	c := a.client(t).signIn()
	r, page := c.get(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	assert.Equal(t, http.StatusOK, r.StatusCode)
	assert.Contains(t, page, "No responses yet.")
}

// Two slices side by side: every figure twice, with how far they differ; who is in one is not
// in the other, and the address says with what it is compared.
func TestTwoSlices(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.many(t, 300)
	c := a.client(t).signIn()
	at := fmt.Sprintf("/studio/quizzes/%d/learn", z.ID)
	page := func(query string) string {
		r, page := c.get(at + "?" + query)
		require.Equal(t, http.StatusOK, r.StatusCode)
		return strings.Join(strings.Fields(html.UnescapeString(page)), " ")
	}
	apples := page("answer.crop=apples&vs.answer.crop=pears")
	assert.Contains(t, apples, "compared with those who answered “pears” to “crop”")
	assert.Contains(t, apples, "Compared with those who answered “pears” to “crop”: 100 responses")
	assert.Contains(t, apples, "<li>hot more often: 100 % against 0 %, very likely not chance.</li>")
	assert.Contains(t, apples, "+100 points (+96 to +100), very likely not chance", "Newcombe, of 200 of 200 and 0 of 100")
	assert.NotContains(t, apples, "believe a difference")
	others := page("source=letter&vs=others")
	assert.Contains(t, others, "Compared with all others: 240 responses")
	assert.Contains(t, others, "No difference is larger than chance alone may make it.")
	assert.Contains(t, page("from=2026-06-11&to=2026-06-20&vs=before"),
		"Compared with those from 2026-06-01 to 2026-06-10: 10 responses")
	assert.Contains(t, page("from=2026-06-11&to=2026-06-20&vs=before"), "wait for 30 before you believe a difference")
	assert.Contains(t, page("source=letter&vs.source=nobody"), "Nobody is there to compare with.")
	for _, none := range []string{"vs=others", "vs=before", "vs.source=letter", "source=letter&vs=all",
		"source=letter&vs.device=phone"} {
		assert.NotContains(t, page(none), "Compared with", none)
	}
	b := a.newTab(t)
	b.signIn()
	b.open(at)
	b.click(`.facet.versus summary`)
	b.click(`.versus a[href*="source=letter&vs=others"]`)
	b.until("both are there", `!!document.querySelector(".differs")`)
	b.axe("Learn, two slices")
	b.click(`#q-crop .found a[href*="pears"]`)
	b.until("a press adds to the sentence", `document.querySelector(".chip") && location.search.includes("vs=others")`)
	b.click(`.facet.versus summary`)
	b.run(`document.querySelectorAll('.versus a').forEach((a) => a.textContent === "with nothing" && a.click())`)
	b.until("one alone", `!document.querySelector(".differs")`)
	assert.Equal(t, "?answer.crop=pears&source=letter", read[string](b, "location.search"))
}

// How the quiz measures is what counting one by one gives.
func TestHowItMeasures(t *testing.T) {
	a := newApp(t)
	m := quiztest.New("cold", "hot")
	m.Scale("need", quiz.Sum).Name = "Need"
	for _, key := range []string{"one", "same", "other", "dull"} {
		m.Ask(key, quiz.Single, "no need=1", "yes need=4")
	}
	m.Quiz.Questions["dull"].Answers["yes"].Adds = m.Quiz.Questions["dull"].Answers["no"].Adds
	m.Bands("need", "cold", "9=hot")
	z := a.add(t, string(m.Write()))
	r := a.release(t, z)
	var list []*store.Response
	var columns [3][]float64
	hot := 0
	for i := range 120 {
		given := []bool{i%2 == 0, i%2 == 0, i%3 == 0, i%5 == 0}
		one := &store.Response{QuizID: z.ID, ReleaseID: r.ID, Passage: store.PassageNumber(),
			Finished: time.Now(), Visitor: "{}"}
		sum := 1.0 // the dull one
		for k, yes := range given {
			answer, points := "no", 1.0
			if yes {
				answer, points = "yes", 4
			}
			one.Answers = append(one.Answers, store.ResponseAnswer{Question: []string{"one", "same", "other",
				"dull"}[k], Answer: answer})
			if k < 3 {
				columns[k], sum = append(columns[k], points), sum+points
			}
		}
		if sum >= 9 {
			hot++
		}
		list = append(list, one)
	}
	require.NoError(t, a.store.Responses.AddResponses(t.Context(), list))
	c := a.client(t).signIn()
	_, page := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/measures", z.ID))
	page = strings.Join(strings.Fields(html.UnescapeString(page)), " ")
	rest := make([]float64, 120)
	for i := range rest {
		rest[i] = columns[1][i] + columns[2][i] + 1
	}
	assert.Contains(t, page, "Says the same as question 1.")
	assert.Contains(t, page, "Changes nothing: everybody gets the same here.")
	assert.Contains(t, page, fmt.Sprintf(`<td class="num">%s <small>`,
		decimal.Decimal(math.Round(100*stat.Correlation(columns[0], rest, nil))*1e4).Words()), "as gonum has it")
	assert.Contains(t, page, fmt.Sprintf("<b>%d %%</b> <small>%d</small>", hot*100/120, hot), "who came to the upper band")
	assert.Contains(t, page, "120 persons were asked all of these")
	_, none := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/measures?answer.one=maybe", z.ID))
	assert.Contains(t, none, "No question adds to a scale here.")
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	b.click(`a[href$="/learn/measures"]`)
	b.axe("Learn, how it measures")
}

// What was written can be read and searched, with how many have written which word.
func TestWordsOfRespondents(t *testing.T) {
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

// Every figure goes out as a picture and as the table that it shows; both say what counting
// one by one gives.
func TestFiguresGoOut(t *testing.T) {
	a := newApp(t)
	z := a.many(t, 120)
	c := a.client(t).signIn()
	get := func(file string) string {
		r, body := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/pictures/%s", z.ID, file))
		require.Equal(t, http.StatusOK, r.StatusCode, file)
		assert.Contains(t, r.Header.Get("Content-Disposition"), "attachment")
		return body
	}
	type svg struct {
		Title string `xml:"title"`
		Rects []struct {
			Class string `xml:"class,attr"`
			Width string `xml:"width,attr"`
			Y     string `xml:"y,attr"`
		} `xml:"rect"`
	}
	for name, due := range map[string][][]string{
		"answer.crop": {{"apples", "80", "0.666667"}, {"pears", "40", "0.333333"}},
		"outcomes":    {{"cold", "40", "0.333333"}, {"hot", "80", "0.666667"}},
		"answer.pests": {{"mites: never", "0", "0"}, {"mites: often", "120", "1"}, {"moths: never", "0", "0"},
			{"moths: often", "0", "0"}},
		"score.need": {{"1", "40", "0.333333"}, {"3", "80", "0.666667"}},
		"stream":     {{"Saw it", "120", "1"}, {"Began", "120", "1"}},
	} {
		list, err := csv.NewReader(strings.NewReader(get(name + ".csv"))).ReadAll()
		require.NoError(t, err)
		assert.Equal(t, []string{"what", "count", "share", "expected"}, list[0])
		for i, row := range due {
			assert.Equal(t, row, list[1+i][:3], name)
		}
		var picture svg
		require.NoError(t, xml.Unmarshal([]byte(get(name+".svg")), &picture), name)
		bars := 0
		for _, rect := range picture.Rects {
			if !strings.HasPrefix(rect.Class, "bar") {
				continue
			}
			share, err := strconv.ParseFloat(list[1+bars][2], 64)
			require.NoError(t, err)
			assert.Equal(t, fmt.Sprintf("%.1f", 330*share), rect.Width, "%s, row %d", name, bars)
			assert.Equal(t, fmt.Sprint(70+30*bars), rect.Y)
			bars++
		}
		assert.Equal(t, len(list)-1, bars, "%s has a bar a row", name)
	}
	list, err := csv.NewReader(strings.NewReader(get("answer.crop.csv?source=letter&vs=others"))).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, []string{"apples", "16", "0.666667"}, list[1][:3])
	assert.Equal(t, []string{"64", "0.666667"}, list[1][4:])
	assert.Contains(t, get("answer.crop.svg?source=letter&vs=others"), "67 % against 67 %")
	for _, none := range []string{"nothing.svg", "answer.crop.png", "answer.crop", "stream.svg?outcome=hot",
		"answer.crop.svg?source=none"} {
		r, _ := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/pictures/%s", z.ID, none))
		assert.Equal(t, http.StatusNotFound, r.StatusCode, none)
	}
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
