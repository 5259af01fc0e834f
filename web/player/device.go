package player

import (
	"crypto/hmac"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/hex"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/ui"
)

// A device remembers, in a cookie of each quiz, which passage was begun on it, so that a closed
// tab is no loss. Nothing else is in it. Where it keeps no cookies, each page of the passage
// carries a token that says the same, and so do addresses.

const (
	begunCookie  = "passage"
	deviceCookie = "device"
	begunTime    = 30 * 24 * 60 * 60 // seconds

	passagePrefix = "/p/"
	tokenField    = "token"
)

func (p *player) rememberPassage(c *gin.Context, begun *store.Passage) {
	p.setCookie(c, begunCookie, begun.ID, "/q/"+begun.Slug, begunTime)
	p.setCookie(c, deviceCookie, begun.Device, passagePrefix+begun.ID, begunTime)
}

func (p *player) forgetPassage(c *gin.Context, slug string) {
	p.setCookie(c, begunCookie, "", "/q/"+slug, -1)
}

// setCookie keeps something on the device for so many seconds. Inside a page of another site it
// is kept for that site alone (CHIPS), where browsers can.
func (p *player) setCookie(c *gin.Context, name, value, path string, seconds int) {
	cookie := &http.Cookie{Name: name, Value: value, Path: path, MaxAge: seconds, HttpOnly: true,
		SameSite: http.SameSiteLaxMode, Secure: strings.HasPrefix(ui.Origin(c.Request, p.Public), "https://")}
	if cookie.Secure && framed(c) {
		cookie.SameSite, cookie.Partitioned = http.SameSiteNoneMode, true
	}
	http.SetCookie(c.Writer, cookie)
}

// framed tells whether a page is shown inside another.
func framed(c *gin.Context) bool {
	return c.Query("frame") != "" || c.PostForm("framed") != "" || c.GetHeader("Sec-Fetch-Dest") == "iframe"
}

// tokenOf returns what proves that a page was made for whoever began a passage.
func tokenOf(device string) string {
	sum := sha256.Sum256([]byte("token of " + device))
	return hex.EncodeToString(sum[:16])
}

// deviceFor is what tells the device apart on which a passage with a number begins. Nobody else can
// work it out, so that a page carries its token before anything is kept.
func (p *player) deviceFor(number string) string {
	mac := hmac.New(sha256.New, p.secret)
	mac.Write([]byte(number))
	return hex.EncodeToString(mac.Sum(nil)[:16])
}

// given is the token that a request carries, in its form or its address.
func given(c *gin.Context) string {
	if t := asks(c, tokenField); t != "" {
		return t
	}
	return c.PostForm(tokenField)
}

// provenBy tells what proves that a request is of whoever began a passage: the cookie of the
// device, or the token of a page.
func provenBy(c *gin.Context, device string) (cookie, token bool) {
	same := func(a, b string) bool { return subtle.ConstantTimeCompare([]byte(a), []byte(b)) == 1 }
	if kept, err := c.Cookie(deviceCookie); err == nil && same(kept, device) {
		cookie = true
	}
	return cookie, same(given(c), tokenOf(device))
}

// atHome tells whether a passage may go on here: one that holds what says who somebody is does so
// only for whoever began it. Its address alone, passed on, opens it for nobody else.
func (j *journey) atHome(c *gin.Context) bool {
	if j.passage.Device == "" {
		return true
	}
	cookie, token := provenBy(c, j.passage.Device)
	j.own, j.carries = cookie || token, token && !cookie
	if j.own || j.personal() {
		return j.own
	}
	// Who has just begun has had no page yet that carries the token.
	j.own = len(j.passage.Stops()) == 0 || time.Since(j.passage.Started) < justBegun
	return true
}

const justBegun = time.Minute

// token is what the pages of the passage carry, "" for a stranger's.
func (j *journey) token() string {
	if !j.own || j.rehearsal != nil {
		return ""
	}
	return tokenOf(j.passage.Device)
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
