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

type standin struct{ views *ui.Views }

// Mount serves the stand-ins.
func Mount(r gin.IRouter) {
	s := &standin{ui.Load(templates)}
	r.GET("/booking", s.booking)
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
