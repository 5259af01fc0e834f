package leads

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestTheNextDayOfALead(t *testing.T) {
	now := time.Date(2026, 12, 30, 9, 0, 0, 0, time.UTC)
	for day, want := range map[string][2]string{
		"":           {"", ""},
		"soon":       {"", ""},
		"2026-12-29": {"29 Dec", "overdue"},
		"2026-12-30": {"30 Dec", "today"},
		"2027-01-04": {"4 Jan 2027", ""},
	} {
		assert.Equal(t, want[0], dayOf(day, now), day)
		if want[0] != "" || day == "" {
			assert.Equal(t, want[1], due(day, now), day)
		}
	}
}
