package release

import (
	"errors"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/excerpt"
	"omphalos/core/gate"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// An openPart says when a quiz takes respondents, in its zone.
type openPart struct {
	gate.Gate
	Zone          string
	OpensAt       string // for its field
	ClosesAt      string
	State         string // in words
	Answered      int
	GraceMinutes  int
	NotPublicYet  bool
	WasMoved      []store.Address
	DefaultPhrase string
}

// fieldTime is how HTML writes a date with a time.
const fieldTime = "2006-01-02T15:04"

func openOf(z *store.Quiz, q *quiz.Quiz, answered int) openPart {
	g, zone := z.GateOf(), ui.Zone(q)
	p := openPart{Gate: g, Zone: zone.String(), Answered: answered, GraceMinutes: gate.DefaultGrace,
		NotPublicYet: z.Released == 0}
	if !g.Opens.IsZero() {
		p.OpensAt = g.Opens.In(zone).Format(fieldTime)
	}
	if !g.Closes.IsZero() {
		p.ClosesAt = g.Closes.In(zone).Format(fieldTime)
	}
	if g.Grace != 0 {
		p.GraceMinutes = max(g.Grace, 0)
	}
	p.State = map[gate.State]string{
		gate.Open: "It takes respondents.", gate.Early: "It is not open yet.", gate.Late: "It is over.",
		gate.Full: "It is full.", gate.Paused: "It is paused.", gate.Closed: "It is closed for good.",
	}[g.At(time.Now(), answered)]
	return p
}

// setGate says when the quiz takes respondents. It counts at once, without a release.
func (s *Room) setGate(c *gin.Context) {
	z, q, ok := s.DraftOf(c)
	if !ok {
		return
	}
	g, wrong := z.GateOf(), ""
	switch do := c.PostForm("do"); do {
	case "pause", "close":
		g.Paused, g.Closed, g.Shut = do == "pause", do == "close", time.Now().UTC()
	case "open":
		g.Paused, g.Closed, g.Shut = false, false, time.Time{}
	default:
		wrong = readGate(c, &g, ui.Zone(q))
	}
	said := "It counts from now on."
	if wrong != "" {
		said = wrong
	} else if err := s.Store.Definitions.SetGate(c.Request.Context(), z.ID, g); err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, said, "")
	c.Redirect(http.StatusSeeOther, desk.Address(z)+"/release#open")
}

// readGate reads when a quiz opens and closes out of a form, and says what is wrong.
func readGate(c *gin.Context, g *gate.Gate, zone *time.Location) (wrong string) {
	for name, at := range map[string]*time.Time{"opens": &g.Opens, "closes": &g.Closes} {
		typed := strings.TrimSpace(c.PostForm(name))
		*at = time.Time{}
		if typed == "" {
			continue
		}
		t, err := time.ParseInLocation(fieldTime, typed, zone)
		if err != nil {
			return "“" + excerpt.Of(typed, 40) + "” is no date with a time: write it as " +
				"2026-04-30T09:00. Nothing was changed."
		}
		*at = t.UTC()
	}
	if !g.Opens.IsZero() && !g.Closes.IsZero() && !g.Closes.After(g.Opens) {
		return "It would close before it opens. Nothing was changed."
	}
	g.Most = 0
	if typed := strings.TrimSpace(c.PostForm("most")); typed != "" {
		n, err := strconv.Atoi(typed)
		if err != nil || n < 1 || n > 100_000_000 {
			return "The number of responses must be 1 or more, or nothing for any number. Nothing was changed."
		}
		g.Most = n
	}
	if n, err := strconv.Atoi(strings.TrimSpace(c.PostForm("grace"))); err == nil && n >= 0 && n <= 7*24*60 {
		g.Grace = n
		if n == 0 {
			g.Grace = -1
		}
	}
	g.Words = strings.TrimSpace(excerpt.Bounded(c.PostForm("words"), 1000))
	return ""
}

// move gives the quiz another address.
func (s *Room) move(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	slug := strings.TrimSpace(c.PostForm("slug"))
	err := s.Store.Definitions.Move(c.Request.Context(), z.ID, slug)
	said := "It is there from now on; the address that it had leads on to it."
	switch {
	case errors.Is(err, store.ErrSlug):
		said = "An address has small letters, digits and hyphens, at most 60: " + store.Slug(slug) + " would do."
	case errors.Is(err, store.ErrInUse):
		said = "“" + slug + "” is the address of another quiz, or leads on to one. Choose another one."
	case err != nil:
		s.Fail(c, err)
		return
	}
	s.Say(c, said, "")
	c.Redirect(http.StatusSeeOther, desk.Address(z)+"/release#where")
}
