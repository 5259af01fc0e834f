package starter_test

import (
	"fmt"

	"omphalos/core/starter"
)

func ExampleMake() {
	fmt.Println(starter.List[0].Key, "–", starter.List[0].About)
	q, err := starter.Make(starter.List[0].Key, "Ready for bees?", starter.List[0].Hint)
	fmt.Println(q.Title, len(q.Questions), len(q.Outcomes), err)
	// Output:
	// blank – One question and two outcomes; how answers decide, you choose on the sheet.
	// Ready for bees? 1 2 <nil>
}
