package web_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// A closed tab is no loss on the same device; another device begins anew.
func TestAClosedTabIsTakenUp(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	a.release(t, z)
	p := a.atFirstQuestion(t, z)
	p.tap("[value=cherries]")
	p.asked("size")
	again := p.beside()
	again.open("/q/" + z.Slug + "?utm_source=elsewhere")
	assert.Equal(t, "Go on where you were", again.text(".button.wide"))
	again.axe("opening with a way back in")
	again.click(".button.wide")
	again.asked("size")
	again.tap("[value=middle]")
	p.do(chromedp.Reload())
	p.asked("size")
	assert.True(t, read[bool](p, `document.querySelector("[value=middle]").checked`), "the other tab's answer")

	other := a.newTabOf(t, 390, 844, true)
	other.open("/q/" + z.Slug)
	assert.Equal(t, 1, read[int](other, `document.querySelectorAll(".button").length`))
	skip := a.newTabOf(t, 390, 844, true)
	skip.open("/q/" + z.Slug + "?start=now")
	skip.asked("crop")
	skip.tap("[value=cherries]")
	skip.asked("size")
}

// What says who somebody is is not on disk before the passage is finished, and is still
// there when one goes back.
func TestPartialPassagesHoldNoNames(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("any")
	for _, k := range []quiz.Kind{quiz.Name, quiz.Email, quiz.ShortText, quiz.Single} {
		m.Ask(string(k), k)
	}
	m.Questions["single"].Answers = map[string]*quiz.Answer{"a": {Label: "a"}}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	at := "/q/" + z.Slug
	for _, pair := range [][2]string{{"name", "Ann Weaver"}, {"email", "ann@example.org"}, {"shorttext", "apples"}} {
		r, page := c.form(at, "asked", pair[0], "answer."+pair[0], pair[1], "go", "on")
		require.Equal(t, http.StatusSeeOther, r.StatusCode, page)
		at = r.Header.Get("Location")
	}
	number := strings.Split(at, "/")[2]
	begun, err := a.store.Responses.Passage(t.Context(), number)
	require.NoError(t, err)
	assert.Contains(t, begun.Answers, "apples")
	assert.NotContains(t, begun.Answers, "Ann")
	assert.NotContains(t, begun.Answers, "ann@example.org")
	_, page := c.get("/p/" + number + "/name")
	assert.Contains(t, page, `value="Ann Weaver"`)
	r, _ := c.form(at, "asked", "single", "answer.single", "a", "go", "on")
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	whole, err := a.store.Responses.Response(t.Context(), z.ID, 1)
	require.NoError(t, err)
	require.Len(t, whole.Answers, 2)
	assert.Equal(
		t,
		[]store.Contact{
			{WorkspaceID: store.First, ResponseID: whole.ID, Field: "email", Kind: quiz.Email,
				Value: "ann@example.org", QuizID: z.ID, Number: 1},
			{WorkspaceID: store.First, ResponseID: whole.ID, Field: "name", Kind: quiz.Name,
				Value: "Ann Weaver", QuizID: z.ID, Number: 1},
		},
		whole.Contacts,
	)
}

