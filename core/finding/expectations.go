package finding

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// misfits notes expectations of several picks that can't be had under the limits on how
// many are picked, and offers the nearest ones that can.
func (f *finder) misfits() {
	for _, m := range f.o.Misfits {
		key := f.p.Key(m.Question)
		q := f.q.Questions[key]
		names := slices.SortedFunc(maps.Keys(m.Nearest), func(a, b string) int {
			return slices.Index(f.p.Names(m.Question), a) - slices.Index(f.p.Names(m.Question), b)
		})
		var words []string
		var changes []edit.Op
		for _, name := range names {
			percent := decimal.Decimal(math.Round(m.Nearest[name] * float64(decimal.One)))
			words = append(words, fmt.Sprintf("%s %s %%", answerWords(q, name), percent.Text(1)))
			changes = append(changes, put(quiz.At("questions", key, "expect", name), percent))
		}
		f.note(
			"expectation-misfit",
			quiz.At("questions", key, "expect"),
			mend("expect-these", changes...),
			"these-expectations-cant-be",
			f.label(key),
			picksWords(q),
			strings.Join(words, ", "),
		)
	}
}

// answerWords says what a name of an answer stands for.
func answerWords(q *quiz.Question, name string) string {
	row, column, inGrid := strings.Cut(name, ".")
	switch {
	case name == program.SkippedName:
		return say("passing-by")
	case !inGrid:
		return quote(q.Answers[name].Label, name)
	case column == program.SkippedName:
		return say("row-left-alone", quote(q.Rows[row].Label, row))
	}
	return say("row-answered", quote(q.Rows[row].Label, row), quote(q.Answers[column].Label, column))
}

// picksWords says how many answers are picked.
func picksWords(q *quiz.Question) string {
	if q.Kind == quiz.Grid {
		return say("a-row-at-least")
	}
	least, most := 1, len(q.Answers)
	if q.Picks != nil {
		least = max(q.Picks.Min, 1)
		if q.Picks.Max > 0 {
			most = min(q.Picks.Max, most)
		}
	}
	words := say("to-are-picked", least, most)
	if least == most {
		words = say("just-are-picked", least)
	}
	if !q.Required {
		words = say("or-none", words)
	}
	return words
}

// rangeEnds notes scales that a large answer can take beyond what can be counted with.
func (f *finder) rangeEnds() {
	for _, i := range odds.Overflows(f.p) {
		key := f.p.ScaleKeys()[i]
		f.note(
			"range-end",
			quiz.At("scales", key),
			nil,
			"goes-beyond-range",
			f.scale(key),
		)
	}
}
