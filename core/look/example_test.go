package look_test

import (
	"fmt"

	"omphalos/core/look"
	"omphalos/core/quiz"
)

// A colour of a brand that is too light for words is darkened as far as it must be.
func ExampleReadable() {
	const paper, honey = "#ffffff", "#e0a11b"
	words := look.Readable(honey, 4.5, paper)
	fmt.Printf("%.1f to 1, then %.1f to 1\n", look.Contrast(honey, paper), look.Contrast(words, paper))
	// Output: 2.3 to 1, then 4.6 to 1
}

// A made look is whole by itself; what a quiz says besides replaces a part of it.
func ExampleOf() {
	d := look.Of(&quiz.Look{Made: quiz.Night, Corners: quiz.RoundCorners})
	fmt.Println(d.Scheme, d.Corners, d.Typeface)
	// Output: dark round commissioner
}
