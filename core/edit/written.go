package edit

import (
	"maps"
	"strings"

	"omphalos/core/quiz"
)

// unwritten tells whether an answer has never been written: it has neither words nor
// anything else, and was left over from writing others.
func unwritten(a *quiz.Answer) bool {
	return a != nil && strings.TrimSpace(a.Label) == "" && a.Picture == nil && a.Then == nil && len(a.Adds) == 0 &&
		!a.WriteIn &&
		!a.Right
}

func countUnwritten(q *quiz.Question) (n int) {
	for _, a := range q.Answers {
		if unwritten(a) {
			n++
		}
	}
	return n
}

// Written returns a quiz without the answers that were never written, the quiz itself where
// there are none; those of a question that has no others stay, since they are still to be
// written.
func Written(q *quiz.Quiz) *quiz.Quiz {
	to := *q
	to.Questions = nil
	for key, asked := range q.Questions {
		if n := countUnwritten(asked); n == 0 || n == len(asked.Answers) {
			continue
		}
		if to.Questions == nil {
			to.Questions = maps.Clone(q.Questions)
		}
		shorter := *asked
		shorter.Answers = maps.Clone(asked.Answers)
		maps.DeleteFunc(shorter.Answers, func(_ string, a *quiz.Answer) bool { return unwritten(a) })
		to.Questions[key] = &shorter
	}
	if to.Questions == nil {
		return q
	}
	return &to
}
