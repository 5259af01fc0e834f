package place_test

import (
	"fmt"

	"omphalos/core/place"
)

func ExampleNearest() {
	mill, ferry := place.Point{Latitude: 54.1, Longitude: -8.4}, place.Point{Latitude: 52.7, Longitude: -8.6}
	order, kilometres := place.Nearest(place.Point{Latitude: 53, Longitude: -8.5}, []place.Point{mill, ferry})
	fmt.Println(order[0], fmt.Sprintf("%.0f km", kilometres[0]))
	// Output: 1 34 km
}
