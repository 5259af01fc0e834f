package saying_test

import (
	"fmt"

	"omphalos/core/saying"
)

// A language puts the parts where it wants them.
func Example() {
	english := saying.Table{"leads": "%s leads with %s"}
	german := saying.Table{"leads": "Mit %[2]s führt %[1]s"}
	fmt.Println(english.Say("leads", "Readiness", "12"))
	fmt.Println(german.Say("leads", "Reife", "12"))
	// Output:
	// Readiness leads with 12
	// Mit 12 führt Reife
}
