package look

import "omphalos/core/quiz"

// Instead returns the typeface whose letters are taken where one has none of a script: one with
// serifs for one with serifs. Both have the letters of the Latin, Greek and Cyrillic scripts.
func Instead(of quiz.Typeface) quiz.Typeface {
	if of == quiz.Fraunces || of == quiz.Literata {
		return quiz.Literata
	}
	return quiz.Commissioner
}
