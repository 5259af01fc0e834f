package web

import (
	"log/slog"
	"time"

	"github.com/gin-gonic/gin"
)

// The policy lets a page load nothing but the application's own files: no
// script in the page, no eval, nothing from another origin.
const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src " +
	"'self'; connect-src 'self'; base-uri 'none'; frame-src 'self'; frame-ancestors 'none'; "

// Headers sets the security headers of every answer. A respondent's form may
// end at a landing elsewhere, so there form-action allows other sites.
func headers(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", policy+"form-action 'self'")
	if public(c.Request.URL.Path) {
		h.Set("Content-Security-Policy", policy+"form-action 'self' https: http:")
	}
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "no-referrer")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=(self)")
	if c.Request.URL.Path != "/" {
		h.Set("Cache-Control", "no-store")
	}
}

func public(path string) bool { return len(path) > 3 && (path[:3] == "/q/" || path[:3] == "/p/") }

// logRequest logs what was asked for and how it went, by the route and not by
// the address, so that no key of a passage and nothing of a person is in it.
func logRequest(c *gin.Context) {
	start := time.Now()
	c.Next()
	slog.Info(
		"request",
		"method",
		c.Request.Method,
		"route",
		c.FullPath(),
		"status",
		c.Writer.Status(),
		"took",
		time.Since(start).Round(time.Microsecond),
	)
}
