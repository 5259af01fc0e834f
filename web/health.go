package web

import (
	"context"
	"log/slog"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/store"
)

// readyTime is how long the workspace may take to say that it can be written.
const readyTime = 2 * time.Second

// health tells those who watch over the server: that it is alive, and that its workspace
// can be written.
func health(r gin.IRouter, s *store.Store) {
	r.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "alive\n") })
	r.GET("/readyz", func(c *gin.Context) {
		ctx, stop := context.WithTimeout(c.Request.Context(), readyTime)
		defer stop()
		if err := s.Writable(ctx); err != nil {
			slog.Error("the workspace can't be written", "error", err)
			c.String(http.StatusServiceUnavailable, "the workspace can't be written\n")
			return
		}
		c.String(http.StatusOK, "ready\n")
	})
}

// securityTxt says whom to tell of a security problem (RFC 9116). It holds for a year from
// when it is asked for.
func securityTxt(with Options) gin.HandlerFunc {
	return func(c *gin.Context) {
		said := "Contact: " + with.Security + "\nExpires: " + time.Now().UTC().AddDate(1, 0, -1).
			Format(time.RFC3339) +
			"\nPreferred-Languages: en\n"
		if with.Public != "" {
			said += "Canonical: " + with.Public + "/.well-known/security.txt\n"
		}
		c.Data(http.StatusOK, "text/plain; charset=utf-8", []byte(said))
	}
}
