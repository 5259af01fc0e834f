package quiz_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// Cells of a decision table are read as they are written, by the words of answers or
// by their keys.
func TestCells(t *testing.T) {
	m := quiztest.New("yes", "no")
	m.Scale("points", quiz.Sum)
	crop := m.Ask("crop", quiz.Single, "apples", "pears", "both")
	crop.Answers["both"].Label = "Apples and pears"
	m.Ask("when", quiz.Single, "now", "later").Answers["now"].Label = "Now, or never"
	m.Questions["when"].Answers["later"].Label = "Later"
	m.Ask("topics", quiz.Several, "a", "b", "c")
	m.Ask("acres", quiz.Number)
	m.Ask("start", quiz.Date)
	answer := func(k string) quiz.Subject { return quiz.Subject{Answer: k} }
	for _, c := range []struct {
		subject         quiz.Subject
		typed, op, text string
	}{
		{answer("crop"), "apples", "is", "apples"},
		{answer("crop"), "APPLES AND PEARS", "is", "both"},
		{answer("crop"), "apples or pears", "is one of", "apples or pears"},
		{answer("crop"), "apples, pears", "is one of", "apples or pears"},
		{answer("crop"), "apples, pears, or Apples and pears", "is one of", "apples or pears or both"},
		{answer("when"), "Now, or never", "is", "now"},
		{answer("when"), "Later or now, or never", "is one of", "Later or now"},
		{quiz.Subject{Visitor: "country"}, "Irland, UK", "is one of", "Ireland or United Kingdom"},
		{answer("crop"), "not apples", "is not", "not apples"},
		{answer("crop"), " any ", "", ""},
		{answer("crop"), "skipped", "is skipped", "skipped"},
		{answer("topics"), "a and c", "includes", "a and c"},
		{answer("acres"), ">= 8", "at least", "≥ 8"},
		{answer("acres"), "8 to 14.5", "between", "8 to 14.5"},
		{answer("acres"), "-3", "is", "-3"},
		{answer("start"), "≤ 2027-05-01", "at most", "≤ 2027-05-01"},
		{quiz.Subject{Scale: "points"}, "<0.3", "less than", "< 0.3"},
		{quiz.Subject{Visitor: "country"}, "IE or GB", "is one of", "Ireland or United Kingdom"},
	} {
		test, err := m.ReadCell(c.subject, c.typed)
		require.NoError(t, err, c.typed)
		assert.Equal(t, c.text, m.CellText(c.subject, test), c.typed)
		if c.op == "" {
			assert.Nil(t, test, c.typed)
			continue
		}
		assert.Equal(t, c.op, string(test.Op), c.typed)
		again, err := m.ReadCell(c.subject, m.CellText(c.subject, test))
		require.NoError(t, err, c.typed)
		assert.Equal(t, test, again, c.typed)
	}
	for typed, says := range map[string]string{"plums": "the answers to “crop” are “apples”, " +
		"“pears”, “Apples and pears”", "apples, plums": `"plums" can't be read as a cell`} {
		_, err := m.ReadCell(answer("crop"), typed)
		assert.ErrorIs(t, err, quiz.ErrCell)
		assert.ErrorContains(t, err, says)
	}
	_, err := m.ReadCell(answer("acres"), "a lot")
	assert.ErrorContains(t, err, "numbers are written as 8, ≥ 8")
}
