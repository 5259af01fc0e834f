package web_test

import (
	"fmt"
	"html"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// inGerman puts the quiz of follow-ups into German, all but what its colleagues read.
func inGerman(t testing.TB) string {
	t.Helper()
	q, err := quiz.Read([]byte(following))
	require.NoError(t, err)
	q.Opening = &quiz.Opening{Heading: "Would hives pay?"}
	q.Settings.Results = &quiz.Results{PassOn: true}
	german := map[string]string{"Would hives pay?": "Lohnen sich Bienen?",
		"What grows there?": "Was wächst dort?", "Apples *and* pears": "Äpfel und Birnen",
		"Barley": "Gerste", "Nothing": "Nichts",
		"Hives would pay for themselves": "Die Bienen bezahlen sich selbst", "{name}: {outcome}": "{name}: {outcome}",
		"You grow **{crop}**. Read [the guide](https://quillbrook.example/guide).": "Bei Ihnen wachsen **{crop}**."}
	words := quiz.Translations{}
	for _, text := range q.Texts() {
		if said := german[text.Words]; said != "" {
			words[text.At] = quiz.Translated{Text: said, Of: text.Words}
		}
	}
	q.Translations = map[string]quiz.Translations{"de": words}
	return string(q.Write())
}

// A visitor is asked in the language of their browser, or in the one they choose, to the end
// and in what is mailed; what is kept, and what colleagues read, is the same in any.
func TestAQuizInTwoLanguages(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.connect(t)
	z := a.add(t, inGerman(t))
	a.release(t, z)
	c := a.client(t)
	german := func(path string) string {
		r, err := http.NewRequest(http.MethodGet, a.URL+path, nil)
		require.NoError(t, err)
		r.Header.Set("Accept-Language", "de-AT, en;q=0.8")
		answer, body := c.send(r)
		require.Equal(t, http.StatusOK, answer.StatusCode)
		assert.Contains(t, answer.Header.Values("Vary"), "Accept-Language")
		return body
	}
	page := german("/q/" + z.Slug + "?utm_source=letter")
	assert.Contains(t, page, `<html lang="de"`)
	assert.Contains(t, page, "Lohnen sich Bienen?")
	assert.Contains(t, page, `href="?utm_source=letter&amp;in=en"`,
		"the way to the other language keeps where somebody comes from")
	assert.Contains(t, page, `hreflang="de" href="`+a.URL+"/q/"+z.Slug+"?in=de")
	assert.Contains(t, german("/q/"+z.Slug+"?in=en"), "Would hives pay?", "what is chosen counts more")
	assert.Contains(t, c.says("/q/"+z.Slug), "Would hives pay?", "as it was written")
	assert.Contains(t, c.says("/q/"+z.Slug+"?in=xx"), "Would hives pay?")

	r, _ := c.form("/q/" + z.Slug + "?in=de")
	at := r.Header.Get("Location")
	assert.Contains(t, c.says(at), "Was wächst dort?", "the passage stays in it")
	r, _ = c.answer(at, "apples")
	r, _ = c.form(r.Header.Get("Location"), "name", "Una", "mail", "una@tallow.example", "go", "on")
	end := r.Header.Get("Location")
	_, page = c.get(end)
	assert.Contains(t, page, "Die Bienen bezahlen sich selbst")
	assert.Contains(t, page, "/got/"+z.Slug+"/hot?in=de")
	assert.Contains(t, c.says("/got/"+z.Slug+"/hot?in=de"), "Die Bienen bezahlen sich selbst")
	assert.Contains(t, a.letter(t, "Una: Die Bienen bezahlen sich selbst").Plain, "Bei Ihnen wachsen Äpfel und Birnen")
	assert.Contains(t, a.letter(t, "A lead: Hives would pay for themselves").Plain, "What grows there? Apples")

	w := a.client(t).signIn().rehearsal(z)
	assert.Contains(t, w.says("/rehearsals/"+w.id+"/the-opening?in=de"), "Lohnen sich Bienen?")
	assert.Contains(t, w.goes(), "Was wächst dort?", "what is chosen on the opening stays")
	assert.Contains(t, w.says(fmt.Sprintf("/showing/%d/the-opening?in=de", z.ID)), "Lohnen sich Bienen?")
	w = a.client(t).signIn().rehearsal(z)
	w.form(w.room+"/visitor", "walk", w.id, "language", "de")
	assert.Contains(t, w.goes(), "Was wächst dort?", "a draft is rehearsed in it, too")

	list, err := a.store.Responses.Newest(t.Context(), z.ID, 10)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "de", list[0].Language)
	assert.Equal(t, "apples", list[0].Answers[0].Answer)
	card, _ := c.get("/got/" + z.Slug + "/hot/card.png?in=de")
	assert.Equal(t, "image/png", card.Header.Get("Content-Type"))
}

