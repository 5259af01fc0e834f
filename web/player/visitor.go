package player

import (
	"net/netip"
	"net/url"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/text/language"

	"omphalos/core/program"
)

// The most that is handed through of an address's parameters.
const (
	mostParameters  = 20
	longestValue    = 200
	longestReferrer = 253
)

// visitorOf returns what a request tells of the visitor. The address that the
// request came from is not among it, only the country that it belongs to.
func (p *player) visitorOf(c *gin.Context, of *program.Program) *program.Visitor {
	v := &program.Visitor{Device: device(c.Request.UserAgent())}
	if address, err := netip.ParseAddr(c.ClientIP()); err == nil && p.Countries != nil {
		v.Country = p.Countries(address.Unmap())
	}
	if tags, _, err := language.ParseAcceptLanguage(c.GetHeader("Accept-Language")); err == nil && len(tags) > 0 {
		base, _ := tags[0].Base()
		v.Language = base.String()
	}
	if u, err := url.Parse(c.Request.Referer()); err == nil && len(u.Hostname()) <= longestReferrer {
		v.Referrer = u.Hostname()
	}
	v.Come(time.Now().In(of.Quiz.Zone()))
	if of.Quiz.IsAnonymous() {
		return &program.Visitor{Country: v.Country, Device: v.Device} // and the language of a quiz in several
	}
	taken := 0
	for name, values := range c.Request.URL.Query() {
		if len(values) == 0 || len(values[0]) > longestValue || len(name) > 60 || taken == mostParameters {
			continue
		}
		taken++
		if utm, found := strings.CutPrefix(name, "utm_"); found && v.Set(utm, values[0]) {
			continue
		}
		v.Set("query."+name, values[0])
	}
	return v
}

func device(agent string) string {
	switch {
	case strings.Contains(agent, "iPad"), strings.Contains(agent, "Tablet"),
		strings.Contains(agent, "Android") && !strings.Contains(agent, "Mobile"):
		return "tablet"
	case strings.Contains(agent, "Mobi"):
		return "phone"
	}
	return "desktop"
}
