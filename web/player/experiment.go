package player

import (
	"hash/fnv"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/store"
)

// Beside the public release another may take a share of visitors. Who gets which is told by
// the number of the passage that would begin, so that a page and its form agree without
// cookies; the device remembers it, so that they see the same when they come again. Who is
// mid-way stays with theirs, as a passage knows its release.

const (
	armCookie = "arm"
	numberKey = "number" // of the passage that would begin with this request
)

// arm returns the release that a visitor gets.
func (p *player) arm(c *gin.Context, public *store.Release) *store.Release {
	beside := public.Beside
	if beside == nil {
		return public
	}
	kept, _ := c.Cookie(armCookie)
	mark, mine, known := strings.Cut(kept, ".")
	if !known || mark != beside.Mark {
		number := ""
		if c.Request.Method == http.MethodPost {
			number = c.PostForm("passage")
		}
		if number == "" {
			number = store.PassageNumber()
			c.Set(numberKey, number)
		}
		mine = "a"
		if part(beside.Mark+number) < beside.Share {
			mine = "b"
		}
		p.setCookie(c, armCookie, beside.Mark+"."+mine, "/q/"+c.Param("slug"), begunTime)
	}
	if mine != "b" {
		return public
	}
	other := *public
	other.ID = beside.ID
	return &other
}

// part spreads words evenly over 0 to 1.
func part(words string) float64 {
	h := fnv.New64a()
	_, _ = h.Write([]byte(words)) // never fails
	n := h.Sum64()
	n = (n ^ n>>33) * 0xff51afd7ed558ccd // finalised as MurmurHash3 does, for the last letters count as the first
	n = (n ^ n>>33) * 0xc4ceb9fe1a85ec53
	return float64((n^n>>33)>>11) / (1 << 53)
}
