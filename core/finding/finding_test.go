package finding_test

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// plain is a quiz of which nothing is found: two questions on one scale, two bands.
func plain() quiztest.Maker {
	m := quiztest.New("no", "yes")
	m.Scale("need", quiz.Sum).Name = "Need"
	m.Ask("crop", quiz.Single, "apples need=4", "pears need=1", "plums need=0").Required = true
	m.Ask("when", quiz.Single, "now need=3", "later need=0").Required = true
	m.Bands("need", "no", "4=yes")
	for _, o := range m.Outcomes {
		o.Headline = "Bees"
	}
	return m
}

func is(question, answer string) *quiz.Condition {
	return &quiz.Condition{
		Subject: quiz.Subject{Answer: question},
		Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words(answer)},
	}
}

func atLeast(n int64) *quiz.Condition {
	return &quiz.Condition{
		Subject: quiz.Subject{Scale: "need"},
		Test:    quiz.Test{Op: quiz.AtLeast, Value: quiz.Amount(decimal.FromInt(n))},
	}
}

// best is a rehearsal that gets yes.
func best(must string) map[string]*quiz.Rehearsal {
	answers := map[string]*quiz.Given{"crop": {Values: []string{"apples"}}, "when": {Values: []string{"now"}}}
	return map[string]*quiz.Rehearsal{"best": {Name: "The best", Answers: answers, Outcome: must}}
}

func tableOf(rules ...map[string]string) quiz.Step {
	s := quiz.Step{
		Kind: quiz.TableStep,
		Columns: map[string]*quiz.Column{
			"crop": {Subject: quiz.Subject{Answer: "crop"}},
			"when": {Order: 1, Subject: quiz.Subject{Answer: "when"}},
		},
		Rules: map[string]*quiz.TableRule{},
	}
	for i, cells := range rules {
		r := &quiz.TableRule{Order: float64(i), Outcome: "yes", Cells: map[string]*quiz.Test{}}
		for k, answer := range cells {
			r.Cells[k] = &quiz.Test{Op: quiz.Is, Value: quiz.Words(answer)}
		}
		s.Rules[fmt.Sprintf("r%d", i)] = r
	}
	return s
}

// A sample is a change of the plain quiz that makes it have a finding, at a place,
// and one that comes near but does not; what is said; and whether it can be mended.
type sample struct {
	code, pointer string
	has, near     func(m quiztest.Maker)
	says          string
	mends         bool
}

// found returns the findings of a written quiz.
func found(t *testing.T, document []byte) []finding.Finding {
	t.Helper()
	q, err := quiz.Read(document)
	require.NoError(t, err)
	list, _, _ := finding.Of(q, odds.Options{}, outside)
	return list
}

func with(list []finding.Finding, code string, pointer quiz.Pointer) *finding.Finding {
	i := slices.IndexFunc(list, func(f finding.Finding) bool { return f.Code == code && f.Pointer == pointer })
	if i < 0 {
		return nil
	}
	return &list[i]
}

func TestNothingIsFoundInAPlainQuiz(t *testing.T) {
	assert.Empty(t, found(t, plain().Write()))
}

// Each finding: one quiz has it and a near miss has not; the patch that it offers
// makes it go away.
func TestEachFinding(t *testing.T) {
	tested := map[string]bool{"odds-untold": true} // by TestOddsThatTakeTooLong
	for _, s := range samples {
		tested[s.code] = true
		t.Run(s.code+" "+s.pointer, func(t *testing.T) {
			m := plain()
			s.near(m)
			assert.Nil(t, with(found(t, m.Write()), s.code, quiz.Pointer(s.pointer)), "the near miss")
			m = plain()
			s.has(m)
			list := found(t, m.Write())
			f := with(list, s.code, quiz.Pointer(s.pointer))
			require.NotNil(t, f, "%+v", list)
			assert.Equal(t, s.says, f.Sentence)
			require.Equal(t, s.mends, f.Mend != nil)
			if f.Mend == nil {
				return
			}
			assert.NotEmpty(t, f.Mend.Label)
			patch, err := json.Marshal(f.Mend.Patch)
			require.NoError(t, err)
			change, err := edit.Apply(m.Write(), patch)
			require.NoError(t, err, "%s", patch)
			assert.Nil(t, with(found(t, change.Document), s.code, quiz.Pointer(s.pointer)), "after the mend %s", patch)
		})
	}
	for code := range finding.Codes {
		assert.True(t, tested[code], "%s has no test", code)
	}
}

// Where there is no time for the odds, what can be told without them is, and that they
// are missing.
// What is out of reach of a date that today bounds is found, and the way there is not among
// the odds; what is asked on a day that nobody tells is told as of any day.
func TestOddsAreThoseOfToday(t *testing.T) {
	m := plain()
	date(m, "2027-01-01")
	m.Decision.Steps["early"] = &quiz.Step{Order: 0, Kind: quiz.RuleStep, Outcome: "no",
		When: &quiz.Condition{Subject: quiz.Subject{Answer: "when"}, Test: quiz.Test{Op: quiz.LessThan,
			Value: quiz.Words("2026-11-27")}}}
	q, err := quiz.Read(m.Write())
	require.NoError(t, err)
	list, p, o := finding.Of(q, odds.Options{}, outside)
	require.NotNil(t, o)
	never := with(list, "never-holds", "/decision/steps/early/when")
	require.NotNil(t, never, "%v", list)
	assert.Zero(t, o.Steps["early"])
	assert.Nil(t, p.Question(p.Position("when")).Limits.Low, "what is compiled is the quiz as it is kept")
	list, _, _ = finding.Of(q, odds.Options{}, finding.Outside{})
	assert.Nil(t, with(list, "never-holds", "/decision/steps/early/when"), "a day before can be given some day")
}

func TestOddsThatTakeTooLong(t *testing.T) {
	ctx, stop := context.WithCancel(t.Context())
	stop()
	m := plain()
	county(m, 12)
	list, p, o := finding.Of(m.Quiz, odds.Options{Context: ctx}, outside)
	assert.NotNil(t, p)
	assert.Nil(t, o)
	assert.NotNil(t, with(list, "long-list", "/questions/county/kind"))
	require.NotNil(t, with(list, "odds-untold", ""))
}

// Whatever a quiz looks like: findings have a known code and level, a sentence and a
// place that is there, and mends can be applied.
func TestFindingsOfAnyQuiz(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.Draw(t, quiztest.Limits{Questions: 6, Answers: 4})
		list, _, o := finding.Of(m.Quiz, odds.Options{}, finding.Outside{})
		require.NotNil(t, o)
		for _, f := range list {
			require.Contains(t, slices.Collect(maps.Keys(finding.Codes)), f.Code)
			require.Equal(t, finding.Codes[f.Code].Level, f.Level)
			require.NotContains(t, f.Sentence, "%!", f.Code)
			if f.Mend != nil {
				patch, err := json.Marshal(f.Mend.Patch)
				require.NoError(t, err)
				_, err = edit.Apply(m.Write(), patch)
				require.NoError(t, err, "%s %s", f.Code, patch)
			}
		}
	})
}

// inGerman puts all of a quiz into German.
func inGerman(m quiztest.Maker) quiz.Translations {
	words := quiz.Translations{}
	for _, text := range m.Texts() {
		words[text.At] = quiz.Translated{Text: "Deutsch: " + text.Words, Of: text.Words}
	}
	m.Translations = map[string]quiz.Translations{"de": words}
	return words
}