// A quiz is put into another language beside what it says; what is missing and what has changed
// since is told, and what two write at once stays.
func TestPutIntoAnotherLanguage(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.add(t, without(t, following))
	b := a.newTab(t)
	b.signIn()
	room := fmt.Sprintf("/studio/quizzes/%d/languages", z.ID)
	b.open(room)
	b.axe("Languages of a quiz in one")
	b.choose(`select[name="in"]`, "de")
	b.run(`document.querySelector(".tonguelist form").requestSubmit()`)
	b.until("it stands beside", `document.querySelector(".tonguelist [aria-current]")?.textContent.includes("German")`)
	b.axe("Languages of a quiz")
	whole := len(a.draft(t, z.ID).Texts())
	assert.Contains(t, b.text(".tonguelist [aria-current]"), fmt.Sprintf("%d texts missing", whole))
	a.edit(t, z.ID, `[{"op":"add","path":"/translations/de/~1questions~1crop~1answers~1barley~1label","value":{"text":"Gerste","of":"Barley"}}]`)
	b.fill(`textarea[name="said:/questions/crop/label"]`, "Was wächst dort?")
	b.run(`document.querySelector("[value=keep]").click()`)
	b.until("it is kept",
		`document.querySelector(".flash")?.textContent.includes("Put “What grows there?” into German")`)
	said := a.draft(t, z.ID).Translations["de"]
	assert.Equal(t, quiz.Translated{Text: "Was wächst dort?", Of: "What grows there?"}, said["/questions/crop/label"])
	assert.Equal(t, "Gerste", said["/questions/crop/answers/barley/label"].Text, "what somebody else wrote meanwhile")

	a.edit(t, z.ID, `[{"op":"replace","path":"/questions/crop/label","value":"What do you grow?"}]`)
	b.open(room)
	assert.Contains(t, b.text(".tongueplace q"), "What grows there?")
	b.run(`document.querySelector('[name="fits:/questions/crop/label"]').click()`)
	b.run(`document.querySelector("[value=keep]").click()`)
	b.until("it fits", `document.querySelector(".flash") && !document.querySelector(".tongueplace q")`)
	assert.Equal(t, "What do you grow?", a.draft(t, z.ID).Translations["de"]["/questions/crop/label"].Of)
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	assert.Contains(t, b.text("#part-words"), fmt.Sprintf("(%d texts missing)", whole-2))
	assert.Contains(t, b.text("#part-findings"), "no words in German yet")

	c := a.client(t).signIn()
	r, page := c.form(room, "in", "de", "said:/title", strings.Repeat("lang ", 5000), "was:/title", "",
		"of:/title", "Hives")
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	assert.Contains(t, page, "What was written is still here")
	assert.Contains(t, page, "lang lang lang")
	c.form(room, "in", "de", "do", "remove")
	assert.Empty(t, a.draft(t, z.ID).Translations["de"])
	_, _, err := a.store.Definitions.Undo(t.Context(), z.ID, a.latest(t, z.ID).Revision)
	require.NoError(t, err)
	assert.Len(t, a.draft(t, z.ID).Translations["de"], 2, "it comes back with all its words")
	r, _ = c.form(room, "in", "not a language", "do", "add")
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
}

