package quiz

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Documents that earlier versions kept are read, mean the same and have no problems; once
// written they are in today's words, which Upgrade leaves alone.
func TestKeptDocumentsComeForward(t *testing.T) {
	files, err := filepath.Glob("testdata/20*.json")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for _, file := range files {
		kept, err := os.ReadFile(file)
		require.NoError(t, err)
		q, err := Read(kept)
		require.NoError(t, err, file)
		assert.Empty(t, q.Check(), file)
		written := q.Write()
		assert.Equal(t, written, Upgrade(written))
		again, err := Read(Upgrade(kept))
		require.NoError(t, err)
		assert.Equal(t, string(written), string(again.Write()))
	}
}

// A statement is called an interlude since 2026-11-25; the word elsewhere is no kind.
func TestStatementsAreInterludes(t *testing.T) {
	kept, err := os.ReadFile("testdata/2026-11-24.json")
	require.NoError(t, err)
	q, err := Read(kept)
	require.NoError(t, err)
	assert.Equal(t, Interlude, q.Questions["pause"].Kind)
	assert.Equal(t, "A statement of ours.", q.Questions["pause"].Help)
	assert.Equal(t, []byte("no document"), Upgrade([]byte("no document")))
}
