package finding

import (
	"fmt"
	"maps"
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
			percent := decimal.FromInt(int64(m.Nearest[name]*1e4 + 0.5)).Div(decimal.FromInt(1e4))
			what := say("passing-by")
			if name != program.SkippedName {
				what = quote(q.Answers[name].Label, name)
			}
			words = append(words, fmt.Sprintf("%s %s %%", what, percent.Text(1)))
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

// picksWords says how many answers are picked.
func picksWords(q *quiz.Question) string {
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
