package main

import (
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// floors are the rooms of the house from the lowest up; each imports only
// itself and what is below.
var floors = []string{"core", "interchange", "store", "outbox", "web", "cmd"}

// outside are packages of Go's own that the core has nothing to do with.
var outside = []string{"net", "net/http", "html/template", "html", "log", "log/slog", "os", "database/sql"}

// TestFloors keeps the house as docs/design.md draws it.
func TestFloors(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}} {{join .Imports " "}}`, "omphalos/...").Output()
	require.NoError(t, err)
	packages := 0
	for line := range strings.Lines(string(out)) {
		fields := strings.Fields(line)
		floor := floorOf(fields[0])
		require.GreaterOrEqual(t, floor, 0, "%s is on no floor", fields[0])
		packages++
		for _, imported := range fields[1:] {
			if above := floorOf(imported); above > floor {
				t.Errorf("%s imports %s, which is above it", fields[0], imported)
			}
			if strings.HasPrefix(imported, "gorm.io") && floors[floor] != "store" {
				t.Errorf("%s imports GORM, which only store knows", fields[0])
			}
			if floors[floor] == "core" && (slices.Contains(outside, imported) ||
				strings.HasPrefix(imported, "github.com/gin-gonic")) {
				t.Errorf("%s imports %s; the core computes and does nothing else", fields[0], imported)
			}
		}
	}
	assert.Greater(t, packages, 10)
}

// Lines of Go fit a window; what is generated is nobody's to read.
const longestLine = 120 // bytes

func TestLinesFit(t *testing.T) {
	files := 0
	require.NoError(t, filepath.WalkDir("../..", func(name string, d fs.DirEntry, err error) error {
		switch {
		case err != nil:
			return err
		case d.IsDir() && slices.Contains([]string{"node_modules", "testdata", ".git", ".cache"}, d.Name()):
			return fs.SkipDir
		case !strings.HasSuffix(name, ".go") || strings.HasSuffix(name, "_test.go"), d.Name() == "made.go":
			return nil
		}
		text, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		files++
		lines := strings.Split(strings.TrimSuffix(string(text), "\n"), "\n")
		for i, line := range lines {
			assert.LessOrEqual(t, len(line), longestLine, "%s:%d", name, i+1)
		}
		return nil
	}))
	assert.Greater(t, files, 400)
}

func floorOf(path string) int {
	rest, ours := strings.CutPrefix(path, "omphalos/")
	if !ours {
		return -1
	}
	room, _, _ := strings.Cut(rest, "/")
	return slices.Index(floors, room)
}
