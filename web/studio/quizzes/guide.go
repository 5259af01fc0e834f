package quizzes

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A guidePart is a step of the job: what one does there, and what is asked about it.
type guidePart struct {
	Key, Name string
	Says      []string
	Picture   string // what the picture of the demo shows
	Helps     []ui.Help
}

var guide = []guidePart{
	{Key: "write", Name: "Write",
		Picture: "A question of the demo: its words, and six answers below each other.", Says: []string{
			"Write what you want to know, one question below the other, and the answers that people can " +
				"choose. Enter goes on; lines from a document or a spreadsheet are pasted as they are.",
			"Ask little: every question costs finishes. What kind a question is, whether it must be " +
				"answered and what it is called in fill-ins stands at its right.",
		}},
	{Key: "weigh", Name: "Weigh",
		Picture: "The same question with a number beside each answer, in the column of readiness.", Says: []string{
			"Beside each answer is the ledger: a column for everything that adds up. A number there says " +
				"how much the answer adds. Below the columns stand the lowest, the highest and the expected sum.",
			"You choose how answers decide when a quiz is blank: by points, by keywords, by closeness to " +
				"each outcome, or by right answers.",
		}},
	{Key: "decide", Name: "Decide", Picture: "A ruler of scores: bars for how many are expected to get " +
		"each, and two cuts between three outcomes.", Says: []string{
		"Steps turn answers and sums into one outcome: bands of a score, the leading column, a rule, or " +
			"a table of rules. The first step that names an outcome wins.",
		"The bars show who gets what before anybody has answered. Drag a cut, and they follow.",
	}},
	{Key: "land", Name: "Land",
		Picture: "An outcome: its headline and words, and the booking page that it leads to.", Says: []string{
			"Each outcome has a headline, some words and a landing: a page with a call to action, " +
				"products of your catalogue, or a redirect. A { in any text or address lists what can be filled in.",
		}},
	{Key: "rehearse", Name: "Rehearse",
		Picture: "The demo on a phone and a desktop beside each other, with what happens beside them.", Says: []string{
			"Walk the quiz on a phone and a desktop, as a visitor from anywhere. Beside it stands what " +
				"each answer does. Keep a walk, and every later edit is checked against it.",
		}},
	{Key: "release", Name: "Release",
		Picture: "What a release would change, in sentences, and who gets what before and after.", Says: []string{
			"A release is what people see; you can go on editing meanwhile. The room says what would " +
				"change, for whom, and what is left to look at. Links with codes, the block for your " +
				"page and the times at which it is open are beside it.",
		}},
	{Key: "learn", Name: "Learn",
		Picture: "One response: what was answered, what each answer added, and why the result.", Says: []string{
			"Every response is kept with why it got its outcome. Odds can be shown as observed instead " +
				"of expected, so that the next release starts from what people really answer.",
		}},
}

// guide shows the job in its order, with all helps at their places.
func (s *Room) guide(c *gin.Context) {
	parts := append([]guidePart{}, guide...)
	for i := range parts {
		for _, h := range ui.Helps {
			if h.Place == parts[i].Key {
				parts[i].Helps = append(parts[i].Helps, h)
			}
		}
	}
	s.Show(c, http.StatusOK, "guide", struct {
		desk.Frame
		Parts []guidePart
	}{s.Frame(c, "Guide", "guide", nil), parts})
}
