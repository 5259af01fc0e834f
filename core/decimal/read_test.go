package decimal_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"omphalos/core/decimal"
)

// Numbers are read as a language writes them, and as people write them besides. How languages
// write numbers: Unicode CLDR; common practice for the rest, no source.
func TestReadingAsPeopleType(t *testing.T) {
	for _, one := range []struct {
		typed string
		comma bool
		due   string // "" for no number, "?" for doubt
	}{
		{"12", false, "12"}, {"1,000", false, "1000"}, {"1,234,567.5", false, "1234567.5"}, {"2,5", false, "2.5"},
		{"1.5", false, "1.5"}, {"12.000", false, "?"}, {"1.250", false, "?"}, {"2.125", false, "2.125"},
		{"0.500", false, "0.5"}, {"1.234,5", false, "1234.5"}, {"1 000", false, "1000"}, {"1’000.5", false, "1000.5"},
		{"+3", false, "3"}, {"−4", false, "-4"}, {"1,00", false, "1"}, {"1,2,3", false, ""}, {"1,23,456", false, ""},
		{"", false, ""}, {"a", false, ""}, {"1.2.3", false, ""}, {"1,5.5,5", false, ""}, {"-1,000", false, "-1000"},
		{"12.000", true, "12000"}, {"12,000", true, "?"}, {"1.234,5", true, "1234.5"}, {"1,234.5", true, "1234.5"},
		{"2.5", true, "2.5"}, {"2,5", true, "2.5"}, {"1.234.567", true, "1234567"}, {"1 000,25", true, "1000.25"},
		{"1\u202f000", true, "1000"}, {"0,125", true, "0.125"}, {"1234,5", true, "1234.5"}, {"12.50", true, "12.5"},
	} {
		d, either, err := decimal.Read(one.typed, one.comma)
		switch one.due {
		case "":
			assert.Error(t, err, "%q", one.typed)
			assert.NotErrorIs(t, err, decimal.ErrDoubt, "%q", one.typed)
		case "?":
			assert.ErrorIs(t, err, decimal.ErrDoubt, "%q", one.typed)
			assert.Equal(t, either[0]*1000, either[1], "%q", one.typed)
		default:
			assert.NoError(t, err, "%q", one.typed)
			assert.Equal(t, one.due, d.String(), "%q", one.typed)
		}
	}
}
