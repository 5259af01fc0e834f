package learn

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/web/studio/desk"
)

// An aim is what is wanted of the bands, and finds the cuts that come nearest: shares, so many a week
// in the highest band, or a part of all in which as many as possible are won.

// The ways to aim.
const (
	byShares = "shares"
	byWeek   = "week"
	byWins   = "wins"
)

// mostPointsAimed is how many different scores are told apart: of more, neighbours are one.
const mostPointsAimed = 1500

type aimPage struct {
	desk.Frame
	whatIf
	Chips  []string
	Wrong  string
	Scale  string
	Source string // observed or exact
	Way    string
	Count  int
	Few    bool
	Week   string  // responses a week
	Wanted string  // so many a week
	Part   string  // percent
	Lines  []aimed // the bands, the highest first
	Ruler  aimRuler
	Hidden []desk.Hidden
	Other  string // address of the other source
	Adopt  string
	asked  []bool // the bands whose shares are asked for
	Patch  string // takes the cuts over that were found, "" where they are the draft's
}

const (
	aimWide = 720.0
	aimHigh = 90.0
	aimBars = 72 // at most
)

// aim shows the cuts that come nearest to what is wanted.
func (s *Room) aim(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	page, err := s.aimed(c, z, in)
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Show(c, http.StatusOK, "aim", page)
}

// aimAt is the address of the aim with another value of a field.
func (in *sliced) aimAt(c *gin.Context, field, value string) string {
	fields := c.Request.URL.Query()
	fields.Set(field, value)
	return in.slice.address + "/aim?" + fields.Encode()
}
