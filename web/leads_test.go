package web_test

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/emersion/go-ical"
	"github.com/emersion/go-vcard"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// A leadsRoom is a workspace with some leads of the demo's quiz about the season.
type leadsRoom struct {
	*app
	quiz    *store.Quiz
	release *store.Release
	program *program.Program
	users   map[string]uint
}

func newLeads(t testing.TB) *leadsRoom {
	t.Helper()
	a := newApp(t)
	data, err := os.ReadFile("../cmd/omphalos/demo/season.json")
	require.NoError(t, err)
	z := a.add(t, string(data))
	r := a.release(t, z)
	q, err := r.Read()
	require.NoError(t, err)
	p, err := program.Compile(q)
	require.NoError(t, err)
	room := &leadsRoom{a, z, r, p, map[string]uint{}}
	for _, name := range []string{"Ada", "Joss"} {
		require.NoError(t, a.store.People.PutUser(t.Context(), strings.ToLower(name)+"@quillbrook.example", name, password))
	}
	users, err := a.store.People.Users(t.Context())
	require.NoError(t, err)
	for _, u := range users {
		room.users[u.Name] = u.ID
	}
	room.comes(t, "Maren Okafor", "maren@tallow.example", map[string]string{"crop": "cherries", "decides": "me",
		"hectares": "12"})
	room.comes(t, "Iwan Petit", "iwan@petit.example", map[string]string{"crop": "apples", "hectares": "2"})
	room.comes(t, "Noor van Dijk", "noor@dijk.example", map[string]string{"crop": "apples", "decides": "me"})
	return room
}

// comes is somebody who goes through the quiz and says who they are.
func (a *leadsRoom) comes(t testing.TB, name, mail string, answers map[string]string) {
	t.Helper()
	in := passage.Input{Answers: make(program.Answers, len(a.program.Questions)),
		Visitor: &program.Visitor{Country: "IE", Source: "letter"}}
	for i := range in.Answers {
		if value := answers[a.program.Key(i)]; value != "" {
			var err error
			in.Answers[i], err = a.program.Read(i, program.Typed{Values: []string{value}})
			require.NoError(t, err)
		}
	}
	response := store.Record(a.program, in, passage.NewWalker(a.program).Walk(in))
	response.Contacts = []store.Contact{{Field: "name", Kind: quiz.Name, Value: name},
		{Field: "mail", Kind: quiz.Email, Value: mail}}
	response.Consents = []store.Consent{{Field: "agree", Words: "Quillbrook may write to me.",
		Privacy: "https://quillbrook.example/privacy"}}
	begun := store.Begin("", a.release, a.quiz.Slug, *in.Visitor)
	response.Of(begun)
	response.Finished = time.Now().UTC()
	require.NoError(t, a.store.Responses.AddResponses(t.Context(), []*store.Response{response}))
}

// who are the names in the list.
func (b *tab) who() string {
	return read[string](b, `[...document.querySelectorAll(".people .who a")].map((a) => a.textContent).join(", ")`)
}

// opens waits until somebody is open beside the list.
func (b *tab) opens(name string) {
	b.t.Helper()
	b.until(name+" is open",
		fmt.Sprintf(`document.querySelector(".person h2")?.textContent === %q && document.querySelector("tr[aria-current] .who a")?.textContent === %[1]q`, name))
}

// done sends a form, and returns the page that comes of it.
func (c *client) done(path string, pairs ...string) string {
	c.t.Helper()
	answer, page := c.form(path, pairs...)
	if answer.StatusCode == http.StatusSeeOther {
		_, page = c.get(answer.Header.Get("Location"))
	}
	return page
}

