package tables

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/studio/desk"
)

type placesPage struct {
	desk.Frame
	Tables []placeTable
	Wrong  string
	Typed  placeForm
	Again  bool // the form holds what was typed, or a place that is there
}

// A placeTable is what a location question offers.
type placeTable struct {
	Name string
	Rows []store.Place
}

// A placeForm is a place as it is typed.
type placeForm struct{ Table, Key, Name, Address, Latitude, Longitude string }

var placeColumns = []string{"table", "key", "name", "address", "latitude", "longitude"}

func (f placeForm) row() map[string]string {
	return map[string]string{
		"table":     f.Table,
		"key":       f.Key,
		"name":      f.Name,
		"address":   f.Address,
		"latitude":  f.Latitude,
		"longitude": f.Longitude,
	}
}

func formOf(p store.Place) placeForm {
	degrees := func(d float64) string { return strconv.FormatFloat(d, 'f', -1, 64) }
	return placeForm{p.Table, p.Key, p.Name, p.Address, degrees(p.Latitude), degrees(p.Longitude)}
}

// placeOf reads a row of a list.
func placeOf(row map[string]string) (store.Place, error) {
	p := store.Place{Table: row["table"], Key: row["key"], Name: row["name"], Address: row["address"]}
	for name, to := range map[string]*float64{"latitude": &p.Latitude, "longitude": &p.Longitude} {
		if row[name] == "" {
			continue
		}
		var err error
		if *to, err = strconv.ParseFloat(strings.ReplaceAll(row[name], ",", "."), 64); err != nil {
			return p, fmt.Errorf("%q is no %s in degrees, such as 53.35 (%s)", row[name], name, p.Name)
		}
	}
	return p, nil
}

func (s *Room) places(c *gin.Context) {
	typed := placeForm{Table: c.Query("table")}
	list, err := s.Store.Definitions.Places(c.Request.Context(), "")
	if err != nil {
		s.Fail(c, err)
		return
	}
	for _, p := range list {
		if key := c.Query("place"); key != "" && p.Key == key && p.Table == typed.Table {
			typed = formOf(p)
		}
	}
	s.showPlaces(c, http.StatusOK, typed, "")
}

func (s *Room) showPlaces(c *gin.Context, status int, typed placeForm, wrong string) {
	list, err := s.Store.Definitions.Places(c.Request.Context(), "")
	if err != nil {
		s.Fail(c, err)
		return
	}
	page := placesPage{Frame: s.Frame(c, "Places", "places", nil), Wrong: wrong, Typed: typed, Again: typed.Key != ""}
	for _, p := range list {
		if n := len(page.Tables); n == 0 || page.Tables[n-1].Name != p.Table {
			page.Tables = append(page.Tables, placeTable{Name: p.Table})
		}
		last := &page.Tables[len(page.Tables)-1]
		last.Rows = append(last.Rows, p)
	}
	s.Show(c, status, "places", page)
}

func (s *Room) putPlace(c *gin.Context) {
	value := c.Request.FormValue // of the form, or of the address that takes a deletion back
	f := placeForm{value("table"), value("key"), value("name"), value("address"), value("latitude"), value("longitude")}
	s.keepPlaces(c, []map[string]string{f.row()}, f, "Kept. Questions offer it at once, released ones too.")
}

func (s *Room) importPlaces(c *gin.Context) {
	rows, err := readUpload(c, placeColumns, []string{"table", "name"})
	if err != nil {
		s.showPlaces(c, http.StatusUnprocessableEntity, placeForm{}, desk.SentenceOf(err.Error())+" Nothing was changed.")
		return
	}
	s.keepPlaces(c, rows, placeForm{}, "The rows of the file are kept; rows that it does not name stay as they were.")
}

// keepPlaces keeps rows, all or none.
func (s *Room) keepPlaces(c *gin.Context, rows []map[string]string, typed placeForm, done string) {
	var list []store.Place
	for i, row := range rows {
		p, err := placeOf(row)
		if err != nil {
			s.showPlaces(
				c,
				http.StatusUnprocessableEntity,
				typed,
				fmt.Sprintf("Row %d: %s. Nothing was changed.", i+1, err),
			)
			return
		}
		list = append(list, p)
	}
	err := s.Store.Definitions.PutPlaces(c.Request.Context(), list)
	switch {
	case errors.Is(err, store.ErrPlace):
		s.showPlaces(c, http.StatusUnprocessableEntity, typed, desk.SentenceOf(err.Error())+" Nothing was changed.")
	case err != nil:
		s.Fail(c, err)
	default:
		s.Say(c, done, "")
		c.Redirect(http.StatusSeeOther, "/studio/places")
	}
}

func (s *Room) removePlace(c *gin.Context) {
	table, key, undo := c.PostForm("table"), c.PostForm("key"), ""
	list, err := s.Store.Definitions.Places(c.Request.Context(), table)
	for _, p := range list {
		if p.Key == key {
			values := url.Values{}
			for name, value := range formOf(p).row() {
				values.Set(name, value)
			}
			undo = "/studio/places?" + values.Encode()
		}
	}
	if err == nil {
		err = s.Store.Definitions.RemovePlace(c.Request.Context(), table, key)
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, "It is not offered any more.", undo)
	c.Redirect(http.StatusSeeOther, "/studio/places")
}

func (s *Room) exportPlaces(c *gin.Context) {
	list, err := s.Store.Definitions.Places(c.Request.Context(), "")
	if err != nil {
		s.Fail(c, err)
		return
	}
	var rows []map[string]string
	for _, p := range list {
		rows = append(rows, formOf(p).row())
	}
	s.sendList(c, "places.csv", placeColumns, rows)
}
