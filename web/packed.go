package web

import (
	"compress/gzip"
	"net/http"

	"github.com/klauspost/compress/gzhttp"
)

// leastPacked is how long a page is at least, in bytes, that is packed: a shorter one goes in one
// packet as it is.
const leastPacked = 1400

// packed sends pages packed to browsers that take that. What ships with the application is packed
// by itself, once.
func packed(pages http.Handler) http.Handler {
	wrap, err := gzhttp.NewWrapper(gzhttp.ContentTypes([]string{"text/html"}), gzhttp.MinSize(leastPacked),
		gzhttp.CompressionLevel(gzip.BestSpeed))
	if err != nil {
		panic("web: " + err.Error()) // the options are ours
	}
	return wrap(pages)
}
