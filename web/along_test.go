package web_test

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"mime/multipart"
	"net/http"
	"os"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// A quiz is taken along as a file, and taken in by dropping that on the list.
func TestTakenAlong(t *testing.T) {
	t.Parallel()
	a, other := newApp(t), newApp(t)
	z := a.orchard(t)
	c := a.client(t).signIn()
	r, packed := c.get(fmt.Sprintf("/studio/quizzes/%d/along.zip", z.ID))
	assert.Equal(t, "application/zip", r.Header.Get("Content-Type"))

	b := other.newTab(t)
	b.signIn()
	b.open("/studio")
	b.axe("Quizzes, with a file to take in")
	b.run(fmt.Sprintf(`{
		const bytes = Uint8Array.from(atob(%q), (l) => l.charCodeAt(0)), data = new DataTransfer();
		data.items.add(new File([bytes], "orchard.zip", { type: "application/zip" }));
		dispatchEvent(new DragEvent("dragover", { dataTransfer: data, bubbles: true, cancelable: true }));
		dispatchEvent(new DragEvent("drop", { dataTransfer: data, bubbles: true, cancelable: true }));
	}`, base64.StdEncoding.EncodeToString([]byte(packed))))
	b.until("it is here",
		`location.pathname === "/studio/quizzes/1" && document.querySelector(".flash")?.textContent.includes("It is here.")`)
	taken, err := other.store.Definitions.Quiz(t.Context(), 1)
	require.NoError(t, err)
	assert.Equal(t, z.Draft, taken.Draft)

	studio := other.client(t).signIn()
	for name, says := range map[string]string{"": "Choose a file first",
		"PK no": "is no quiz with its pictures", "{}": "This is no quiz that can be read",
		"<a/>": "is no package of QTI 3.0"} {
		r, page := studio.takeIn(name)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, name)
		assert.Contains(t, page, says, name)
	}
}

// takeIn sends a file to the list of quizzes.
func (c *client) takeIn(file string) (*http.Response, string) {
	c.t.Helper()
	var form bytes.Buffer
	w := multipart.NewWriter(&form)
	if file != "" {
		f, err := w.CreateFormFile("file", "x")
		require.NoError(c.t, err)
		_, err = f.Write([]byte(file))
		require.NoError(c.t, err)
	}
	require.NoError(c.t, w.Close())
	request, err := http.NewRequest(http.MethodPost, c.app.URL+"/studio/take-in", &form)
	require.NoError(c.t, err)
	request.Header.Set("Content-Type", w.FormDataContentType())
	return c.send(request)
}

// A quiz goes to other applications as QTI 3.0, and comes from there; what is lost is told
// before and after.
func TestAsQTI(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	c := a.client(t).signIn()
	_, page := c.get(fmt.Sprintf("/studio/quizzes/%d/release", z.ID))
	assert.Contains(t, page, "The opening is not there.")
	_, packed := c.get(fmt.Sprintf("/studio/quizzes/%d/qti.zip", z.ID))
	r, _ := c.takeIn(packed)
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	_, page = c.get(r.Header.Get("Location"))
	assert.Contains(t, page, "It is here.")
	was, is := a.draft(t, z.ID), a.draft(t, 2)
	assert.Equal(t, was.QuestionKeys(), is.QuestionKeys())
	assert.Equal(t, was.Questions["crop"].Answers, is.Questions["crop"].Answers)
	assert.Empty(t, is.Check())
}

// On paper stands every question with what can be answered, when it is asked and where it goes
// on; what is of the screen is not printed.
func TestOnPaper(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar", "nothing")
	m.Questions["want"].Answers["nothing"].Then = &quiz.Then{Go: quiz.PartWays, To: "lead"}
	m.Questions["want"].Answers["jar"].Then = &quiz.Then{Go: quiz.ToQuestion, To: "many"}
	m.Ask("where", quiz.Several, "garden", "roof", "wood")
	m.Questions["where"].Picks = &quiz.Picks{Max: 2}
	m.Questions["where"].ShowWhen = &quiz.Condition{Subject: quiz.Subject{Answer: "want"},
		Test: quiz.Test{Op: quiz.Is, Value: quiz.Words("hive")}}
	m.Ask("many", quiz.Number)
	m.Questions["many"].Label = "How many, for {name}?"
	m.Ask("words", quiz.LongText)
	m.Contact = &quiz.Contact{Place: quiz.BeforeResult,
		Fields: map[string]*quiz.Question{"name": {Kind: quiz.Name, Label: "Who are you?"}}}
	z := a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d/release/paper", z.ID))
	page := b.text("main")
	for _, says := range []string{
		"jar → go on with 3", "nothing → that is all", "Only if “want” is “hive”.", "(at most 2)",
		"How many, for ……?", "5 Who are you?",
	} {
		assert.Contains(t, page, says)
	}
	b.axe("paper")
	_, err := chromedp.Call(b.ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Media: "print"})
	require.NoError(t, err)
	assert.False(t, read[bool](b, `document.querySelector(".topbar").checkVisibility()`))
	for _, name := range []string{"day", "finder", "keeper", "orchard", "season"} {
		data, err := os.ReadFile("../cmd/omphalos/demo/" + name + ".json")
		require.NoError(t, err)
		z := a.add(t, string(data))
		b.open(fmt.Sprintf("/studio/quizzes/%d/release/paper", z.ID))
		doc, err := z.Document()
		require.NoError(t, err)
		for key, q := range doc.Questions {
			if !strings.Contains(q.Label, "{") {
				assert.Contains(t, b.text("main"), q.Label, key)
			}
		}
	}
}
