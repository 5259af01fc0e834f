package player

import (
	"net/http"
	"net/url"
	"strings"

	"github.com/gin-gonic/gin"
)

// A script sends a form and shows what comes back in the place of the page that it was on, so
// that an answer takes one way there and back. Whatever was answered may be sent again: a page
// whose answer was lost on the way is answered as it was.

const (
	sentHeader      = "Page-Sent"      // of a request by the script, and of each answer to one
	addressHeader   = "Page-Address"   // address of the page in the answer, where it is another
	elsewhereHeader = "Page-Elsewhere" // address to go to: there is no page in the answer
)

func sentByScript(c *gin.Context) bool { return c.GetHeader(sentHeader) != "" }

// lead leads to an address, to another site by a 302. A script is answered with the page itself,
// where it is one of a passage.
func (p *player) lead(c *gin.Context, address string) {
	to, err := url.Parse(address)
	status := http.StatusSeeOther
	if err != nil || to.Host != "" {
		status = http.StatusFound
	}
	if err != nil || !sentByScript(c) {
		c.Redirect(status, address)
		return
	}
	passage, page, ours := strings.Cut(strings.TrimPrefix(to.Path, passagePrefix), "/")
	if !ours || to.Host != "" || !strings.HasPrefix(to.Path, passagePrefix) {
		c.Header(sentHeader, "yes")
		c.Header(elsewhereHeader, address)
		c.Status(http.StatusOK)
		return
	}
	c.Header(addressHeader, address)
	c.Request.Method, c.Request.URL = http.MethodGet, to
	c.Params = gin.Params{{Key: "passage", Value: passage}, {Key: "question", Value: page}}
	p.question(c)
}

// asks returns what the address of a page asks for. A request that was led on has another address
// than it came with, which gin would not see.
func asks(c *gin.Context, name string) string { return c.Request.URL.Query().Get(name) }
