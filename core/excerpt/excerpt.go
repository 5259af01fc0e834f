// Package excerpt shortens texts to a number of letters as people count them: a letter with
// its accents, or a picture made of several signs, is one (extended grapheme clusters of
// Unicode Standard Annex 29).
package excerpt

import (
	"strings"

	"github.com/rivo/uniseg"
)

// Of returns a text of at most so many letters, the last an ellipsis where something is left
// out.
func Of(s string, most int) string {
	if short := First(s, most); len(short) < len(s) {
		return strings.TrimRight(First(s, max(most-1, 0)), " ") + "…"
	}
	return s
}

// Line is Of with all white space made single blanks, as for a line of a list.
func Line(s string, most int) string { return Of(strings.Join(strings.Fields(s), " "), most) }

// First returns the first letters of a text, at most so many.
func First(s string, most int) string {
	if len(s) <= most {
		return s // no letter takes less than a byte
	}
	rest, state := s, -1
	for range max(most, 0) {
		if rest == "" {
			return s
		}
		_, rest, _, state = uniseg.FirstGraphemeClusterInString(rest, state)
	}
	return s[:len(s)-len(rest)]
}

// Bounded returns the first code points of a text, at most so many. It is for what is kept:
// a single letter can have any number of accents.
func Bounded(s string, most int) string {
	for i := range s {
		if most--; most < 0 {
			return s[:i]
		}
	}
	return s
}

// Length returns how many letters a text has.
func Length(s string) int { return uniseg.GraphemeClusterCount(s) }