// A product is said in the language of whoever gets it, as far as it has words there; these are
// written in the catalogue, come along in files, and what a file has no column for stays.
func TestAProductInAnotherLanguage(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	c := a.client(t).signIn()
	m := quiztest.New("hives")
	m.Ask("want", quiz.Single, "hive", "jar")
	page := m.Outcomes["hives"].Landings["page"]
	page.Kind, page.Products = quiz.ProductsLanding, &quiz.Products{Named: []quiz.Named{{Key: "long"}}}
	m.Translations = map[string]quiz.Translations{"de": {"/title": {Text: "Ein Quiz", Of: m.Title}}}
	z := a.add(t, string(m.Write()))
	r, said := c.upload("/studio/catalogue/import", "key,name,text,name:de,address,in stock\n"+
		"long,Long hive,On legs,Langstock,https://example.org/long,yes\nlone,A smoker,,,,yes\n")
	require.Equal(t, http.StatusSeeOther, r.StatusCode, said)

	_, form := c.get("/studio/catalogue?product=long")
	assert.Contains(t, form, `name="de.name"`)
	assert.NotContains(t, form, `name="en.name"`, "in that it is written")
	r, said = c.form("/studio/catalogue", "key", "long", "name", "Long hive", "text", "On legs", "stock", "on",
		"address", "https://example.org/long", "in", "de", "de.name", "Langstock", "de.address", "nowhere")
	require.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	assert.Contains(t, said, "the address in German")
	assert.Contains(t, said, `value="nowhere"`, "what was typed stays")
	c.form("/studio/catalogue", "key", "long", "name", "Long hive", "text", "On legs", "stock", "on",
		"address", "https://example.org/long", "in", "de", "de.name", "Langstock", "de.text", "Auf Beinen")
	r, said = c.upload("/studio/catalogue/import", "key,name\nlong,The long hive\n")
	require.Equal(t, http.StatusSeeOther, r.StatusCode, said)
	_, file := c.get("/studio/catalogue.csv")
	assert.Equal(t, "key,name,text,picture,description,price,sale price,currency,tags,address,in stock,"+
		"name:de,text:de\nlong,The long hive,On legs,,,,,,,https://example.org/long,yes,Langstock,Auf Beinen\n"+
		"lone,A smoker,,,,,,,,,yes,,\n", file)

	a.release(t, z)
	for query, want := range map[string][]string{"": {"The long hive", "On legs"}, "?in=de": {"Langstock", "Auf Beinen"}} {
		visitor := a.client(t)
		r, _ := visitor.form("/q/" + z.Slug + query)
		r, _ = visitor.answer(r.Header.Get("Location"), "hive")
		_, end := visitor.get(r.Header.Get("Location"))
		for _, words := range want {
			assert.Contains(t, end, words, query)
		}
		assert.Contains(t, end, "https://example.org/long", "where it leads nowhere else")
	}
}

// All texts go to a translator as a file; what came back is taken in, and undone like any edit.
func TestATranslatorsFile(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.add(t, inGerman(t))
	c := a.client(t).signIn()
	room := fmt.Sprintf("/studio/quizzes/%d/languages", z.ID)
	r, _ := c.get(room + "/fr.xlf")
	assert.Equal(t, http.StatusNotFound, r.StatusCode, "it is not in that")
	r, file := c.get(room + "/de.xlf")
	require.Equal(t, "application/xliff+xml", r.Header.Get("Content-Type"))
	assert.Contains(t, file, "Question 1: question", "a translator reads what it is")
	assert.Contains(t, file, "<target xml:space=\"preserve\">Gerste</target>")

	for says, wrong := range map[string]string{"does not begin with <xliff>": "", "can't be read as XLIFF 2": "<html/>",
		"translated from French": strings.Replace(file, `srcLang="en"`, `srcLang="fr"`, 1)} {
		r, page := c.upload(room+"/file", wrong)
		require.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, says)
		assert.Contains(t, html.UnescapeString(page), says)
	}
	r, _ = c.upload(room+"/file", file)
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	assert.Contains(t, c.says(room+"?in=de"), "Nothing in the file is new in German.")
	back := strings.Replace(file, ">Gerste<", ">Die Gerste<", 1)
	r, _ = c.upload(room+"/file", back)
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	assert.Contains(t, c.says(r.Header.Get("Location")), "1 text in German came in.")
	said := func() string {
		return a.draft(t, z.ID).Translations["de"]["/questions/crop/answers/barley/label"].Text
	}
	assert.Equal(t, "Die Gerste", said())
	status, _ := c.change(http.MethodPost, fmt.Sprintf("/studio/quizzes/%d/undo", z.ID), a.latest(t, z.ID).Revision, "{}")
	assert.Equal(t, http.StatusOK, status)
	assert.Equal(t, "Gerste", said())
	r, _ = c.upload(room+"/file", strings.Replace(file, `trgLang="de"`, `trgLang="nl"`, 1))
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	assert.Equal(t, room+"?in=nl", r.Header.Get("Location"))
	assert.Contains(t, a.draft(t, z.ID).Translations, "nl", "a language that is new is added")
}
