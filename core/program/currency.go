package program

import (
	"golang.org/x/text/currency"
)

// CurrencyPlaces returns the number of decimals of a currency (ISO 4217), 2 for an
// unknown one.
func CurrencyPlaces(code string) int {
	unit, err := currency.ParseISO(code)
	if err != nil {
		return 2
	}
	places, _ := currency.Standard.Rounding(unit)
	return places
}
