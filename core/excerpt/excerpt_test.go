package excerpt_test

import (
	"fmt"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"omphalos/core/excerpt"
)

func ExampleOf() {
	fmt.Println(excerpt.Of("Is your orchard ready for hired bees?", 18))
	fmt.Println(excerpt.Of("Short", 18))
	// Output:
	// Is your orchard r…
	// Short
}

func ExampleLine() {
	fmt.Println(excerpt.Line("Two\n  lines of words", 14))
	// Output: Two lines of…
}

// A letter is not taken apart: a flag, a family, an accent on its own.
func TestLettersStayWhole(t *testing.T) {
	for text, want := range map[string]string{"🇮🇪🇬🇧🇳🇱": "🇮🇪…",
		"👩‍👩‍👧👩‍👩‍👧👩‍👩‍👧": "👩‍👩‍👧…", "éàô": "é…", "abc": "a…"} {
		assert.Equal(t, want, excerpt.Of(text, 2), text)
		assert.Equal(t, 3, excerpt.Length(text), text)
	}
}

// Whatever the text, what comes is its beginning, no longer than was asked for, and valid.
func TestExcerptsAreBeginnings(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s, most := rapid.String().Draw(t, "text"), rapid.IntRange(0, 20).Draw(t, "most")
		assert.Equal(t, string([]rune(s)[:min(most, utf8.RuneCountInString(s))]), excerpt.Bounded(s, most))
		first := excerpt.First(s, most)
		assert.True(t, strings.HasPrefix(s, first))
		assert.LessOrEqual(t, excerpt.Length(first), most)
		assert.LessOrEqual(t, excerpt.Length(excerpt.Of(s, most)), max(most, 1))
		assert.True(t, utf8.ValidString(excerpt.Of(s, most)))
	})
}