// Leads are worked by keyboard, and what was done is taken back.
func TestLeadsByKeyboard(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/leads")
	assert.Equal(t, "Noor van Dijk, Iwan Petit, Maren Okafor", b.who())
	b.axe("Leads")
	b.keys("j")
	b.opens("Noor van Dijk")
	b.keys("j")
	b.opens("Iwan Petit")
	b.keys("k")
	b.opens("Noor van Dijk")
	b.run(`document.querySelectorAll(".person details").forEach((d) => { d.open = true; })`)
	b.axe("A lead")
	assert.Contains(t, b.text(".person"), "Promise of")
	b.keys("?")
	b.until("the keys are told", `document.querySelector(".person .keys")?.checkVisibility()`)
	b.keys("3")
	b.until("won", `document.querySelector("tr[aria-current] .leadstate").textContent === "won"`)
	assert.Contains(t, b.text(".flash"), "Noor van Dijk: now “won”")
	b.keys("u")
	b.until("new again", `document.querySelector("tr[aria-current] .leadstate").textContent === "new"`)
	b.keys("n")
	b.until("the note has the focus", `document.activeElement.name === "note"`)
	b.fill("[name=note]", "Called back at nine; wants twelve hives.")
	b.run(`document.activeElement.form.requestSubmit()`)
	b.until("it is kept", `document.querySelector(".happened")?.textContent.includes("wants twelve hives")`)
	b.fill("[name=note]", "Half a note")
	b.keys(kb.Escape)
	b.keys("j")
	b.opens("Iwan Petit")
	b.keys("k")
	b.opens("Noor van Dijk")
	b.until("what was being written is there", `document.querySelector("[name=note]").value === "Half a note"`)
	b.run(`{ const to = document.querySelector(".hands [name=owner]"); to.value = [...to.options].find((o) => o.text === "Joss").value; to.dispatchEvent(new Event("change", { bubbles: true })); }`)
	b.until("in Joss’s hands", `document.querySelector("tr[aria-current]").textContent.includes("Joss")`)

	// Whoever comes meanwhile appears by themselves.
	a.comes(t, "Sunniva Ekberg", "sunniva@northfold.example", map[string]string{"crop": "apples"})
	b.until("she appears", `document.querySelector(".people .who a").textContent === "Sunniva Ekberg"`)
	b.opens("Noor van Dijk") // still
	assert.Equal(t, "Half a note", b.value("[name=note]"))

	// Many at once, and back.
	b.keys("k")
	b.opens("Sunniva Ekberg")
	b.keys("x")
	b.keys("j")
	b.opens("Noor van Dijk")
	b.keys("x")
	b.until("both are picked", `document.querySelector(".manyleads").textContent.includes("2 picked")`)
	b.run(`document.querySelector("[name=all]").click(); document.querySelector("#many [name=state]").value = "talks"; document.querySelector("#many .button").click()`)
	b.until("all are in talks",
		`[...document.querySelectorAll(".people .leadstate")].every((s) => s.textContent === "in talks")`)
	b.keys("u")
	b.until("all are new", `[...document.querySelectorAll(".people .leadstate")].every((s) => s.textContent === "new")`)
	b.keys("/")
	b.until("the search has the focus", `document.activeElement.name === "search"`)
	b.fill("[name=search]", "tallow")
	b.keys(kb.Enter)
	b.until("one is found", `document.querySelectorAll(".people .who").length === 1`)
	assert.Equal(t, "Maren Okafor", b.who())

	// Two are put together, and one is erased.
	b.keys(kb.Escape)
	b.keys("j")
	b.opens("Maren Okafor")
	b.run(`document.querySelectorAll(".person details").forEach((d) => { d.open = true; })`)
	b.fill(".person [name=known]", "iwan@petit.example")
	b.keys(kb.Enter)
	b.until("they are one", `document.querySelector(".flash")?.textContent.includes("They are one lead now")`)
	assert.Contains(t, b.text(".happened"), "put together with Iwan Petit")
	b.run(`document.querySelectorAll(".person details").forEach((d) => { d.open = true; })`)
	b.click(".person [name=sure]")
	b.run(`document.querySelector(".person [name=sure]").form.requestSubmit()`)
	b.until("they are erased",
		`document.querySelector(".flash")?.textContent.includes("They are erased, with 2 responses")`)
	b.open("/studio/leads")
	assert.Equal(t, "Sunniva Ekberg, Noor van Dijk", b.who())
}

