package web_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// types types text as a person does, 40 ms a letter; "\r" is Enter.
func (b *tab) types(text string) {
	b.t.Helper()
	for _, letter := range text {
		b.do(chromedp.KeyEvent(string(letter)))
		time.Sleep(40 * time.Millisecond)
	}
}

// What is typed into something new stays with it, however long the server takes to make it: the
// answers of a question one after the other, a question, an outcome.
func TestWhatIsTypedStaysWhereItWasTyped(t *testing.T) {
	for _, held := range []time.Duration{0, 100 * time.Millisecond, 800 * time.Millisecond} {
		t.Run(fmt.Sprint(held), func(t *testing.T) {
			t.Parallel()
			a := newAppBehind(t, func(h http.Handler) http.Handler {
				return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
					if r.Method != http.MethodGet && strings.HasPrefix(r.URL.Path, "/studio/quizzes/1/") {
						time.Sleep(held)
					}
					h.ServeHTTP(w, r)
				})
			})
			m := quiztest.New("a", "b")
			m.Ask("crop", quiz.Single, "apples")
			z := a.add(t, string(m.Write()))
			b := a.newTab(t)
			b.signIn()
			b.open("/studio/quizzes/1")
			b.click(`[data-path="/questions/crop/answers/apples/label"]`)
			b.do(chromedp.KeyEvent(kb.End))
			b.types("!\rFirst one\rSecond words\rThird")
			b.kept()
			b.until("nothing stands in", `!document.querySelector(".fresh")`)
			b.kept()
			draft := a.draft(t, z.ID)
			var labels []string
			for _, k := range quiz.InOrder(draft.Questions["crop"].Answers) {
				labels = append(labels, draft.Questions["crop"].Answers[k].Label)
			}
			assert.Equal(t, []string{"apples!", "First one", "Second words", "Third"}, labels)
			assert.Equal(t, "Third", read[string](b, `document.activeElement.value`), "and one is still there")

			b.run(`document.querySelector("#add-question [data-act='add?path=/questions']").click()`)
			b.types("How much?")
			b.kept()
			b.run(`document.querySelector("[data-act='add?path=/outcomes']").click()`)
			b.types("Later")
			b.kept()
			b.until("nothing stands in", `!document.querySelector(".fresh")`)
			b.kept()
			draft = a.draft(t, z.ID)
			keys := draft.QuestionKeys()
			assert.Equal(t, "How much?", draft.Questions[keys[len(keys)-1]].Label)
			ends := quiz.InOrder(draft.Outcomes)
			assert.Equal(t, "Later", draft.Outcomes[ends[len(ends)-1]].Name)
			b.open("/studio/quizzes/1")
			assert.Equal(t, labels, b.labels("#part-q-crop"), "as a fresh page has it")
		})
	}
}
