// Package standin holds small simulated services that ship with the
// application, so that a quiz can be tried from end to end on one machine.
package standin

import (
	"embed"
	"net/http"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// Services are the stand-ins of an application. What arrives at them is kept until they end.
type Services struct {
	Mail  *Mailbox
	Desks map[string]*Desk // by name: calls, ads, list

	views  *ui.Views
	home   string // address of the application
	client *http.Client
}

// New returns the stand-ins of the application at an address.
func New(home string) *Services {
	return &Services{Mail: newMailbox(), Desks: newDesks(), views: ui.Load(templates), home: home,
		client: &http.Client{Timeout: 10 * time.Second}}
}

// Mount serves the pages of the stand-ins.
func (s *Services) Mount(r gin.IRouter) {
	r.GET("/booking", s.booking)
	r.GET("/host", s.host)
	r.GET("/mailbox", s.mailbox)
	r.POST("/mailbox", s.mailboxSet)
	r.GET("/mailbox/:letter", s.letterBody)
	r.POST("/mailbox/:letter/leave", s.leave)
	r.GET("/desk/:desk", s.desk)
	r.POST("/desk/:desk", s.deskTake)
	r.POST("/desk/:desk/set", s.deskSet)
}

type bookingPage struct {
	Handed []parameter
}

type parameter struct{ Name, Value string }

// booking is the page of a booking service: it shows what was handed over in
// its address, as such a service would fill it into its form.
func (s *Services) booking(c *gin.Context) {
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
	s.show(c, "booking", page)
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
func (s *Services) host(c *gin.Context) {
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
		"default-src 'none'; style-src 'self'; font-src 'self'; script-src "+page.Home+"; frame-src "+page.Home+
			"; base-uri 'none'; frame-ancestors "+page.Home+"; form-action 'self'",
	)
	c.Header("Referrer-Policy", "strict-origin-when-cross-origin")
	s.show(c, "host", page)
}
