// Package assets holds the styles, scripts, fonts and icons that the pages
// load, built by build.mjs and embedded, so that nothing comes from elsewhere.
package assets

import (
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"io/fs"
	"net/http"
)

//go:embed dist
var dist embed.FS

// Prefix is where Handler serves.
const Prefix = "/assets/"

var versions = map[string]string{}

func init() {
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
		versions[f.Name()] = hex.EncodeToString(sum[:6])
	}
}

// Path returns the address of a file, which changes with its content.
func Path(name string) string { return Prefix + name + "?v=" + versions[name] }

// Read returns the content of a file.
func Read(name string) ([]byte, error) { return dist.ReadFile("dist/" + name) }

// Handler serves the files. Those that are asked for by Path may be kept for good.
func Handler() http.Handler {
	files, err := fs.Sub(dist, "dist")
	if err != nil {
		panic("assets: " + err.Error())
	}
	server := http.StripPrefix(Prefix, http.FileServerFS(files))
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.RawQuery != "" {
			w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		}
		server.ServeHTTP(w, r)
	})
}
