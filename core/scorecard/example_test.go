package scorecard_test

import (
	"fmt"

	"omphalos/core/scorecard"
)

// Of those who decide by themselves 45 of 60 were won, of the others 15 of 60.
func ExampleWeigh() {
	list, value := scorecard.Weigh([]scorecard.Tally{{Won: 45, Lost: 15}, {Won: 15, Lost: 45}})
	fmt.Printf("%+.2f %+.2f, information value %.2f\n", list[0].Weight, list[1].Weight, value)
	// Output: +1.10 -1.10, information value 1.10
}

// A score that puts every won lead above every lost one has an area of 1.
func ExampleCurveOf() {
	c, _ := scorecard.CurveOf([]float64{9, 7, 4, 2}, []bool{true, true, false, false})
	fmt.Println(c.Area, c.Points)
	// Output: 1 [{0 0} {0 0.5} {0 1} {0.5 1} {1 1}]
}
