package quiz

import (
	"bytes"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Common practice, no source: so many times at the most, and not before so many days are over.
func TestHowOftenSomebodyMay(t *testing.T) {
	now := time.Date(2026, 6, 10, 12, 0, 0, 0, time.UTC)
	before := func(days ...int) (list []time.Time) {
		for _, d := range days {
			list = append(list, now.AddDate(0, 0, -d))
		}
		return list
	}
	for name, c := range map[string]struct {
		rule     *Repeats
		finished []time.Time
		may      bool
		from     time.Time
	}{
		"nothing is said":       {nil, before(0, 1, 2), true, now},
		"nobody yet":            {&Repeats{Most: 1}, nil, true, now},
		"once":                  {&Repeats{Most: 1}, before(400), false, time.Time{}},
		"the third of three":    {&Repeats{Most: 3}, before(1, 2), true, now.AddDate(0, 0, -1)},
		"the fourth of three":   {&Repeats{Most: 3}, before(1, 2, 3), false, time.Time{}},
		"too soon":              {&Repeats{Days: 7}, before(30, 6), false, now.AddDate(0, 0, 1)},
		"to the very day":       {&Repeats{Days: 7}, before(7, 30), true, now},
		"soon enough, and full": {&Repeats{Days: 7, Most: 2}, before(8, 30), false, time.Time{}},
	} {
		may, from := c.rule.May(c.finished, now)
		assert.Equal(t, c.may, may, name)
		assert.Equal(t, c.from, from, name)
	}
}

// A quiz that was to be taken once says so in today's words.
func TestOnceIsARepeat(t *testing.T) {
	kept, err := os.ReadFile("testdata/2026-11-24.json")
	require.NoError(t, err)
	for said, want := range map[string]*Repeats{"true": {Most: 1}, "false": nil} {
		q, err := Read(bytes.Replace(kept, []byte(`"settings": {`), []byte(`"settings": {"once": `+said+`,`), 1))
		require.NoError(t, err)
		assert.Equal(t, want, q.Settings.Repeats)
	}
}
