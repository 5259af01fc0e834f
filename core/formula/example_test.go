package formula_test

import (
	"fmt"

	"omphalos/core/decimal"
	"omphalos/core/formula"
)

func Example() {
	f, err := formula.Compile("(need + budget) / 2", formula.NamesOf([]string{"need", "budget"}))
	if err != nil {
		fmt.Println(err)
		return
	}
	values := map[string]decimal.Decimal{"need": decimal.Must("7"), "budget": decimal.Must("4.5")}
	score, _ := f.Eval(decimal.Places, func(i int) decimal.Decimal { return values[f.Names()[i]] })
	fmt.Println(score)
	// Output: 5.75
}
