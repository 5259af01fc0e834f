package sheet

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/web/studio/desk"
)

const (
	chartLeft  = 330 // where the bars begin
	chartBar   = 240 // breadth of everybody
	chartRow   = 74
	chartTall  = 14 // of a bar
	chartTop   = 40
	chartGap   = 10 // between lanes
	chartLetgo = 30 // between the bars and the first lane
	outcomeGap = 26
	outcomeMin = 150
)

type mapPage struct {
	desk.Frame
	Sheet  *Sheet
	Chart  chart
	Told   bool
	Folded bool
}

func (s *Room) mapOf(c *gin.Context) (*Sheet, mapPage, bool) {
	sh, ok := s.asked(c)
	if !ok {
		return nil, mapPage{}, false
	}
	page := mapPage{Sheet: sh, Told: sh.odds != nil && len(sh.odds.Flows) > 0, Folded: c.Query("all") == ""}
	if page.Told {
		page.Chart = newChart(sh.Doc, sh.odds, page.Folded)
	}
	return sh, page, true
}

func (s *Room) showMap(c *gin.Context) {
	if mode := c.Query("odds"); mode != "" {
		if z, ok := s.QuizOf(c); ok {
			s.SetCookie(c, oddsCookie, mode, desk.Address(z), viewTime)
			c.Redirect(http.StatusSeeOther, desk.Address(z)+"/map")
		}
		return
	}
	sh, page, ok := s.mapOf(c)
	if !ok {
		return
	}
	page.Frame = s.Frame(c, "Map of "+sh.Quiz.Title, "map", sh.Quiz)
	s.Show(c, http.StatusOK, "map", page)
}

// downloadMap sends the map as a drawing of its own.
func (s *Room) downloadMap(c *gin.Context) {
	_, page, ok := s.mapOf(c)
	if !ok {
		return
	}
	svg, err := s.Views.Part("map", "mapfile", page)
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="map.svg"`)
	c.Data(http.StatusOK, "image/svg+xml", svg)
}
