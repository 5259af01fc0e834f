// Package standin holds small simulated services that ship with the
// application, so that a quiz can be tried from end to end on one machine.
package standin

import (
	"embed"
	"log/slog"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

type standin struct {
	views *ui.Views
	home  string // address of the application
}

// Mount serves the stand-ins of the application at an address.
func Mount(r gin.IRouter, home string) {
	s := &standin{ui.Load(templates), home}
	r.GET("/booking", s.booking)
	r.GET("/host", s.host)
}

type bookingPage struct {
	Handed []parameter
}

type parameter struct{ Name, Value string }

// booking is the page of a booking service: it shows what was handed over in
// its address, as such a service would fill it into its form.
func (s *standin) booking(c *gin.Context) {
	var page bookingPage
	for name, values := range c.Request.URL.Query() {
		for _, v := range values {
			page.Handed = append(page.Handed, parameter{name, v})
		}
	}
	slices.SortFunc(page.Handed, func(a, b parameter) int {
		if a.Name < b.Name {
			return -1
		}
		return 1
	})
	if err := s.views.Page(c.Writer, http.StatusOK, "booking", page); err != nil {
		slog.Error("showing the booking stand-in", "error", err)
	}
}

// A hostPage is a page of somebody's that shows a quiz.
type hostPage struct {
	Home       string
	Attributes []parameter
	Block      bool
	Rows       []int
}

// host is a page of another site as far as a quiz is concerned: it shows the quiz in the
// way that its address says, with the script that such a site would load.
func (s *standin) host(c *gin.Context) {
	page := hostPage{Home: s.home, Block: true, Rows: make([]int, 12)}
	for _, name := range []string{"quiz", "title", "as", "after", "scrolled", "leaving", "phones", "words", "button"} {
		value, given := c.GetQuery(name)
		if !given {
			continue
		}
		page.Attributes = append(page.Attributes, parameter{name, value})
		page.Block = page.Block && !(name == "as" && value != "block")
	}
	c.Header(
		"Content-Security-Policy",
		"default-src 'none'; style-src 'self'; font-src 'self'; script-src "+page.Home+"; frame-src "+page.Home+"; base-uri 'none'; frame-ancestors "+page.Home+"; form-action 'self'",
	)
	c.Header("Referrer-Policy", "strict-origin-when-cross-origin")
	if err := s.views.Page(c.Writer, http.StatusOK, "host", page); err != nil {
		slog.Error("showing the host stand-in", "error", err)
	}
}
