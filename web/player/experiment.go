package player

import (
	"hash/fnv"

	"github.com/gin-gonic/gin"

	"omphalos/store"
)

// Beside the public release another may take a share of visitors. Who gets which is told by
// the number of the passage that would begin, so that a page and its form agree without
// cookies. Who is mid-way stays with theirs, as a passage knows its release.

const numberKey = "number" // of the passage that would begin with this request

// numberOf is the number of the passage that would begin with a request: that of the form, or a
// new one.
func numberOf(c *gin.Context) string {
	if known := c.GetString(numberKey); known != "" {
		return known
	}
	number := c.PostForm("passage")
	if !store.IsPassageNumber(number) {
		number = store.PassageNumber()
	}
	c.Set(numberKey, number)
	return number
}

// arm returns the release that a visitor gets.
func (p *player) arm(c *gin.Context, public *store.Release) *store.Release {
	beside := public.Beside
	if beside == nil {
		return public
	}
	if part(beside.Mark+numberOf(c)) >= beside.Share {
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
