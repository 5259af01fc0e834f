package program

import (
	"slices"
	"strings"

	"github.com/nyaruka/phonenumbers"
)

// Phone reads a phone number and returns it in the international form (ITU-T E.164): "+",
// the country code and the number, without blanks. A number without a country code, which
// begins neither with "+" nor with "00", is read as one of a country (ISO 3166-1 alpha-2);
// with none given it is not possible.
func Phone(typed, country string) (string, bool) {
	typed = strings.TrimSpace(typed)
	if abroad, found := strings.CutPrefix(typed, "00"); found {
		typed = "+" + abroad
	}
	n, err := phonenumbers.Parse(typed, country)
	if err != nil || !phonenumbers.IsPossibleNumber(n) {
		return "", false
	}
	return phonenumbers.Format(n, phonenumbers.E164), true
}

// examplePhones returns a possible number of each country.
func examplePhones() []string {
	var list []string
	for region := range phonenumbers.GetSupportedRegions() {
		if n := phonenumbers.GetExampleNumber(region); n != nil {
			list = append(list, phonenumbers.Format(n, phonenumbers.E164))
		}
	}
	slices.Sort(list)
	return list
}
