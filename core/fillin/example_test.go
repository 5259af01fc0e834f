package fillin_test

import (
	"fmt"

	"omphalos/core/fillin"
)

func ExampleText() {
	fmt.Println(fillin.Text("Your {crop} would pay for *their* bees.", func(name string) (string, bool) {
		return "cherries & plums*", name == "crop"
	}))
	// Output:
	// Your cherries \& plums\* would pay for *their* bees.
}

func ExampleParseAddress() {
	_, err := fillin.ParseAddress("javascript:alert(1)")
	fmt.Println(err)
	a, _ := fillin.ParseAddress("https://example.org/visit{?crop,size}")
	fmt.Println(a.Names())
	// Output:
	// the address "javascript:alert(1)" must start with https:// or http://
	// [crop size]
}
