package standin

import (
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/store"
)

// Working days in the zone that is asked in, without noon and the weekend; what is booked
// is not free, and who books again gives the first time back.
func TestCalendar(t *testing.T) {
	s, err := store.Open(filepath.Join(t.TempDir(), "w.db"))
	require.NoError(t, err)
	defer s.Close()
	c := Calendar{s}
	dublin, err := time.LoadLocation("Europe/Dublin")
	require.NoError(t, err)
	friday := time.Date(2026, 7, 3, 15, 10, 0, 0, dublin) // summer time: an hour before UTC
	free, length, err := c.Free(t.Context(), "visits", friday, friday.AddDate(0, 0, 4))
	require.NoError(t, err)
	assert.Equal(t, 30*time.Minute, length)
	var said []string
	for _, at := range free[:4] {
		said = append(said, at.Format("Mon 15:04"))
	}
	assert.Equal(t, []string{"Fri 15:30", "Fri 16:00", "Mon 09:00", "Mon 09:30"}, said)
	assert.Equal(t, "08:00", free[2].UTC().Format("15:04"))
	assert.Len(t, free, 2+12+10, "two on Friday, Monday, and Tuesday until ten past three")

	require.NoError(t, c.Book(t.Context(), "visits", free[2], "ann"))
	assert.ErrorIs(t, c.Book(t.Context(), "visits", free[2], "ben"), store.ErrTaken)
	require.NoError(t, c.Book(t.Context(), "visits", free[2], "ann"), "again is no harm")
	again, _, err := c.Free(t.Context(), "visits", friday, friday.AddDate(0, 0, 4))
	require.NoError(t, err)
	assert.Len(t, again, len(free)-1)
	require.NoError(t, c.Book(t.Context(), "visits", free[3], "ann"))
	require.NoError(t, c.Book(t.Context(), "visits", free[2], "ben"), "ann has given it back")
	mine, _, booked := c.Booked(t.Context(), "visits", "ann")
	assert.True(t, booked && mine.Equal(free[3]))
	none, _, err := c.Free(t.Context(), "", friday, friday.AddDate(0, 0, 4))
	require.NoError(t, err)
	assert.Empty(t, none, "no calendar by that name")
}
