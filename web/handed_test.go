package web_test

import (
	"database/sql"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// A rehearsal is handed to somebody, who says something on a phone; it is settled on the
// sheet; the link is withdrawn.
func TestHandedToSomebody(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	c := a.client(t).signIn()
	room := fmt.Sprintf("/studio/quizzes/%d/rehearse", z.ID)
	c.form(room+"/hands", "note", "Una", "days", "7")
	hands, err := a.store.Definitions.Hands(t.Context(), z.ID)
	require.NoError(t, err)
	require.Len(t, hands, 1)
	assert.WithinDuration(t, time.Now().AddDate(0, 0, 7), hands[0].Ends, time.Minute)

	p := a.newTabOf(t, 390, 844, true) // of somebody without an account
	p.open("/rehearse/" + hands[0].Token)
	assert.Contains(t, p.text("#remarks"), "This is a rehearsal.")
	p.axe("The opening of a rehearsal by its link")
	p.click("form .button")
	p.until("the first question", `document.querySelector("h1").textContent.includes("What do you grow?")`)
	p.click("#remarks summary")
	p.fill("#remarks textarea", "Are plums not cherries?")
	p.fill("#remarks [name=name]", "Una")
	p.click("#remarks .button")
	p.until("it is there", `document.querySelector("#remarks blockquote")?.textContent.includes("Are plums")`)
	p.axe("A question with a remark")

	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	assert.Contains(t, b.text("#part-q-crop .saidhere"), "Una Are plums not cherries?")
	b.axe("Sheet with a remark")
	b.fill("#part-q-crop .saidhere [name=answer]", "They have the same weight.")
	b.click("#part-q-crop .saidhere .button")
	b.until("it is settled", `!document.querySelector(".saidhere")`)
	b.open(room + "#remarks")
	assert.Contains(t, b.text("#remarks"), "settled")
	p.run(`location.reload()`)
	p.until("the answer comes to whoever said it",
		`document.querySelector("#remarks blockquote")?.textContent.includes("They have the same weight.")`)

	page := p.address()
	c.form(fmt.Sprintf("%s/hands/%d", room, hands[0].ID))
	p.open(strings.TrimSuffix(page, "#remarks"))
	assert.Contains(t, p.text("h1"), "This rehearsal is over")
	p.open("/rehearse/" + hands[0].Token)
	assert.Contains(t, p.text("h1"), "This rehearsal is over")
}

// A link that stays at a state shows it whatever happens to the draft; one that has ended
// opens nothing.
func TestAFrozenLink(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	c := a.client(t).signIn()
	room := fmt.Sprintf("/studio/quizzes/%d/rehearse", z.ID)
	c.form(room+"/hands", "state", "now", "days", "1")
	a.edit(t, z.ID, `[{"op":"replace","path":"/opening/heading","value":"Quite another heading"}]`)
	hands, err := a.store.Definitions.Hands(t.Context(), z.ID)
	require.NoError(t, err)
	somebody := walk{client: a.client(t)}
	_, page := somebody.follow("/rehearse/" + hands[0].Token)
	assert.Contains(t, page, "Is your orchard ready for hired bees?")
	assert.NotContains(t, page, "Quite another heading")
	ended, err := a.store.Definitions.NewHand(t.Context(), store.Hand{QuizID: z.ID, Ends: time.Now().Add(-time.Minute)})
	require.NoError(t, err)
	r, _ := somebody.get("/rehearse/" + ended.Token)
	assert.Equal(t, http.StatusGone, r.StatusCode)
}

// Nothing of a rehearsal is a response, a count, a booking or a use of a sign, whatever
// address is called by hand.
func TestNothingOfARehearsalIsKept(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead", "gone")
	m.Ask("want", quiz.Single, "hive", "nothing").Answers["nothing"].Then = &quiz.Then{Go: quiz.PartWays, To: "gone"}
	m.Ask("mail", quiz.Email)
	m.Contact = &quiz.Contact{Place: quiz.AfterResult,
		Fields: map[string]*quiz.Question{"name": {Kind: quiz.Name, Label: "Name"}}}
	m.Outcomes["lead"].Landings = map[string]*quiz.Landing{"sign": {Kind: quiz.RedirectLanding,
		Signpost: &quiz.Signpost{Table: "visits", Row: "all"}}}
	z := a.add(t, string(m.Write()))
	require.NoError(t, a.store.Definitions.PutSignposts(t.Context(),
		[]store.Signpost{{Table: "visits", Row: "all", Address: "https://example.org/visit"}}, 1))
	a.release(t, z)
	w := a.client(t).signIn().rehearsal(z)
	assert.Contains(t, w.goes("hive", "una@example.org"), "https://example.org/visit")
	w.form("/rehearsals/"+w.id+"/your-contact", "name", "Una")
	w.form(w.room+"/again", "walk", w.id)
	assert.Contains(t, w.goes("nothing"), "have not been kept")

	// Its number opens nothing as a passage's, and begins none.
	for _, path := range []string{"/p/" + w.id, "/p/" + w.id + "/want", "/p/" + w.id + "/end"} {
		r, _ := w.get(path)
		assert.Equal(t, http.StatusNotFound, r.StatusCode, path)
		r, _ = w.form(path, "asked", "want", "answer.want", "hive", "go", "on")
		assert.NotEqual(t, http.StatusOK, r.StatusCode, path)
	}
	for _, path := range []string{"/end", "/want", "/mail", "/away?to=https://example.org", "/a-remark",
		"/your-contact", "/nowhere", "/looks.css", ""} {
		w.get("/rehearsals/" + w.id + path)
		w.form("/rehearsals/"+w.id+path, "asked", "want", "answer.want", "hive", "about", "/questions/want",
			"words", "x", "go", "on")
	}
	w.get("/rehearsals/" + w.id + "/want?near=1,2")
	w.form(w.room+"/answer", "walk", w.id, "question", "want", "answer", "hive")

	n, err := a.store.Responses.Answered(t.Context(), z.ID)
	require.NoError(t, err)
	assert.Zero(t, n, "responses")
	for _, table := range []string{"responses", "passages", "screenings", "bookings", "contacts", "consents",
		"leads", "outcome_counts", "remarks"} {
		assert.Zero(t, a.count(t, table), table)
	}
	signs, err := a.store.Definitions.Signposts(t.Context())
	require.NoError(t, err)
	require.Len(t, signs, 1)
	assert.Nil(t, signs[0].Used, "nobody was sent there")
	r, _ := a.client(t).get(w.room)
	assert.Equal(t, http.StatusSeeOther, r.StatusCode, "the room is for those who have signed in")
	other := a.client(t).signIn()
	r, _ = other.form(fmt.Sprintf("/studio/quizzes/%d/rehearse/again", z.ID+1), "walk", w.id)
	assert.Equal(t, http.StatusNotFound, r.StatusCode, "a walk is of its quiz")
}

// count returns how many rows a table of the workspace has, asked beside the application.
func (a *app) count(t testing.TB, table string) (n int) {
	t.Helper()
	db, err := sql.Open("sqlite3", "file:"+a.file+"?mode=ro")
	require.NoError(t, err)
	defer db.Close()
	require.NoError(t, db.QueryRow("SELECT count(*) FROM "+table).Scan(&n))
	return n
}
