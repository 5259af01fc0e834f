package main

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/store"
	"omphalos/store/tally"
)

// A demo with many responses has them over ninety days, from several sources, with people
// who left on the way, and with leads that were won and lost: the same ones each time.
func TestDemoWithManyResponses(t *testing.T) {
	const more = demoResponses - leadResponses
	outcomes := func() (counts []tally.Count) {
		s, err := store.Open(filepath.Join(t.TempDir(), "w.db"))
		require.NoError(t, err)
		defer s.Close()
		require.NoError(t, fillDemo(t.Context(), s, defaultStandIns, demoResponses))
		list, err := s.Definitions.Quizzes(t.Context())
		require.NoError(t, err)
		season := list[0]
		require.Equal(t, more, season.Responses)
		require.NoError(t, s.Responses.Tally(t.Context(), season.ID, func(all *tally.Tally) {
			days := all.Slice().Values(tally.Property{Kind: tally.Finished}, 86_400)
			assert.InDelta(t, demoDays, len(days), 10)
			assert.Len(t, all.Slice().Split(tally.Property{Kind: tally.Source}), 3)
			for of, split := range all.Slice().SplitAll(tally.Answer) {
				assert.GreaterOrEqual(t, len(split), 2, "%v", of)
			}
			counts = all.Slice().Split(tally.Property{Kind: tally.Outcome})
		}))
		left, states := 0, map[string]int{}
		for n := range more {
			r, err := s.Responses.Response(t.Context(), season.ID, n+1)
			require.NoError(t, err)
			assert.LessOrEqual(t, len(r.Consents)*2, len(r.Contacts))
			if len(r.Contacts) > 0 {
				left++
			}
			if r.Lead != nil {
				states[r.Lead.State]++
			}
		}
		assert.Greater(t, left, more/5)
		assert.Greater(t, states[store.Won], 50)
		assert.Greater(t, states[store.Lost], 50)
		return counts
	}
	first := outcomes()
	assert.Len(t, first, 3)
	assert.Equal(t, first, outcomes())
}
