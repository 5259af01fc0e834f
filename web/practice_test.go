package web_test

import (
	"fmt"
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

// practice are the figures of common practice (no source) as quizzes without
// an opening, and what answers must come to.
func practice() map[string]struct {
	quiz  quiztest.Maker
	cases map[string]string // answers → outcome
} {
	two := quiztest.New("below", "above")
	two.Scale("points", quiz.Sum)
	two.Ask("first", quiz.Single, "low points=1", "high points=10").Required = true
	two.Ask("second", quiz.Single, "low points=2", "high points=15").Required = true
	two.Bands("points", "below", "16=above")

	three := quiztest.New("below", "above")
	three.Scale("points", quiz.Sum)
	for _, k := range []string{"one", "two", "three"} {
		three.Ask(k, quiz.YesNo, "yes points=1", "no").Required = true
	}
	three.Bands("points", "below", "2=above")

	bands := quiztest.New("low", "middle", "high")
	bands.Scale("points", quiz.Sum)
	bands.Ask("score_of", quiz.Single, "p0 points=0", "p7 points=7", "p8 points=8", "p14 points=14",
		"p15 points=15").Required = true
	bands.Bands("points", "low", "8=middle", "15=high")

	type figures = struct {
		quiz  quiztest.Maker
		cases map[string]string
	}
	return map[string]figures{
		"3 to 25 points, a cut at 16": {
			two,
			map[string]string{"low high": "above", "high low": "below", "high high": "above", "low low": "below"},
		},
		"three yes/no at one point, a cut at 2": {
			three,
			map[string]string{"yes no no": "below", "yes no yes": "above", "yes yes yes": "above", "no no no": "below"},
		},
		"0–7, 8–14, 15 and more": {
			bands,
			map[string]string{"p0": "low", "p7": "low", "p8": "middle", "p14": "middle", "p15": "high"},
		},
	}
}

func TestCommonPracticeThroughHTTP(t *testing.T) {
	t.Parallel()
	for name, figures := range practice() {
		a := newApp(t)
		z := a.add(t, string(figures.quiz.Write()))
		a.release(t, z)
		for answers, outcome := range figures.cases {
			c := a.client(t)
			at := "/q/" + z.Slug
			for _, answer := range strings.Fields(answers) {
				r, _ := c.answer(at, answer)
				require.Equal(t, http.StatusSeeOther, r.StatusCode)
				at = r.Header.Get("Location")
			}
			assert.Equal(t, outcome, a.last(t, z).Outcome, "%s: %s", name, answers)
			_, page := a.client(t).signIn().get(fmt.Sprintf("/studio/quizzes/%d/learn/%d", z.ID, a.last(t, z).Number))
			assert.Contains(t, page, "so it is “"+outcome+"”")
		}
	}
}

func TestCommonPracticeInTheBrowser(t *testing.T) {
	t.Parallel()
	for name, figures := range practice() {
		a := newApp(t)
		z := a.add(t, string(figures.quiz.Write()))
		a.release(t, z)
		p := a.newTabOf(t, 390, 844, true)
		for answers, outcome := range figures.cases {
			p.open("/q/" + z.Slug)
			for i, answer := range strings.Fields(answers) {
				p.do(
					chromedp.WaitVisible(
						chromedp.CSS(fmt.Sprintf("[data-question=%s]", figures.quiz.QuestionKeys()[i])),
					),
				)
				p.tap("[value=" + answer + "]")
			}
			p.until("the end", `location.pathname.endsWith("/end")`)
			assert.Equal(t, outcome, a.last(t, z).Outcome, "%s: %s", name, answers)
		}
	}
}

// last is the response that came last.
func (a *app) last(t testing.TB, z *store.Quiz) store.Response {
	t.Helper()
	list, err := a.store.Responses.List(t.Context(), z.ID, store.Page{}, 1)
	require.NoError(t, err)
	require.Len(t, list, 1)
	return list[0]
}
