package player

import (
	"crypto/subtle"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/ui"
)

// A device remembers, in a cookie of each quiz, which passage was begun on it, so that a
// closed tab is no loss. Nothing else is in it.

const (
	begunCookie  = "passage"
	deviceCookie = "device"
	begunTime    = 30 * 24 * 60 * 60 // seconds
)

func (p *player) rememberPassage(c *gin.Context, begun *store.Passage) {
	p.setCookie(c, begunCookie, begun.ID, "/q/"+begun.Slug, begunTime)
	p.setCookie(c, deviceCookie, begun.Device, "/p/"+begun.ID, begunTime)
}

func (p *player) forgetPassage(c *gin.Context, slug string) {
	p.setCookie(c, begunCookie, "", "/q/"+slug, -1)
}

func (p *player) setCookie(c *gin.Context, name, value, path string, seconds int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: name, Value: value, Path: path, MaxAge: seconds, HttpOnly: true,
		SameSite: http.SameSiteLaxMode, Secure: strings.HasPrefix(ui.Origin(c.Request, p.Public), "https://")})
}

// atHome tells whether a passage may go on here: one that holds what says who somebody is
// does so only on the device that began it, or in a frame where it began in one, since
// cookies are kept from frames. Its address alone, passed on, opens it for nobody else.
func (j *journey) atHome(c *gin.Context) bool {
	if j.passage.Device == "" || !j.personal() {
		return true
	}
	if j.passage.Framed {
		dest := c.GetHeader("Sec-Fetch-Dest")
		return dest == "iframe" || dest == "empty" || dest == ""
	}
	kept, err := c.Cookie(deviceCookie)
	return err == nil && subtle.ConstantTimeCompare([]byte(kept), []byte(j.passage.Device)) == 1
}

// personal tells whether the passage holds what says who somebody is.
func (j *journey) personal() bool {
	q := j.program.Quiz
	for key := range j.typed {
		if asked := q.Ask(key); asked != nil && asked.Kind.Personal() {
			return true
		}
	}
	if !j.passage.Finished {
		return false
	}
	for _, asked := range q.Questions { // their answers are with the response now
		if asked.Kind.Personal() {
			return true
		}
	}
	return q.Contact != nil
}

// begun returns the passage through a quiz that was begun on this device and is not at its
// end, nil for none. It goes on with the release that it began with.
func (p *player) begun(c *gin.Context) *journey {
	number, err := c.Cookie(begunCookie)
	if err != nil {
		return nil
	}
	begun, err := p.store.Responses.Passage(c.Request.Context(), number)
	if err != nil || begun.Finished || begun.Slug != c.Param("slug") {
		return nil
	}
	r, err := p.released(c.Request.Context(), begun.ReleaseID)
	if err != nil {
		return nil
	}
	j := p.newJourney(c.Request.Context(), begun, r)
	if len(j.typed) == 0 {
		return nil
	}
	return j
}
