package decimal_test

import (
	"fmt"

	"omphalos/core/decimal"
)

// Ten tenths are one, which floating-point numbers do not manage.
func Example() {
	sum := decimal.Decimal(0)
	for range 10 {
		sum += decimal.Must("0.1")
	}
	fmt.Println(sum, sum == decimal.One)
	// Output: 1 true
}

func ExampleParse() {
	price, err := decimal.Parse("12.350")
	fmt.Println(price, err)
	_, err = decimal.Parse("twelve")
	fmt.Println(err)
	// Output:
	// 12.35 <nil>
	// "twelve" is not a number
}
