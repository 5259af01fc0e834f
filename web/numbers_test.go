package web_test

import (
	"html"
	"net/http"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// A number is read as the language of the page writes it, and what the page writes it reads again;
// what can be read in two ways is asked.
func TestNumbersAreReadAsTheyAreWritten(t *testing.T) {
	t.Parallel()
	for language, typed := range map[string]map[string]string{
		"en": {"1,000": "1000", "2,5": "2.5", "12.000": "", "1 250": "1250", "1,234.5": "1234.5"},
		"de": {"12.000": "12000", "1.234,5": "1234.5", "2.5": "2.5", "12,000": ""},
		"fr": {"1 000": "1000", "1 000,5": "1000.5"},
	} {
		for text, due := range typed {
			a := newApp(t)
			m := quiztest.New("any")
			m.Settings = &quiz.Settings{Language: language}
			m.Opening = &quiz.Opening{Heading: "Begin"}
			m.Ask("size", quiz.Number)
			m.Ask("crop", quiz.Single, "a", "b")
			z := a.add(t, string(m.Write()))
			a.release(t, z)
			c := a.client(t)
			r, _ := c.form("/q/" + z.Slug)
			at := r.Header.Get("Location")
			r, page := c.answer(at, text)
			if due == "" {
				assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, "%s: %s", language, text)
				assert.Contains(t, page, "12000", "%s: either is told", language)
				assert.Contains(t, page, `value="`+text+`"`, "what was typed stays")
				continue
			}
			assert.Equal(t, http.StatusSeeOther, r.StatusCode, "%s: %s", language, text)
			_, page = c.get(at)
			again := html.UnescapeString(regexp.MustCompile(`name="answer.size"[^>]*?value="([^"]*)"`).FindStringSubmatch(page)[1])
			r, _ = c.answer(at, again)
			assert.Equal(t, http.StatusSeeOther, r.StatusCode, "%s: %q is what the page writes", language, again)
			c.answer(r.Header.Get("Location"), "a")
			assert.Equal(t, due, a.answers(t, z, 1)["size"], "%s: %s, written %q", language, text, again)
		}
	}
}
