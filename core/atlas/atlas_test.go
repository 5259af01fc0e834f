package atlas_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"omphalos/core/atlas"
)

// Names of CLDR and common ones; values from memory of ISO 3166-1.
func TestCountriesByName(t *testing.T) {
	for text, want := range map[string]string{
		"IE": "IE", "ie": "IE", "Ireland": "IE", " ireland ": "IE", "Irland": "IE", "Irlande": "IE",
		"Deutschland": "DE", "Côte d’Ivoire": "CI", "cote d'ivoire": "CI", "UK": "GB", "Großbritannien": "",
		"Polska": "PL", "United States": "US", "U.S.A.": "US", "Österreich": "AT", "Atlantis": "", "": "", "EU": "",
	} {
		got, known := atlas.Code(text)
		assert.Equal(t, want, got, text)
		assert.Equal(t, want != "", known, text)
	}
	assert.Equal(t, "Irlandia", atlas.Name("IE", "pl"))
	assert.Equal(t, "Irland", atlas.Name("IE", "de-AT"))
	assert.Equal(t, "Ireland", atlas.Name("IE", "xx"))
	assert.Equal(t, "Atlantis", atlas.Name("Atlantis", "en"))
	assert.Contains(t, atlas.Codes(), "IE")
	assert.Len(t, atlas.Codes(), 249+1, "those of the standard, and Kosovo")
	assert.NotContains(t, atlas.Codes(), "EU")
}

// Every name of every country in every language that is read leads back to it.
func TestNamesLeadBack(t *testing.T) {
	for _, in := range []string{"en", "de", "fr", "es", "it", "nl", "pt", "pl"} {
		list := atlas.Countries(in)
		assert.Len(t, list, len(atlas.Codes()))
		for _, c := range list {
			code, _ := atlas.Code(c.Name)
			assert.Equal(t, c.Code, code, "%s in %s", c.Name, in)
		}
	}
	german := atlas.Countries("de")
	assert.Equal(t, "Afghanistan", german[0].Name)
	assert.Less(t, at(german, "ÄGYPTEN", "EG"), at(german, "", "AL"), "Ä sorts as A")
}

func at(list []atlas.Country, _, code string) int {
	for i, c := range list {
		if c.Code == code {
			return i
		}
	}
	return -1
}

func ExampleName() {
	fmt.Println(atlas.Name("IE", "fr"))
	// Output: Irlande
}
