package web_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/store"
)

// ended brings leads: three in four of those who grow cherries and decide are won, and one in four of
// the others.
func (a *leadsRoom) ended(t testing.TB, n int) {
	t.Helper()
	other := map[string]string{store.Won: store.Lost, store.Lost: store.Won}
	ends := map[string][]int{}
	for i := range n {
		answers, end := map[string]string{"crop": "apples", "decides": "board", "budget": "little"}, store.Lost
		if i%2 == 0 {
			answers, end = map[string]string{"crop": "cherries", "decides": "me", "budget": "little"}, store.Won
		}
		if i%8 < 2 {
			end = other[end]
		}
		a.comes(t, fmt.Sprint("Lead ", i), fmt.Sprintf("lead%d@example.org", i), answers)
		ends[end] = append(ends[end], 4+i)
	}
	for end, ids := range ends {
		_, err := a.store.Responses.ChangeLeads(t.Context(), ids, store.LeadChange{State: &end}, 1)
		require.NoError(t, err)
	}
}

// What won and lost leads say is told answer by answer, judged, and taken over cell by cell or whole.
func TestLearningFromWonAndLost(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	c := a.client(t).signIn()
	assert.Contains(t, c.says("/studio/quizzes/1/learn/won"),
		"Points are suggested from 30 leads that were won and 30 that were lost on")
	a.ended(t, 120)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1/learn/won")
	said := b.text("main")
	assert.Contains(t, said, "60 won, 60 lost")
	assert.Contains(t, said, "75 % 45 of 60", "of those who said cherries")
	assert.Contains(t, said, "+1.10", "the evidence of cherries is ln 3")
	assert.Contains(t, said, "Your points 0.75")
	assert.Contains(t, said, "The suggestion sorts them as your points do.")
	b.axe("Won and lost")
	b.run(`[...document.querySelectorAll("tr")].find((tr) => tr.textContent.includes("Cherries")).querySelector("button").click()`)
	b.until("it is told", `document.querySelector(".flash")?.textContent.includes("In the draft now: ")`)
	cherries := a.draft(t, 1).Questions["crop"].Answers["cherries"].Adds["promise"]
	assert.NotEqual(t, "4", cherries.String())
	one := b.text(".flash")
	b.run(`[...document.querySelectorAll("button")].find((b) => b.textContent.includes("Take all")).click()`)
	b.until("all are told", fmt.Sprintf(`(document.querySelector(".flash")?.textContent.trim() ?? %[1]q) !== %[1]q`, one))
	q := a.draft(t, 1)
	me, board := q.Questions["decides"].Answers["me"].Adds["promise"],
		q.Questions["decides"].Answers["board"].Adds["promise"]
	assert.Greater(t, me, board)
	assert.Zero(t, me%1_000_000, "points are whole")
	assert.Contains(t, b.text(".flash"), "undone on the sheet")
}

// What can't be taken over any more is told, and nothing is changed.
func TestWhatIsTakenOverTooLateIsTold(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	c := a.client(t).signIn()
	before := a.draft(t, 1)
	take := func(patch string) string {
		return plainly(c.done("/studio/quizzes/1/learn/won/adopt", "patch", patch))
	}
	gone := `[{"op":"add","path":"/questions/crop/answers/quinces/adds/promise","value":2}]`
	assert.Contains(t, take(gone), "This can’t be kept")
	assert.Contains(t, take(
		`[{"op":"add","path":"/questions/crop/answers/cherries/adds/promise","value":"many"}]`), "This can’t be kept")
	assert.Contains(t, take(`[`), "Later changes are in the way")
	assert.Equal(t, before, a.draft(t, 1))
}