// What leaves for other systems is a number that opens nothing; and the address of a
// passage that holds a name shows it only on the device that began it.
func TestAPassageIsItsOwners(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("any")
	m.Ask("who", quiz.Name)
	m.Ask("crop", quiz.Single, "apples", "pears")
	m.Outcomes["any"].Headline = "Good day, {who}"
	m.Outcomes["any"].Landings = map[string]*quiz.Landing{
		"page": {Kind: quiz.PageLanding, Blocks: map[string]*quiz.Block{
			"on": {Kind: "action", Label: "Book", Address: "https://book.example{?response,passage,who}"}}},
	}
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	ann, somebody := a.client(t), a.client(t)
	r, _ := ann.form("/q/"+z.Slug, "asked", "who", "answer.who", "Ann Łęcka", "go", "on")
	at := r.Header.Get("Location")
	number := strings.Split(at, "/")[2]
	for _, path := range []string{at, "/p/" + number + "/who", "/p/" + number} {
		r, page := somebody.get(path)
		assert.Equal(t, http.StatusForbidden, r.StatusCode, path)
		assert.NotContains(t, page, "Ann")
	}
	r, _ = somebody.form(at, "asked", "crop", "answer.crop", "pears", "go", "on")
	assert.Equal(t, http.StatusForbidden, r.StatusCode)
	r, _ = ann.form(at, "asked", "crop", "answer.crop", "apples", "go", "on")
	end := r.Header.Get("Location")
	r, page := somebody.get(end)
	assert.Equal(t, http.StatusForbidden, r.StatusCode)
	assert.NotContains(t, page, "Ann")
	_, page = ann.get(end)
	assert.Contains(t, page, "Good day, Ann Łęcka")
	response := store.ResponseNumber(number)
	assert.Contains(
		t,
		page,
		"https://book.example?response="+response+"&amp;passage="+response+"&amp;who=Ann%20%C5%81%C4%99cka",
	)
	_, links, _ := strings.Cut(page, "https://book.example")
	assert.NotContains(t, links, number)
	r, _ = somebody.get("/p/" + response + "/end")
	assert.Equal(t, http.StatusNotFound, r.StatusCode)
}

// A quiz without an opening gives its first page a number: sent twice, it begins and ends
// one passage.
func TestOnePageSentTwice(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("any")
	m.Pace = quiz.OnePage
	m.Ask("first", quiz.Single, "a", "b").Required = true
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	c := a.client(t)
	_, page := c.get("/q/" + z.Slug)
	_, rest, _ := strings.Cut(page, `name="passage" value="`)
	number, _, _ := strings.Cut(rest, `"`)
	require.True(t, store.IsPassageNumber(number))
	_, err := a.store.Responses.Passage(t.Context(), number)
	require.ErrorIs(t, err, store.ErrNotFound, "looking on is nothing to keep")
	r, page := c.form("/q/"+z.Slug, "passage", number, "asked", "first", "go", "on")
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	assert.Contains(t, page, `name="passage" value="`+number)
	for range 3 {
		r, _ := c.form("/q/"+z.Slug, "passage", number, "asked", "first", "answer.first", "b", "go", "on")
		assert.Equal(t, "/p/"+number+"/end", r.Header.Get("Location"))
	}
	list, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 9)
	require.NoError(t, err)
	assert.Len(t, list, 1)
}

// Who goes back and takes another branch loses nothing that was typed; what is off the way
// in the end is not kept as an answer.
func TestAnotherBranch(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("few", "many")
	m.Scale("points", quiz.Sum)
	m.Ask("hives", quiz.YesNo, "yes points=1", "no")
	m.Ask("count", quiz.Number)
	m.Ask("sells", quiz.Single, "yes points=1", "no")
	m.Questions["hives"].Answers["no"].Then = &quiz.Then{Go: quiz.ToQuestion, To: "sells"}
	m.Bands("points", "few", "2=many")
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	back := func() { p.click("[name=go][value=back]") }
	p.tap("[value=yes]")
	p.asked("count")
	assert.Contains(
		t,
		read[string](p, `document.querySelector(".progress").getAttribute("aria-label")`),
		"Question 2, 1 more to come",
	)
	p.fill("[name='answer.count']", "12")
	back()
	p.asked("hives")
	p.tap("[value=no]")
	p.asked("sells")
	back()
	p.asked("hives")
	p.tap("[value=yes]")
	p.asked("count")
	assert.Equal(t, "12", p.value("[name='answer.count']"), "it is still there")
	back()
	p.asked("hives")
	p.tap("[value=no]")
	p.asked("sells")
	p.tap("[value=yes]")
	p.until("it has landed", `location.pathname.endsWith("/end")`)
	whole, err := a.store.Responses.Response(t.Context(), z.ID, 1)
	require.NoError(t, err)
	require.Len(t, whole.Answers, 2, "the number of hives is off the way")
	assert.Equal(t, "few", whole.Outcome)
}
