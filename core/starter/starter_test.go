package starter_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/core/starter"
)

// Every starter is a quiz that can be read back, of which nothing is found but that a
// blank one is not finished and that kinds can tie.
func TestEveryStarterIsSound(t *testing.T) {
	for _, s := range starter.List {
		for _, lines := range []string{s.Hint, "Ä: ö\n3 days: x\n3 days: y\nÄ: z"} {
			made, err := starter.Make(s.Key, "Which one?", lines)
			require.NoError(t, err, s.Key)
			q, err := quiz.Read(made.Write())
			require.NoError(t, err, s.Key)
			list, _, o := finding.Of(q, odds.Options{}, finding.Outside{})
			require.NotNil(t, o)
			for _, f := range list {
				if s.Key == "blank" {
					assert.Contains(t, []string{"empty", "outcome-wordless"}, f.Code, f.Sentence)
				} else {
					assert.Contains(t, []string{"ties", "sample-address"}, f.Code, "%s: %s", s.Key, f.Sentence)
				}
			}
			if s.Key != "blank" {
				assert.Len(t, o.Outcomes, len(q.Outcomes), "%s: every outcome is within reach", s.Key)
			}
		}
	}
}

// However many offers there are, each gets about its share of respondents.
func TestOffersAreBalanced(t *testing.T) {
	for n := 2; n <= 8; n++ {
		var lines []string
		for i := range n {
			lines = append(lines, fmt.Sprintf("Offer %c: whom it is for", 'a'+i))
		}
		q, err := starter.Make("offers", "Which?", strings.Join(lines, "\n"))
		require.NoError(t, err)
		_, _, o := finding.Of(q, odds.Options{}, finding.Outside{})
		require.Len(t, o.Outcomes, n)
		for k, share := range o.Outcomes {
			assert.InDelta(t, 1/float64(n), share, 0.08, "%s of %d", k, n)
		}
	}
}

func TestLinesThatAreWrong(t *testing.T) {
	for _, lines := range []string{"", "Only one", strings.Repeat("x\n", 9), "a\n" + strings.Repeat("y", 400)} {
		_, err := starter.Make("offers", "Which?", lines)
		assert.ErrorIs(t, err, starter.ErrLines)
	}
	_, err := starter.Make("magic", "Which?", "")
	assert.Error(t, err)
}

// What a starter lays out can stay as it is: outcomes have sentences, answers of a question
// are told apart and begin like one, whether or not it was said whom each is for.
func TestStartersReadAsSentences(t *testing.T) {
	for _, s := range starter.List[1:] {
		for _, lines := range []string{s.Hint, "the small\nthe large\nthe long", "the small: balconies.\nthe large"} {
			q, err := starter.Make(s.Key, "Which one?", lines)
			require.NoError(t, err)
			for _, o := range q.Outcomes {
				assert.Regexp(t, `^\p{Lu}.*[^.]\.$`, o.Text, s.Key)
			}
			for _, asked := range q.Questions {
				labels := map[string]bool{}
				for _, a := range asked.Answers {
					assert.Regexp(t, `^\S`, a.Label, "%s: %s", s.Key, asked.Label)
					labels[a.Label] = true
				}
				assert.Len(t, labels, len(asked.Answers), "%s: %s", s.Key, asked.Label)
			}
		}
	}
}
