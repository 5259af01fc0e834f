package ui

import "net/http"

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
