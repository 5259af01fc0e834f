package quiz_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"omphalos/core/quiz"
)

func ExamplePointer() {
	answer := quiz.At("questions", "crop", "answers", "a/b")
	fmt.Println(answer)
	fmt.Println(answer.Parent(), answer.Key())
	fmt.Println(answer.Fits("/questions/*/answers/*"), answer.Within("/questions/crop"), answer.Within("/questions/cr"))
	// Output:
	// /questions/crop/answers/a~1b
	// /questions/crop/answers a/b
	// true true false
}

// The document and the pointers of RFC 6901, section 5, as far as they lead through objects.
func TestPointersOfRFC6901(t *testing.T) {
	document := map[string]any{"": 0, "a/b": 1, "c%d": 2, "e^f": 3, "g|h": 4, `i\j`: 5, `k"l`: 6, " ": 7, "m~n": 8}
	for p, want := range map[quiz.Pointer]any{"": document, "/": 0, "/a~1b": 1, "/c%d": 2, "/e^f": 3, "/g|h": 4,
		`/i\j`: 5, `/k"l`: 6, "/ ": 7, "/m~0n": 8} {
		got, there := p.In(document)
		assert.True(t, there, p)
		assert.Equal(t, want, got, p)
	}
	for _, p := range []quiz.Pointer{"/z", "/a~1b/c", "//"} {
		_, there := p.In(document)
		assert.False(t, there, p)
	}
}

// Keys lead to a place and are found in it again, whatever they hold.
func TestKeysComeBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		keys := rapid.SliceOfN(rapid.String(), 1, 6).Draw(t, "keys")
		p := quiz.At(keys...)
		assert.Equal(t, keys, p.Keys())
		assert.Equal(t, keys[len(keys)-1], p.Key())
		assert.Equal(t, quiz.At(keys[:len(keys)-1]...), p.Parent())
		assert.True(t, p.Within(p.Parent()))
		stars := quiz.At(make([]string, len(keys))...)
		for range keys {
			stars = stars.Parent()
		}
		for range keys {
			stars = stars.Join("*")
		}
		assert.True(t, p.Fits(string(stars)))
		assert.False(t, p.Fits(string(stars.Join("*"))))
		assert.True(t, p.Fits(string(stars.Parent().Join("**"))))
	})
}

func TestForms(t *testing.T) {
	assert.True(t, quiz.Pointer("/contact").Fits("/contact"))
	assert.True(t, quiz.Pointer("/questions/a/expect/x/y").Fits("/questions/*/expect/**"))
	assert.False(t, quiz.Pointer("/questions/a").Fits("/questions/*/expect/**"))
	assert.True(t, quiz.Pointer("/scales/a").FitsAny("/outcomes/*", "/scales/*"))
}