// A lead is put together with another, parted again, and erased; a view is kept.
func TestALeadIsOnePerson(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	a.comes(t, "Iwan Petit", "iwan.petit@home.example", map[string]string{"crop": "cherries"}) // who does not say so
	a.comes(t, "I. Petit", "IWAN@petit.example", map[string]string{"crop": "cherries"})        // who does
	c := a.client(t).signIn()
	assert.Contains(t, c.says("/studio/leads?lead=2"), "2 responses")
	page := c.done("/studio/leads/person/2/merge", "other", "4", "back", "lead=2")
	assert.Contains(t, plainly(page), "They are one lead now")
	assert.Contains(t, c.says("/studio/leads?lead=2"), "3 responses")
	assert.Contains(t, c.says("/studio/leads?lead=2"), "put together with Iwan Petit")
	page = c.done("/studio/leads/person/1/merge", "known", "nobody@example.org", "back", "lead=1")
	assert.Contains(t, plainly(page), "Nothing was put together")
	page = c.done("/studio/leads/person/2/merge", "known", "IWAN@petit.example", "back", "lead=2")
	assert.Contains(t, plainly(page), "This is the same lead already.")
	page = c.done("/studio/leads/person/2/part", "quiz", "1", "number", "4", "back", "lead=2")
	assert.Contains(t, plainly(page), "Iwan Petit is a lead of its own now")
	page = c.done("/studio/leads/views", "name", "  By   letter ", "back", "source=letter&state=new&nonsense=1")
	assert.Contains(t, page, "By letter")
	assert.Contains(t, page, `href="/studio/leads?source=letter&amp;state=new"`)
	page = c.done("/studio/leads/change", "ids", "2", "state", "nowhere", "back", "lead=2")
	assert.Contains(t, plainly(page), "Nothing was changed. There is no such state any more.")
	page = c.done("/studio/leads/change", "ids", "2", "next", "soon", "back", "lead=2")
	assert.Contains(t, plainly(page), "Nothing was changed. This is no day")
	page = c.done("/studio/leads/change", "ids", "2", "note", "   ", "back", "lead=2")
	assert.Contains(t, plainly(page), "Nothing was changed. A note has 1 to 4000 letters.")
	page = c.done("/studio/leads/change", "back", "", "state", "won")
	assert.Contains(t, plainly(page), "pick at least one lead first")
	page = c.done("/studio/leads/change", "ids", "2", "objected", "yes", "back", "lead=2")
	assert.Contains(t, plainly(page), "Objects to being written to or called.")
	page = c.done("/studio/leads/person/2/erase", "back", "lead=2")
	assert.Contains(t, plainly(page), "I. Petit", "nobody goes without being sure")
	page = c.done("/studio/leads/person/2/erase", "sure", "yes", "back", "lead=2")
	assert.Contains(t, plainly(page), "They are erased, with 2 responses")
	assert.NotContains(t, plainly(page), "I. Petit")
	for _, gone := range []string{"/person/2/everything.json", "/person/2/card.vcf", "/person/99/next.ics"} {
		response, _ := c.get("/studio/leads" + gone)
		assert.Equal(t, http.StatusNotFound, response.StatusCode)
	}
	assert.Equal(t, 3, a.count(t, "leads"))
}

