package web_test

import (
	"bufio"
	"context"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/web"
	"omphalos/web/ui"
)

// While pages are being changed, a template that is saved is seen without building, and
// open pages are told.
func TestWhatIsSavedIsSeen(t *testing.T) {
	folder := t.TempDir()
	room := filepath.Join(folder, "web", "quizzes")
	require.NoError(t, os.CopyFS(room, os.DirFS("studio/quizzes")))
	t.Cleanup(func() { ui.Develop("") })
	a := newAppWith(t, web.Options{Sources: folder})
	c := a.client(t).signIn()
	_, page := c.get("/studio")
	require.Contains(t, page, "Make the quiz")

	within, stop := context.WithTimeout(t.Context(), patience)
	defer stop()
	ask, err := http.NewRequestWithContext(within, http.MethodGet, a.URL+"/develop/changes", nil)
	require.NoError(t, err)
	heard, err := http.DefaultClient.Do(ask)
	require.NoError(t, err)
	defer heard.Body.Close()
	lines := bufio.NewScanner(heard.Body)
	told := func(event string) bool {
		for lines.Scan() {
			if strings.TrimSpace(strings.TrimPrefix(lines.Text(), "event:")) == event {
				return true
			}
		}
		return false
	}
	require.True(t, told("ready"))
	file := filepath.Join(room, "page_quizzes.html")
	template, err := os.ReadFile(file)
	require.NoError(t, err)
	changed := strings.ReplaceAll(string(template), "Make the quiz", "Make it now")
	require.NoError(t, os.WriteFile(file, []byte(changed), 0o600))
	assert.True(t, told("saved"))
	_, page = c.get("/studio")
	assert.Contains(t, page, "Make it now")
}
