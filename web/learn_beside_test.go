package web_test

import (
	"encoding/csv"
	"encoding/xml"
	"fmt"
	"html"
	"io"
	"math"
	"net/http"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/stat"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// A file that breaks off is not taken for a whole one.
func TestAnExportThatBreaksOff(t *testing.T) {
	t.Parallel()
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

// A battery that is one grid is measured by its rows, of those who answered all of them:
// Cronbach's alpha is what its definition gives by gonum's variances.
func TestABatteryOfOneGrid(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("only")
	m.Scale("mood", quiz.Mean).Name = "Mood"
	g := m.Ask("g", quiz.Grid, "c0", "c1 mood=1", "c2 mood=2", "c3 mood=3", "c4 mood=4")
	g.Rows = map[string]*quiz.Row{}
	for i := range 4 {
		g.Rows[fmt.Sprint("r", i)] = &quiz.Row{Order: float64(i), Label: fmt.Sprint("row ", i), Reversed: i == 3}
	}
	z := a.add(t, string(m.Write()))
	r := a.release(t, z)
	var list []*store.Response
	var items [4][]float64
	var totals []float64
	for person := range 90 {
		one := &store.Response{QuizID: z.ID, ReleaseID: r.ID, Passage: store.PassageNumber(), Finished: time.Now(), Visitor: "{}"}
		total, whole := 0.0, person%9 != 0 // a ninth leave a row alone
		for i := range 4 {
			column := (person/2 + person*i%3) % 5
			if i == 2 && !whole {
				continue
			}
			points := float64(column)
			if i == 3 {
				points = 4 - points
			}
			one.Answers = append(one.Answers, store.ResponseAnswer{Question: "g", Row: fmt.Sprint("r", i),
				Answer: fmt.Sprint("c", column)})
			if total += points; whole {
				items[i] = append(items[i], points)
			}
		}
		if list = append(list, one); whole {
			totals = append(totals, total)
		}
	}
	require.NoError(t, a.store.Responses.AddResponses(t.Context(), list))
	sum := 0.0
	for _, item := range items {
		sum += stat.Variance(item, nil)
	}
	alpha := 4. / 3 * (1 - sum/stat.Variance(totals, nil))
	_, page := a.client(t).signIn().get(fmt.Sprintf("/studio/quizzes/%d/learn/measures", z.ID))
	page = plainly(page)
	assert.Contains(t, page, "alpha "+decimal.Decimal(math.Round(100*alpha)*1e4).Words())
	assert.Contains(t, page, "80 people answered all of these; 10 who did not are left out")
	assert.Contains(t, page, "1.3 g · row 2")
}

// How the quiz measures is what counting one by one gives.
func TestHowItMeasures(t *testing.T) {
	t.Parallel()
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
	assert.Contains(t, page, "120 people answered all of these")
	_, none := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/measures?answer.one=maybe", z.ID))
	assert.Contains(t, none, "No question adds to a scale here.")
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	b.click(`a[href$="/learn/measures"]`)
	b.axe("Learn, how it measures")
}

// Every figure goes out as a picture and as the table that it shows; both say what counting
// one by one gives.
func TestFiguresGoOut(t *testing.T) {
	t.Parallel()
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
	assert.Equal(t, []string{"64", "0.666667", "from letter"}, list[1][4:])
	assert.Contains(t, get("answer.crop.svg?source=letter&vs=others"), "67 % against 67 %")
	for _, none := range []string{"nothing.svg", "answer.crop.png", "answer.crop", "stream.svg?outcome=hot",
		"answer.crop.svg?source=none"} {
		r, _ := c.get(fmt.Sprintf("/studio/quizzes/%d/learn/pictures/%s", z.ID, none))
		assert.Equal(t, http.StatusNotFound, r.StatusCode, none)
	}
}