// Leads are named by what they answered, too, as the responses of a quiz are.
func TestLeadsByWhatTheyAnswered(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	c := a.client(t).signIn()
	names := func(query string) (list []string) {
		_, body := c.get("/studio/leads/leads.csv?sort=finished&" + query)
		table, err := csv.NewReader(strings.NewReader(body)).ReadAll()
		require.NoError(t, err)
		for _, row := range table[1:] {
			list = append(list, row[1])
		}
		return list
	}
	all := []string{"Maren Okafor", "Iwan Petit", "Noor van Dijk"}
	assert.Equal(t, all, names(""))
	today := time.Now().UTC().Format(time.DateOnly)
	assert.Equal(t, all, names("from="+today+"&to="+today))
	assert.Empty(t, names("to=2020-01-01"))
	assert.Equal(t, all[1:], names("quiz=1&answer.crop=apples"))
	assert.Equal(t, all[2:], names("quiz=1&answer.crop=apples&answer.decides=me"))
	assert.Equal(t, all[:1], names("quiz=1&amount.hectares=10.."))
	assert.Equal(t, all[2:], names("quiz=1&answer.crop=apples&search=noor"))
	assert.Empty(t, names("quiz=1&answer.crop=pears"))
	assert.Equal(t, all, names("answer.crop=pears"), "without a quiz it asks nothing")
	assert.Empty(t, names("quiz=99&answer.crop=pears"))
	assert.Equal(t, all, names("quiz=1&score.nothing=x&answer.=&reach=high&to=soon&next=nonsense"),
		"what can't be read asks nothing")
	said := c.says("/studio/leads?quiz=1&answer.crop=apples")
	assert.Contains(t, said, "who answered “Apples” to “What do you grow most of?”")
	assert.Contains(t, said, "2 of 3 leads")
	assert.Equal(t, all, names("quiz=1&release=1"))
	assert.Empty(t, names("quiz=1&release=7"))
	assert.Empty(t, names("quiz=1&pressed=page.none"))
	assert.Contains(t, c.says("/studio/leads?quiz=1&release=1"), "who took release 1")
	_, page := c.get("/studio/quizzes/1/learn?answer.crop=apples&outcome=wild&release=1&contact=yes")
	assert.Contains(t, page, "/studio/leads?answer.crop=apples&amp;outcome=1%2Fwild&amp;quiz=1&amp;release=1")
}

// Who searches again keeps the days and loses the old words, and who opens a lead of a later page
// stays on that page.
func TestTheSentenceOfLeadsIsKept(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/leads?search=iwan&from=2020-01-01")
	assert.Equal(t, "Iwan Petit", b.who())
	b.fill("[type=search]", "noor")
	b.press("[type=search]", kb.Enter)
	b.until("the second search is done", `document.querySelector(".people .who a").textContent === "Noor van Dijk"`)
	assert.Equal(t, "?from=2020-01-01&search=noor", read[string](b, "location.search"))
	b.open("/studio/leads?after=3")
	assert.Equal(t, "Iwan Petit, Maren Okafor", b.who())
	b.click(".people .who a")
	b.opens("Iwan Petit")
	assert.Equal(t, "Iwan Petit, Maren Okafor", b.who())
	b.keys("3")
	b.until("won", `document.querySelector("tr[aria-current] .leadstate").textContent === "won"`)
	assert.Equal(t, "Iwan Petit, Maren Okafor", b.who())
}

