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

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// A response is told in words: the names of places, times in the quiz's zone, labels as
// they were filled in, true minus signs, a quote by its lines, consent as it was seen.
func TestAResponseIsToldInWords(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("any")
	m.Settings = &quiz.Settings{TimeZone: "Europe/Dublin"}
	m.Scales["price"] = &quiz.Scale{
		Order:    1,
		Name:     "Price",
		Kind:     quiz.Money,
		Currency: "EUR",
		Fees: map[string]*quiz.Fee{
			"card": {Name: "Card fee", Percent: decimal.Must("2.9"), Fixed: decimal.Must("0.30")},
		},
	}
	m.Scales["mood"] = &quiz.Scale{Order: 2, Name: "Mood", Kind: quiz.Points}
	m.Ask("crop", quiz.Single, "apples price=45 mood=-3", "pears")
	m.Ask("frames", quiz.Number).Label = "How many frames for your {crop}?"
	m.Questions["frames"].Weigh = map[string]*quiz.Weighing{"price": {Factor: new(decimal.Decimal)}}
	*m.Questions["frames"].Weigh["price"].Factor = decimal.Must("12.35")
	m.Questions["frames"].Limits = &quiz.Limits{Unit: "frames"}
	m.Ask("extras", quiz.Several, "net price=8.5", "voucher price=-20", "none")
	m.Ask("yard", quiz.Location).Table = "yards"
	m.Ask("time", quiz.Appointment).Table = "visits"
	m.Ask("ok", quiz.Consent).Label = "We may write about the *{crop}*, as [our notice](https://example.org/n) says"
	m.Outcomes["any"].Landings["page"].Blocks = map[string]*quiz.Block{
		"a": {Order: 1, Kind: quiz.TextBlock, Text: "See you at {yard} on {time}."},
		"b": {Order: 2, Kind: quiz.BillBlock, Scale: "price"},
	}
	a.calendar(t, "visits")
	require.NoError(
		t,
		a.store.Definitions.PutPlaces(
			t.Context(),
			[]store.Place{{Table: "yards", Key: "n1", Name: "North yard", Latitude: 54, Longitude: -8}},
		),
	)
	z := a.add(t, string(m.Write()))
	a.release(t, z)

	c := a.client(t)
	at := "/q/" + z.Slug
	answer := func(key string, values ...string) {
		form := []string{"asked", key, "go", "on"}
		for _, value := range values {
			form = append(form, "answer."+key, value)
		}
		r, page := c.form(at, form...)
		require.Equal(t, http.StatusSeeOther, r.StatusCode, page)
		at = r.Header.Get("Location")
	}
	answer("crop", "apples")
	answer("frames", "3")
	answer("extras", "net", "voucher")
	answer("yard", "n1")
	_, page := c.get(at)
	_, rest, _ := strings.Cut(page, `name="answer.time" value="`)
	slotAt, _, _ := strings.Cut(rest, `"`)
	answer("time", slotAt)
	_, seen := c.get(at)
	answer("ok", "yes")
	_, result := c.get(at)

	dublin, err := time.LoadLocation("Europe/Dublin")
	require.NoError(t, err)
	slot, err := time.Parse(time.RFC3339, slotAt)
	require.NoError(t, err)
	when := slot.In(dublin).Format("Monday 2 January 2006, 15:04")
	assert.Contains(t, result, "See you at North yard on "+when+".")
	assert.Contains(t, seen, "We may write about the <em>apples</em>")

	_, page = c.signIn().get(fmt.Sprintf("/studio/quizzes/%d/learn/1", z.ID))
	page = strings.ReplaceAll(strings.Join(strings.Fields(html.UnescapeString(page)), " "), " </td>", "</td>")
	for _, said := range []string{"How many frames for your apples?", "3 frames", "North yard", when, "Mood</span> −3",
		"apples</td>", "45.00", "3 frames × 12.35", "37.05", "net</td>", "8.50", "voucher</td>", "−20.00",
		"Sum</td>", "70.55", "Card fee", "2.9 % + 0.30", "2.35", "72.90 EUR",
		"We may write about the apples, as our notice says ("} {
		assert.Contains(t, page, said)
	}
	for _, raw := range []string{"{crop}", "n1", slotAt, ">-3"} {
		assert.NotContains(t, page, raw)
	}
	_, page = c.get(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	assert.Contains(t, page, "−3")
}

// Many responses come in pages by their numbers, there and back again.
func TestResponsesComeInPages(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("any")
	m.Ask("first", quiz.Single, "a", "b")
	z := a.add(t, string(m.Write()))
	r := a.release(t, z)
	var all []*store.Response
	for range 120 {
		p := store.Begin("", r, z.Slug, program.Visitor{})
		all = append(
			all,
			&store.Response{
				QuizID:    z.ID,
				ReleaseID: r.ID,
				Passage:   p.ID,
				Outcome:   "any",
				Started:   time.Now(),
				Finished:  time.Now(),
			},
		)
	}
	require.NoError(t, a.store.Responses.AddResponses(t.Context(), all))
	c := a.client(t).signIn()
	numbers := func(page string) (first, last string) {
		found := regexp.MustCompile(`No\. (\d+)<`).FindAllStringSubmatch(page, -1)
		return found[0][1], found[len(found)-1][1]
	}
	link := func(page, name string) string {
		found := regexp.MustCompile(`href="([^"]*)">` + name + `<`).FindStringSubmatch(page)
		if found == nil {
			return ""
		}
		return found[1]
	}
	at := fmt.Sprintf("/studio/quizzes/%d/learn", z.ID)
	for _, want := range []struct{ way, first, last string }{{"Older", "120", "71"}, {"Older", "70", "21"},
		{"Newer", "20", "1"}, {"Newer", "70", "21"}, {"", "120", "71"}} {
		_, page := c.get(at)
		first, last := numbers(page)
		assert.Equal(t, []string{want.first, want.last}, []string{first, last}, at)
		if want.way != "" {
			at = link(page, want.way)
			require.NotEmpty(t, at)
		} else {
			assert.Empty(t, link(page, "Newer"))
		}
	}
	one := fmt.Sprintf("/studio/quizzes/%d/learn/119", z.ID)
	c.form(one + "/delete")
	answer, page := c.get(one)
	assert.Equal(t, http.StatusOK, answer.StatusCode, "not without being sure")
	assert.Contains(t, page, "Delete this response")
	c.form(one+"/delete", "sure", "yes")
	answer, _ = c.get(one)
	assert.Equal(t, http.StatusNotFound, answer.StatusCode)
	_, page = c.get(fmt.Sprintf("/studio/quizzes/%d/learn", z.ID))
	assert.Contains(t, page, `<p class="big">119</p>`)
	for _, beyond := range []string{"?before=1", "?after=500"} {
		answer, _ := c.get(fmt.Sprintf("/studio/quizzes/%d/learn%s", z.ID, beyond))
		assert.Equal(t, http.StatusSeeOther, answer.StatusCode)
	}
}

// What somebody said of themselves is corrected by right, as the quiz reads it; what it does
// not take is told, and nothing changes.
func TestContactIsCorrected(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("any")
	m.Ask("who", quiz.Email).Label = "Your e-mail"
	m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
		Fields: map[string]*quiz.Question{"name": {Kind: quiz.Name, Label: "Name"}}}
	z := a.add(t, string(m.Write()))
	r := a.release(t, z)
	require.NoError(t, a.store.Responses.AddResponses(t.Context(), []*store.Response{{
		QuizID: z.ID, ReleaseID: r.ID, Passage: store.PassageNumber(), Outcome: "any", Finished: time.Now(), Visitor: "{}",
		Asked: []store.Stop{{Question: "who", Seconds: 75}},
		Contacts: []store.Contact{{Field: "who", Kind: quiz.Email, Value: "an@example.org"},
			{Field: "name", Kind: quiz.Name, Value: "An"}},
	}}))
	c := a.client(t).signIn()
	at := fmt.Sprintf("/studio/quizzes/%d/learn/1", z.ID)
	values := func() map[string]string {
		kept, err := a.store.Responses.Response(t.Context(), z.ID, 1)
		require.NoError(t, err)
		values := map[string]string{}
		for _, c := range kept.Contacts {
			values[c.Field] = c.Value
		}
		return values
	}
	_, page := c.get(at)
	assert.Contains(t, page, "75 s", "how long they stayed")
	c.form(at+"/contact", "field", "who", "value", " ann@example.org ")
	c.form(at+"/contact", "field", "name", "value", "Ann")
	assert.Equal(t, map[string]string{"who": "ann@example.org", "name": "Ann"}, values())
	c.form(at+"/contact", "field", "who", "value", "ann at home")
	_, page = c.get(at)
	assert.Contains(t, html.UnescapeString(page), "“ann at home” is not kept.")
	c.form(at+"/contact", "field", "name", "value", "")
	assert.Equal(t, map[string]string{"who": "ann@example.org"}, values())
	for _, wrong := range []string{"name", "nobody"} { // it is not there any more
		r, _ := c.form(at+"/contact", "field", wrong, "value", "X")
		assert.Equal(t, http.StatusNotFound, r.StatusCode, wrong)
	}
	b := a.newTab(t)
	b.signIn()
	b.open(at)
	b.axe("A response")
	b.click(".correct summary")
	b.fill(".correct [name=value]", "anne@example.org")
	b.click(".correct .button")
	b.until("it is corrected", `document.querySelector(".list td").textContent.includes("anne@example.org")`)
}
