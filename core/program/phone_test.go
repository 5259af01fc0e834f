package program

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Numbers in the form of ITU-T E.164; values from memory of the recommendation's form, the
// numbers invented in ranges set aside for fiction (Ofcom: 01632 960000 to 960999).
func TestPhone(t *testing.T) {
	for _, c := range []struct {
		typed, country, want string
		possible             bool
	}{
		{"+44 1632 960123", "", "+441632960123", true},
		{"0044 (1632) 960-123", "", "+441632960123", true},
		{"01632 960123", "GB", "+441632960123", true},
		{"+44 1632 960123", "IE", "+441632960123", true},
		{"01632 960123", "", "", false},
		{"12", "GB", "", false},
		{"call me", "GB", "", false},
		{"", "GB", "", false},
	} {
		got, possible := Phone(c.typed, c.country)
		assert.Equal(t, c.want, got, c.typed)
		assert.Equal(t, c.possible, possible, c.typed)
	}
}
