// Package assets holds the styles, scripts, fonts and icons that the pages
// load, built by build.mjs and embedded, so that nothing comes from elsewhere.
package assets

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"io/fs"
	"net/http"
	"os"
	"path"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"

	lru "github.com/hashicorp/golang-lru/v2"
)

//go:embed dist
var dist embed.FS

// Prefix is where Handler serves.
const Prefix = "/assets/"

// built is what is told of the files: it is worked out when one is asked for first, since
// most commands serve none.
type built struct {
	versions map[string]string
	packed   map[string][]byte // texts, compressed by gzip
}

var files = sync.OnceValue(func() built {
	b := built{map[string]string{}, map[string][]byte{}}
	files, err := dist.ReadDir("dist")
	if err != nil {
		panic("assets: " + err.Error())
	}
	for _, f := range files {
		data, err := dist.ReadFile("dist/" + f.Name())
		if err != nil {
			panic("assets: " + err.Error())
		}
		sum := sha256.Sum256(data)
		b.versions[f.Name()] = hex.EncodeToString(sum[:6])
		if kinds[path.Ext(f.Name())] != "" {
			b.packed[f.Name()] = pack(data)
		}
	}
	return b
})

// kinds are the types of the files that compressing makes smaller.
var kinds = map[string]string{
	".css": "text/css; charset=utf-8",
	".js":  "text/javascript; charset=utf-8",
	".svg": "image/svg+xml",
}

func pack(data []byte) []byte {
	var b bytes.Buffer
	w, err := gzip.NewWriterLevel(&b, gzip.BestCompression)
	if err != nil {
		panic("assets: " + err.Error()) // the level is a right one
	}
	_, _ = w.Write(data) // into memory: never fails
	_ = w.Close()
	return b.Bytes()
}

// Send writes a text of the files, compressed where the browser takes that; false for
// others.
func Send(w http.ResponseWriter, r *http.Request, name string) bool {
	if _, err := os.Stat(filepath.Join(developed, name)); developed != "" && err == nil {
		http.ServeFileFS(w, r, os.DirFS(developed), name)
		return true
	}
	data := files().packed[name]
	if data == nil {
		return false
	}
	h := w.Header()
	h.Set("Content-Type", kinds[path.Ext(name)])
	h.Set("Vary", "Accept-Encoding")
	if strings.Contains(r.Header.Get("Accept-Encoding"), "gzip") {
		h.Set("Content-Encoding", "gzip")
	} else {
		var err error
		if data, err = dist.ReadFile("dist/" + name); err != nil {
			return false
		}
	}
	h.Set("Content-Length", strconv.Itoa(len(data)))
	if r.Method != http.MethodHead {
		_, _ = w.Write(data)
	}
	return true
}

// mostStyles is how many style sheets that were put together are kept compressed.
const mostStyles = 256

var styles, _ = lru.New[string, []byte](mostStyles) // by version; never fails

// SendStyles writes a style sheet that is put together of a version, compressed where the
// browser takes that. It is made where it has not been yet.
func SendStyles(w http.ResponseWriter, r *http.Request, version string, make func() []byte) {
	h := w.Header()
	h.Set("Content-Type", kinds[".css"])
	h.Set("Vary", "Accept-Encoding")
	var data []byte
	if strings.Contains(r.Header.Get("Accept-Encoding"), "gzip") {
		packed, known := styles.Get(version)
		if !known || developed != "" {
			packed = pack(make())
			styles.Add(version, packed)
		}
		h.Set("Content-Encoding", "gzip")
		data = packed
	} else {
		data = make()
	}
	h.Set("Content-Length", strconv.Itoa(len(data)))
	if r.Method != http.MethodHead {
		_, _ = w.Write(data)
	}
}

// Has tells whether there is a file.
func Has(name string) bool { return files().versions[name] != "" }

// Path returns the address of a file, which changes with its content.
func Path(name string) string {
	if developed != "" {
		if info, err := os.Stat(filepath.Join(developed, name)); err == nil {
			return Prefix + name + "?v=" + strconv.FormatInt(info.ModTime().UnixNano(), 36)
		}
	}
	return Prefix + name + "?v=" + files().versions[name]
}

// Size returns the width and the height that a drawing says of itself, 0 of what is none.
func Size(name string) (width, height int) {
	if size, known := sizes.Load(name); known {
		both := size.([2]int)
		return both[0], both[1]
	}
	if path.Ext(name) != ".svg" {
		return 0, 0
	}
	data, err := dist.ReadFile("dist/" + name)
	if err != nil {
		return 0, 0
	}
	head, _, _ := strings.Cut(string(data), ">")
	said := sizeSaid.FindStringSubmatch(head)
	if said == nil {
		return 0, 0
	}
	width, _ = strconv.Atoi(said[1])
	height, _ = strconv.Atoi(said[2])
	sizes.Store(name, [2]int{width, height})
	return width, height
}

var (
	sizes    sync.Map // of drawings that were asked for, by name
	sizeSaid = regexp.MustCompile(` width="(\d+)" height="(\d+)"`)
)

// Read returns what a file holds.
func Read(name string) ([]byte, error) {
	if developed != "" {
		if data, err := os.ReadFile(filepath.Join(developed, path.Base(name))); err == nil {
			return data, nil
		}
	}
	return dist.ReadFile("dist/" + path.Base(name))
}

// developed is the folder from which files are served as they are at the moment, "" where
// those that are built in count.
var developed string

// Develop has files come from a folder, for those who change them.
func Develop(folder string) { developed = folder }

// Handler serves the files. Those that are asked for by Path may be kept for good.
func Handler() http.Handler {
	served, err := fs.Sub(dist, "dist")
	if err != nil {
		panic("assets: " + err.Error())
	}
	server := http.StripPrefix(Prefix, http.FileServerFS(served))
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasSuffix(r.URL.Path, "/") { // a folder
			http.NotFound(w, r)
			return
		}
		if r.URL.RawQuery != "" {
			w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		}
		if Send(w, r, strings.TrimPrefix(r.URL.Path, Prefix)) {
			return
		}
		server.ServeHTTP(w, r)
	})
}
