package card

import (
	"bytes"
	"strings"
	"testing"

	"github.com/emersion/go-vcard"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func written(t testing.TB, cards ...Card) string {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, Write(&b, cards...))
	return b.String()
}

func TestACard(t *testing.T) {
	text := written(t, Card{UID: "urn:uuid:1", Name: "Maren van Okafor", Company: "Tallow Farm; Sons",
		Email: "maren@tallow.example",
		Phone: "+353 1 555 01 42", Country: "Ireland", Note: "Called back,\nwants twelve; hives",
		Revised: "20261126T091500Z", Categories: []string{"fit"}})
	for _, line := range []string{
		"BEGIN:VCARD", "VERSION:4.0", "FN:Maren van Okafor", "N:Okafor;Maren van;;;", "ORG:Tallow Farm\\, Sons",
		"EMAIL:maren@tallow.example", "TEL;VALUE=uri:tel:+353-1-555-01-42",
		`NOTE:Called back\,\nwants twelve; hives`, "CATEGORIES:fit", "END:VCARD",
	} { // RFC 6350, sections 3 and 6
		assert.Contains(t, strings.Split(text, "\r\n"), line)
	}
	assert.Contains(t, written(t, Card{Name: " \t", Phone: " "}), "FN:Nobody", "blanks are no name")
	assert.Contains(t, written(t, Card{Email: "a@example.org"}), "FN:a@example.org", "a card has to be called something")
}

// Whatever people type, a card is one card, and says the same when it is read again.
func TestCardsAreReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := Card{Name: rapid.String().Draw(t, "name"), Company: rapid.String().Draw(t, "company"),
			Note: rapid.String().Draw(t, "note")}
		var b bytes.Buffer
		require.NoError(t, Write(&b, c, c))
		in := vcard.NewDecoder(&b)
		for range 2 {
			v, err := in.Decode()
			require.NoError(t, err)
			if line(c.Name) != "" {
				assert.Equal(t, line(c.Name), v.Value(vcard.FieldFormattedName))
			}
		}
		_, err := in.Decode()
		assert.Error(t, err, "there are two")
	})
}
