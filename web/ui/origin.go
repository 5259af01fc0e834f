package ui

import (
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"
)

// Origin returns the address under which the application is known: public, or where
// nothing is said the one that was asked. What a proxy says of that is in the headers only
// where the proxy is believed.
func Origin(r *http.Request, public string) string {
	if public != "" {
		return public
	}
	if Secure(r) {
		return "https://" + r.Host
	}
	return "http://" + r.Host
}

// Secure tells whether a request has come through HTTPS.
func Secure(r *http.Request) bool {
	return r.TLS != nil || r.Header.Get("X-Forwarded-Proto") == "https"
}

// ShowIn lets the page of an answer be shown in frames of pages of these origins ("'self'" is
// the application's), which is otherwise forbidden.
func ShowIn(c *gin.Context, origins ...string) {
	loosen(c, "frame-ancestors 'none'", "frame-ancestors "+strings.Join(origins, " "))
}

// MayShow lets the page of an answer hold frames of one more origin.
func MayShow(c *gin.Context, origin string) {
	loosen(c, "frame-src 'self'", "frame-src 'self' "+origin)
}

func loosen(c *gin.Context, was, is string) {
	const policy = "Content-Security-Policy"
	h := c.Writer.Header()
	h.Set(policy, strings.Replace(h.Get(policy), was, is, 1))
}
