package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Responses that were taken out, walked through their own release, land where they landed; through
// one with a higher cut, those between the cuts do not.
func TestReplay(t *testing.T) {
	from := filepath.Join(t.TempDir(), "w.db")
	_, complaint, status := run(t, "", "demo", "--only-make", "--responses", "264", "--workspace", from)
	require.Zero(t, status, complaint)
	s, err := os.ReadFile("demo/season.json")
	require.NoError(t, err)
	own := file(t, "own.json", string(s))
	higher := file(t, "higher.json", strings.Replace(string(s), `"hot": {"at": 21`, `"hot": {"at": 24`, 1))
	type told struct {
		Responses, Moved, Touched int
		Flow                      []struct {
			Before, After string
			Responses     int
		}
		Changes []struct{ Moves, Blamed int }
		Movers  []struct {
			Number                 int
			Before, After, Because string
		}
	}
	read := func(args ...string) (all told) {
		out, complaint, status := run(t, "", append([]string{"replay", "--json"}, args...)...)
		require.Zero(t, status, complaint)
		require.NoError(t, json.Unmarshal([]byte(out), &all))
		return all
	}
	for _, format := range []string{"csv", "jsonl"} {
		table := filepath.Join(t.TempDir(), "responses."+format)
		_, complaint, status = run(t, "", "export", "--workspace", from, "--quiz",
			"what-would-our-bees-bring-you-this-season", "--format", format, table)
		require.Zero(t, status, complaint)
		kept := read(own, table)
		assert.Equal(t, []int{200, 0}, []int{kept.Responses, kept.Moved}, format)
		same := read(own, table, "--against", own)
		assert.Equal(t, kept.Flow, same.Flow)
		assert.Zero(t, same.Touched)
		moved := read(higher, table, "--against", own)
		assert.Equal(t, read(higher, table).Flow, moved.Flow)
		require.Len(t, moved.Changes, 1)
		require.Positive(t, moved.Moved)
		assert.Equal(t, []int{moved.Moved, moved.Moved}, []int{moved.Changes[0].Moves, moved.Changes[0].Blamed})
		assert.Equal(t, []string{"team", "spring", "Cut of Promise 21 → 24"}, []string{moved.Movers[0].Before,
			moved.Movers[0].After, moved.Movers[0].Because})
	}

	// Bad input is told, by its line, and leaves the others alone.
	out, complaint, status := run(t, "number,outcome,answer.crop\n1,wild,apples\n2,,apples\n3,wild,quinces\n",
		"replay", own)
	assert.Equal(t, 1, status)
	assert.Contains(t, out, "1 response, ")
	assert.Contains(t, complaint, "line 3: the outcome is missing")
	assert.Contains(t, complaint, "line 4: ")
	_, complaint, status = run(t, "number,answer.crop\n1,apples\n", "replay", own)
	assert.Equal(t, 2, status)
	assert.Contains(t, complaint, "--against", "it says what to do")
	_, complaint, status = run(t, "", "replay", own, filepath.Join(t.TempDir(), "none.csv"))
	assert.Equal(t, 2, status)
	assert.Contains(t, complaint, "none.csv")
}