// Leads are taken out as they are read by others: tables, cards, a calendar, everything about one.
func TestLeadsAreTakenOut(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	c := a.client(t).signIn()
	day, note, joss := time.Now().AddDate(0, 0, 3).Format(time.DateOnly), "=HYPERLINK(\"x\")", a.users["Joss"]
	_, err := a.store.Responses.ChangeLeads(t.Context(), []int{1}, store.LeadChange{Next: &day, Note: &note,
		Owner: &joss}, 1)
	require.NoError(t, err)
	_, body := c.get("/studio/leads/leads.csv?search=tallow")
	table, err := csv.NewReader(strings.NewReader(body)).ReadAll()
	require.NoError(t, err)
	require.Len(t, table, 2)
	row := map[string]string{}
	for i, key := range table[0] {
		row[key] = table[1][i]
	}
	assert.Equal(t, []string{"Maren Okafor", "maren@tallow.example", "new", "Joss", day, "IE", "letter", "1"},
		[]string{row["name"], row["email"], row["state"], row["owner"], row["next"], row["country"],
			row["source"], row["response"]})

	_, body = c.get("/studio/leads/leads.vcf?sort=finished")
	cards, names := vcard.NewDecoder(strings.NewReader(body)), []string{}
	for v, err := cards.Decode(); err == nil; v, err = cards.Decode() {
		names = append(names, v.PreferredValue(vcard.FieldFormattedName)+" "+v.Value(vcard.FieldEmail))
	}
	assert.Equal(t, []string{"Maren Okafor maren@tallow.example", "Iwan Petit iwan@petit.example",
		"Noor van Dijk noor@dijk.example"}, names)

	_, body = c.get("/studio/leads/person/1/next.ics")
	calendar, err := ical.NewDecoder(strings.NewReader(body)).Decode()
	require.NoError(t, err)
	at, err := calendar.Events()[0].DateTimeStart(time.UTC)
	require.NoError(t, err)
	assert.Equal(t, day, at.Format(time.DateOnly))
	assert.Equal(t, "Next step with Maren Okafor", calendar.Events()[0].Props.Get(ical.PropSummary).Value)

	_, body = c.get("/studio/leads/person/1/everything.json")
	var all struct {
		Name      string
		History   []struct{ What string }
		Responses []struct {
			Answers  []struct{ Question, Answer, Adds string }
			Why      []string
			Contact  map[string]string
			Consents []struct{ Words string }
		}
	}
	require.NoError(t, json.Unmarshal([]byte(body), &all))
	assert.Equal(t, "Maren Okafor", all.Name)
	require.Len(t, all.Responses, 1)
	assert.Equal(t, "maren@tallow.example", all.Responses[0].Contact["mail"])
	assert.Len(t, all.Responses[0].Answers, 3)
	assert.NotEmpty(t, all.Responses[0].Why)
	assert.Equal(t, "Quillbrook may write to me.", all.Responses[0].Consents[0].Words)
	assert.Equal(t, note, all.History[0].What)
	_, body = c.get("/studio/leads/person/1/everything.html")
	assert.Contains(t, plainly(body), "Everything that is kept about one person")
	assert.NotContains(t, body, "<script")
}

// What is settled about leads is kept, or told why it can't be.
func TestSettingsOfLeads(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/leads/settings")
	b.axe("Settings of leads")
	c := a.client(t).signIn()
	states := []string{"key", "new", "name", "just in", "end", "", "key", "won", "name", "bought", "end", "won",
		"key", "lost", "name", "no", "end", "lost"}
	page := c.done("/studio/leads/settings", append(states, "days", "3", "sure", "yes")...)
	assert.Contains(t, plainly(page), "leads are kept for 7 days at least")
	page = c.done("/studio/leads/settings", append(states, "days", "30")...)
	assert.Contains(t, plainly(page), "Say that you are sure")
	page = c.done("/studio/leads/settings", append(states, "rule.0.quiz", "", "rule.0.country", "Ireland",
		"rule.0.owner", fmt.Sprint(a.users["Ada"]))...)
	assert.Contains(t, plainly(page), "is no country")
	talks := store.InTalks
	_, err := a.store.Responses.ChangeLeads(t.Context(), []int{1}, store.LeadChange{State: &talks}, 1)
	require.NoError(t, err)
	assert.Contains(t, plainly(c.done("/studio/leads/settings", states...)), "1 lead is in a state that is taken out")
	page = c.done("/studio/leads/settings", append(states, "days", "soon", "rule.0.quiz", "1", "rule.0.country",
		"ie", "rule.0.percent", "many")...)
	for _, typed := range []string{`value="soon"`, `value="ie"`, `value="many"`, `name="rule.1.quiz"`} {
		assert.Contains(t, page, typed, "nothing that was typed is lost")
	}
	page = c.done("/studio/leads/settings", append(states, "days", "30", "anonymous", "yes", "sure", "yes",
		"rule.0.quiz", "1", "rule.0.country", "ie", "rule.0.percent", "10", "rule.0.owner", fmt.Sprint(a.users["Ada"]))...)
	assert.Contains(t, plainly(page), "The settings are kept.")
	assert.Contains(t, plainly(page), "Within the next seven days no lead comes of that age.")
	a.comes(t, "Kirra Dunne", "kirra@dunne.example", map[string]string{"crop": "cherries", "decides": "me",
		"hectares": "20"})
	assert.Contains(t, c.says("/studio/leads?"+url.Values{"owner": {fmt.Sprint(a.users["Ada"])}}.Encode()), "Kirra Dunne")

	// Those who are old are made anonymous: their answers count on.
	require.NoError(t, a.database(t).Exec("UPDATE leads SET latest = '2026-01-01 00:00:00+00:00', "+
		"changed = '2026-01-01 00:00:00+00:00' WHERE id < 3").Error)
	n, err := a.store.Responses.ForgetLeads(t.Context(), time.Now())
	require.NoError(t, err)
	assert.Equal(t, 2, n)
	n, err = a.store.Responses.ForgetLeads(t.Context(), time.Now())
	require.NoError(t, err)
	assert.Zero(t, n, "once is enough")
	assert.NotContains(t, c.says("/studio/leads"), "Maren")
	assert.Contains(t, c.says(fmt.Sprintf("/studio/quizzes/%d/learn", a.quiz.ID)), "4 responses")
	_, page = c.get(fmt.Sprintf("/studio/quizzes/%d/learn/1", a.quiz.ID))
	assert.NotContains(t, page, "maren@")
	assert.Contains(t, page, "Cherries")
}

