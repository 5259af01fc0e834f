package player

import (
	"errors"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/hashicorp/golang-lru/v2/expirable"
	"golang.org/x/time/rate"

	"omphalos/core/passage"
)

// Limits bound what comes from one address in a minute. 0 is no bound. A burst of twice
// as many is taken, for a class or an office may share an address.
type Limits struct{ Starts, Finishes int }

// DefaultLimits are enough for an office and slow a robot down.
var DefaultLimits = Limits{Starts: 120, Finishes: 120}

// errMany says that too much came from one address.
var errMany = errors.New("too much from one address")

// A guard counts what comes from each address, in memory and for some minutes.
type guard struct{ starts, finishes *limiters }

// limiters hold one for each address.
type limiters struct {
	perMinute int
	by        *expirable.LRU[string, *rate.Limiter]
}

const (
	guardedAddresses = 50_000
	guardedTime      = 10 * time.Minute
)

func newGuard(l Limits) guard {
	return guard{newLimiters(l.Starts), newLimiters(l.Finishes)}
}

func newLimiters(perMinute int) *limiters {
	if perMinute <= 0 {
		return nil
	}
	return &limiters{perMinute, expirable.NewLRU[string, *rate.Limiter](guardedAddresses, nil, guardedTime)}
}

// allow tells whether one more is taken from an address.
func (l *limiters) allow(address string) bool {
	if l == nil {
		return true
	}
	one, known := l.by.Get(address)
	if !known {
		one = rate.NewLimiter(rate.Limit(float64(l.perMinute)/60), 2*l.perMinute)
		l.by.Add(address, one)
	}
	return one.Allow()
}

func (g guard) mayStart(c *gin.Context) bool { return g.starts == nil || g.starts.allow(c.ClientIP()) }
func (g guard) mayFinish(c *gin.Context) bool {
	return g.finishes == nil || g.finishes.allow(c.ClientIP())
}

// trap is a field that nobody sees, and robots fill in.
const trap = "website"

// tooMany answers somebody from whose address too many have begun.
func (p *player) tooMany(c *gin.Context, program *passage.Program) {
	c.Header("Retry-After", "60")
	p.show(c, http.StatusTooManyRequests, "problem", newProblem(program, "One moment, please", "Many people are beginning from where you are. Try again in a minute."))
}
