// Package tables is what all quizzes share: signposts, places, calendars and the
// catalogue, edited in place and taken in and out as files.
package tables

import (
	"embed"
	"errors"

	"github.com/gin-gonic/gin"

	"omphalos/interchange/listing"
	"omphalos/web/studio/desk"
	"omphalos/web/studio/pictures"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A Room is what all quizzes share: signposts, places, calendars and the catalogue.
type Room struct {
	*desk.Desk
}

// New returns the room at a desk.
func New(d *desk.Desk) *Room { return &Room{d.With(pictures.Templates, templates)} }

// Routes are the room's, each with what it takes.
func (s *Room) Routes() []ui.Route {
	return []ui.Route{
		ui.Get("/signposts", s.signposts),
		ui.Post("/signposts", ui.Form, s.putSignpost),
		ui.Get("/signposts.csv", s.exportSignposts),
		ui.Post("/signposts/import", ui.Form, s.importSignposts),
		ui.Get("/places", s.places),
		ui.Post("/places", ui.Form, s.putPlace),
		ui.Post("/places/delete", ui.Form, s.removePlace),
		ui.Get("/places.csv", s.exportPlaces),
		ui.Post("/places/import", ui.Form, s.importPlaces),
		ui.Get("/calendars", s.calendars),
		ui.Post("/calendars", ui.Form, s.putCalendar),
		ui.Post("/calendars/delete", ui.Form, s.removeCalendar),
		ui.Post("/calendars/appointments/:token/give-back", ui.Form, s.giveBack),
		ui.Post("/calendars/appointments/:token/rebook", ui.Form, s.rebook),
		ui.Get("/catalogue", s.catalogue),
		ui.Post("/catalogue", ui.Form, s.putProduct),
		ui.Get("/catalogue.csv", s.exportProducts),
		ui.Post("/catalogue/import", ui.Form, s.importProducts),
		ui.Post("/catalogue/:product/delete", ui.Form, s.removeProduct),
		ui.Post("/catalogue/:product/restore", ui.Form, s.removeProduct),
	}
}

var errNoFile = errors.New("choose a CSV file first")

// readUpload reads the list in an uploaded file.
func readUpload(c *gin.Context, known, needed []string) ([]map[string]string, error) {
	file, err := c.FormFile("file")
	if err != nil {
		return nil, errNoFile
	}
	f, err := file.Open()
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return listing.Read(f, known, needed)
}

func (s *Room) sendList(c *gin.Context, name string, columns []string, rows []map[string]string) {
	c.Header("Content-Type", "text/csv; charset=utf-8")
	c.Header("Content-Disposition", `attachment; filename="`+name+`"`)
	if err := listing.Write(c.Writer, columns, rows); err != nil {
		_ = c.Error(err)
	}
}