// BenchmarkLeads is the room with a million leads: the list, filtered, sorted, a page further on,
// searched, and with one open.
func BenchmarkLeads(b *testing.B) {
	quiet(b)
	a := newLeads(b)
	c := a.client(b).signIn()
	require.NoError(b, a.database(b).Exec(`
		WITH RECURSIVE n(i) AS (SELECT 100 UNION ALL SELECT i + 1 FROM n WHERE i < 1000099)
		INSERT INTO leads (id, workspace_id, state, changed, owner_id, name, company, email, quiz_id, release_id, number, outcome, standing, reach, score,
			source, country, language, device, first, latest, responses, words)
		SELECT i, 1, CASE i % 7 WHEN 0 THEN 'won' WHEN 1 THEN 'lost' WHEN 2 THEN 'talks' ELSE 'new' END, '2026-11-01 00:00:00+00:00', i % 3,
			'Name ' || i, 'Farm ' || (i * 7919 % 100003), 'name' || i || '@example.org', 1, 1, i, CASE i % 3 WHEN 0 THEN 'team' ELSE 'spring' END,
			CASE i % 3 WHEN 0 THEN 'fit' ELSE 'keep warm' END, i * 7907 % 1001, '12', CASE i % 4 WHEN 0 THEN 'letter' WHEN 1 THEN 'fair' ELSE '' END,
			CASE i % 5 WHEN 0 THEN 'IE' ELSE 'NL' END, 'en', 'phone', datetime('2026-01-01', i || ' seconds'), datetime('2026-01-01', i * 25 || ' seconds'), 1,
			'name ' || i || char(10) || 'farm ' || (i * 7919 % 100003) || char(10) || 'name' || i || '@example.org' || char(10)
		FROM n`).Error)
	began := time.Now()
	require.NoError(b, a.store.Responses.Index(b.Context()))
	b.ReportMetric(time.Since(began).Seconds(), "read-s")
	b.ReportMetric(0, "ns/op")
	for _, query := range []string{"", "?state=new&source=letter", "?state=won&sort=-reach&country=IE",
		"?state=new&after=500000", "?search=farm+4711", "?lead=4712"} {
		b.Run(query, func(b *testing.B) {
			var took []float64
			c.get("/studio/leads" + query)
			for b.Loop() {
				began := time.Now()
				answer, _ := c.get("/studio/leads" + query)
				require.Equal(b, http.StatusOK, answer.StatusCode)
				took = append(took, float64(time.Since(began).Milliseconds()))
			}
			slices.Sort(took)
			b.ReportMetric(took[len(took)*95/100], "p95-ms")
		})
	}
}
