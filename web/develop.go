package web

import (
	"io/fs"
	"net/http"
	"path/filepath"
	"strings"
	"time"

	"github.com/gin-contrib/sse"
	"github.com/gin-gonic/gin"
)

// changes tells open pages, as server-sent events, that a template or a built asset in a
// folder of sources was saved; they load again.
func changes(folder string) gin.HandlerFunc {
	return func(c *gin.Context) {
		wire := http.NewResponseController(c.Writer)
		_ = wire.SetWriteDeadline(time.Time{})
		last := saved(folder)
		c.Render(-1, sse.Event{Event: "ready", Data: "", Retry: 200})
		_ = wire.Flush()
		tick := time.NewTicker(100 * time.Millisecond)
		defer tick.Stop()
		for {
			select {
			case <-c.Request.Context().Done():
				return
			case <-tick.C:
			}
			if now := saved(folder); now.After(last) {
				last = now
				c.Render(-1, sse.Event{Event: "saved", Data: now.Format(time.RFC3339Nano)})
				_ = wire.Flush()
			}
		}
	}
}

// saved returns when a template or a built asset was saved last.
func saved(folder string) (last time.Time) {
	_ = filepath.WalkDir(filepath.Join(folder, "web"), func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".html") && !strings.Contains(path, "/assets/dist/") {
			return nil
		}
		if info, err := d.Info(); err == nil && info.ModTime().After(last) {
			last = info.ModTime()
		}
		return nil
	})
	return last
}
