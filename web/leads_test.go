package web_test

import (
	"encoding/csv"
	"fmt"
	"net/http"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
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
	b.fill("[name=note]", "Pays by month.")
	b.run(`window.atOnce = fetch; window.fetch = async (...all) => { const kept = await atOnce(...all); await new Promise((done) => setTimeout(done, 800)); return kept; }`)
	b.run(`document.querySelector("[name=note]").focus(); document.activeElement.form.requestSubmit()`)
	b.types(" Half a note")
	b.until("the first is kept", `document.querySelector(".happened")?.textContent.includes("Pays by month.")`)
	assert.NotContains(t, b.text(".happened"), "Half a note")
	b.until("the second is still written", `document.activeElement.value === "Half a note"`)
	b.run(`window.fetch = window.atOnce`)
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
