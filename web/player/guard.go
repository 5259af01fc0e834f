package player

import (
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/web/guard"
)

// Limits bound what comes from one address in a minute. 0 is no bound. A burst of twice
// as many is taken, for a class or an office may share an address.
type Limits struct{ Starts, Finishes int }

// DefaultLimits are enough for an office and slow a robot down.
var DefaultLimits = Limits{Starts: 120, Finishes: 120}

// errMany says that too much came from one address.
var errMany = errors.New("too much from one address")

// limits count what comes from each client.
type limits struct{ starts, finishes *guard.Rate }

func (l limits) mayStart(c *gin.Context) bool { return l.starts.Allow(guard.Client(c.ClientIP())) }

func (l limits) mayFinish(c *gin.Context) bool { return l.finishes.Allow(guard.Client(c.ClientIP())) }

// trap is a field that nobody sees, and robots fill in.
const trap = "website"

// personField is sent by whoever says that they are a person.
const personField = "person"

// tooMany answers somebody from whose address too many have begun.
func (p *player) tooMany(c *gin.Context, r *released) {
	c.Header("Retry-After", "60")
	p.show(
		c,
		http.StatusTooManyRequests,
		"problem",
		newProblem(
			r,
			"One moment, please",
			"Many people are beginning from where you are. Try again in a minute.",
		),
	)
}
