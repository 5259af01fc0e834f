package invitation

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is written is read back, and has the lines that RFC 5545 asks of an event (3.6.1):
// values from memory of the RFC.
func TestWrite(t *testing.T) {
	a := Appointment{ID: "abc@example.org", Title: "A walk; rows, and \"bees\"\nwith us", Place: "The yard, Quillbrook",
		Start: time.Date(
			2026,
			12,
			1,
			9,
			30,
			0,
			0,
			time.FixedZone("", 3600),
		), Length: 30 * time.Minute, Made: time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC)}
	var file bytes.Buffer
	require.NoError(t, a.Write(&file))
	text := file.String()
	for _, line := range []string{"BEGIN:VCALENDAR", "VERSION:2.0", "BEGIN:VEVENT", "UID:abc@example.org",
		"DTSTAMP:20261124T080000Z", "DTSTART:20261201T083000Z", "DTEND:20261201T090000Z", "END:VCALENDAR"} {
		assert.Contains(t, strings.Split(text, "\r\n"), line)
	}
	back, err := ical.NewDecoder(strings.NewReader(text)).Decode()
	require.NoError(t, err)
	require.Len(t, back.Events(), 1)
	title, err := back.Events()[0].Props.Text(ical.PropSummary)
	require.NoError(t, err)
	assert.Equal(t, `A walk; rows, and "bees" with us`, title)
	where, err := back.Events()[0].Props.Text(ical.PropLocation)
	require.NoError(t, err)
	assert.Equal(t, "The yard, Quillbrook", where)
}
