package player

import (
	"net/http"

	"github.com/gin-gonic/gin"
)

// A device remembers, in a cookie of each quiz, which passage was begun on it, so that a
// closed tab is no loss. Nothing else is in it.

const (
	begunCookie = "passage"
	begunTime   = 30 * 24 * 60 * 60 // seconds
)

func rememberPassage(c *gin.Context, slug, number string) { setBegun(c, slug, number, begunTime) }

func forgetPassage(c *gin.Context, slug string) { setBegun(c, slug, "", -1) }

func setBegun(c *gin.Context, slug, number string, seconds int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: begunCookie, Value: number, Path: "/q/" + slug, MaxAge: seconds, HttpOnly: true,
		SameSite: http.SameSiteLaxMode, Secure: c.Request.TLS != nil || c.GetHeader("X-Forwarded-Proto") == "https"})
}

// begun returns the passage through a quiz that was begun on this device and is not at its
// end, nil for none. It goes on with the release that it began with.
func (p *player) begun(c *gin.Context) *journey {
	number, err := c.Cookie(begunCookie)
	if err != nil {
		return nil
	}
	begun, err := p.store.Passage(number)
	if err != nil || begun.Finished || begun.Slug != c.Param("slug") {
		return nil
	}
	r, err := p.released(begun.ReleaseID)
	if err != nil {
		return nil
	}
	j := p.newJourney(begun, r)
	if len(j.typed) == 0 {
		return nil
	}
	return j
}
