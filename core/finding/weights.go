package finding

import (
	"maps"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/quiz"
)

// weighing tells whether weighing has begun: before, no question changes anything yet.
func (f *finder) weighing() bool {
	for _, q := range f.q.Questions {
		if weighs(q) {
			return true
		}
	}
	return false
}

func weighs(q *quiz.Question) bool {
	for _, a := range q.Answers {
		if counts(a) {
			return true
		}
	}
	for _, r := range q.Rows {
		for _, adds := range r.Adds {
			for _, d := range adds {
				if d != 0 {
					return true
				}
			}
		}
	}
	return len(q.Weigh) > 0
}

func counts(a *quiz.Answer) bool {
	for _, d := range a.Adds {
		if d != 0 {
			return true
		}
	}
	return false
}

// unweighted notes answers without a weight beside answers that have one.
func (f *finder) unweighted(key string, q *quiz.Question) {
	if !q.Kind.HasAnswers() || q.Kind == quiz.Grid || !weighs(q) {
		return
	}
	var bare []string
	scales := map[string]bool{}
	for _, k := range quiz.InOrder(q.Answers) {
		for scale := range q.Answers[k].Adds {
			scales[scale] = true
		}
		if len(q.Answers[k].Adds) == 0 {
			bare = append(bare, k)
		}
	}
	if len(bare) == 0 {
		return
	}
	var changes []edit.Op
	for _, k := range bare {
		adds := map[string]decimal.Decimal{}
		for scale := range scales {
			adds[scale] = 0
		}
		changes = append(changes, put(quiz.At("questions", key, "answers", k, "adds"), adds))
	}
	names := make([]string, len(bare))
	for i, k := range bare {
		names[i] = quote(q.Answers[k].Label, k)
	}
	has := say("has-no-weight")
	if len(bare) > 1 {
		has = say("have-no-weight")
	}
	f.note("unweighted", quiz.At("questions", key, "answers", bare[0], "adds"), mend("write-0", changes...),
		"and-other-answers-do", f.label(key), listed(names, 3), has)
}

// ownAmounts notes rows whose own amounts stand in some columns only: they are instead
// of the columns' in all of them.
func (f *finder) ownAmounts(key string, q *quiz.Question) {
	for _, k := range quiz.InOrder(q.Rows) {
		own := map[string]int{}
		for _, adds := range q.Rows[k].Adds {
			for scale := range adds {
				own[scale]++
			}
		}
		for _, scale := range slices.Sorted(maps.Keys(own)) {
			var lost []string
			for _, column := range quiz.InOrder(q.Answers) {
				if _, has := q.Rows[k].Adds[column][scale]; !has && q.Answers[column].Adds[scale] != 0 {
					lost = append(lost, quote(q.Answers[column].Label, column))
				}
			}
			if len(lost) > 0 {
				f.note(
					"own-amounts",
					quiz.At("questions", key, "rows", k, "adds"),
					nil,
					"row-has-own-amounts",
					f.label(key),
					quote(q.Rows[k].Label, k),
					f.scale(scale),
					listed(lost, 3),
				)
			}
		}
	}
}

// listed joins words, the first few of many.
func listed(words []string, most int) string {
	if len(words) > most {
		return say("and-more", strings.Join(words[:most], ", "), len(words)-most)
	}
	if len(words) > 1 {
		return say("and", strings.Join(words[:len(words)-1], ", "), words[len(words)-1])
	}
	return strings.Join(words, "")
}

// brackets that no value which can be given lies in.
func (f *finder) brackets(key string, q *quiz.Question) {
	values := q.Lattice()
	for scale, w := range q.Weigh {
		keys := quiz.InOrderOfBrackets(w.Brackets)
		for i, k := range keys {
			low, high := decimal.Min, decimal.Max
			if b := w.Brackets[k]; b.From != nil {
				low = b.From.Value()
			}
			if i+1 < len(keys) {
				high = w.Brackets[keys[i+1]].From.Value() - 1
			}
			if w.Reversed {
				ends, bottom := q.Bounds()
				if ends == nil || bottom == nil {
					continue
				}
				low, high = ends.Add(*bottom).Sub(high), ends.Add(*bottom).Sub(low)
			}
			if values.Within(low, high).Count() > 0 {
				continue
			}
			pointer := quiz.At("questions", key, "weigh", scale, "brackets", k)
			f.note(
				"unreachable-answer",
				pointer,
				mend("remove-the-bracket", remove(pointer)),
				"nothing-that-can-be",
				f.label(key),
				bracketWords(w.Brackets, keys, i),
				valueWords(q, values),
			)
		}
	}
}

func bracketWords(brackets map[string]*quiz.Bracket, keys []string, i int) string {
	from, last := brackets[keys[i]].From, i+1 == len(keys)
	switch {
	case from == nil && last:
		return say("of-all-values")
	case from == nil:
		return say("below", brackets[keys[i+1]].From.Words())
	case last:
		return say("from", from.Words())
	}
	return say("from-to-below", from.Words(), brackets[keys[i+1]].From.Words())
}
