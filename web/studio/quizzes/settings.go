package quizzes

import (
	"errors"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/studio/desk"
)

type settingsPage struct {
	desk.Frame
	Zone zoneForm
}

// A zoneForm asks for the time zone of the workspace.
type zoneForm struct {
	Zone, Wrong string
	Zones       []string
	First       bool // none has been set
}

func (s *Room) settings(c *gin.Context) {
	s.showSettings(c, http.StatusOK, zoneForm{Zone: s.Store.Responses.Zone().String()})
}

func (s *Room) showSettings(c *gin.Context, status int, form zoneForm) {
	form.Zones = desk.Zones
	s.Show(c, status, "settings", settingsPage{s.Frame(c, "Settings", "settings", nil), form})
}

func (s *Room) setZone(c *gin.Context) {
	zone := strings.TrimSpace(c.PostForm("zone"))
	switch err := s.Store.Definitions.SetZone(c.Request.Context(), zone); {
	case errors.Is(err, store.ErrZone):
		s.showSettings(c, http.StatusUnprocessableEntity, zoneForm{Zone: zone, Wrong: desk.SentenceOf(err.Error())})
	case err != nil:
		s.Fail(c, err)
	default:
		s.Say(c, "Days are counted in the time zone "+zone+".", "")
		to := "/studio/settings"
		if c.PostForm("first") != "" {
			to = "/studio"
		}
		c.Redirect(http.StatusSeeOther, to)
	}
}
