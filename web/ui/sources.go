package ui

import (
	"io/fs"
	"os"
	"path/filepath"
	"slices"

	"omphalos/web/assets"
)

// sources is the folder from which templates are read anew for each page, "" where those
// that are built in count.
var sources string

// Develop has templates and built assets come from a folder of sources, as they are at the
// moment; "" has those count that are built in. It is called before anything is loaded, by
// those who change them.
func Develop(folder string) {
	sources = folder
	assets.Develop("")
	if folder != "" {
		assets.Develop(filepath.Join(folder, "web/assets/dist"))
	}
}

// Developing tells whether they do.
func Developing() bool { return sources != "" }

// onDisk returns the folder of the sources that holds the templates of a room, the room
// itself where there is none.
func onDisk(room fs.FS) fs.FS {
	names, _ := fs.Glob(room, "*.html")
	found := room
	_ = filepath.WalkDir(filepath.Join(sources, "web"), func(path string, d fs.DirEntry, err error) error {
		if err != nil || !d.IsDir() {
			return nil
		}
		if there, _ := fs.Glob(os.DirFS(path), "*.html"); len(there) > 0 && slices.Equal(there, names) {
			found = os.DirFS(path)
			return fs.SkipAll
		}
		return nil
	})
	return found
}
