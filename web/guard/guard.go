// Package guard keeps a few from taking what is there for all: it counts what comes from
// each client, and slows those down who guess.
package guard

import (
	"net/netip"
	"sync"
	"time"

	"github.com/hashicorp/golang-lru/v2/expirable"
	"golang.org/x/time/rate"
)

// How many are remembered, and for how long.
const (
	mostKept = 50_000
	keptFor  = 10 * time.Minute
)

// Client returns what stands for the client at an address: the address, or of IPv6, of
// which anybody has many, the network of 64 bits.
func Client(address string) string {
	at, err := netip.ParseAddr(address)
	if err != nil {
		return address
	}
	if at = at.Unmap(); at.Is4() {
		return at.String()
	}
	network, _ := at.WithZone("").Prefix(64)
	return network.Masked().String()
}

// A Rate bounds how often something is done by each client. A burst of twice as often as
// in a minute is taken, for a class or an office may share an address. The nil Rate bounds
// nothing.
type Rate struct {
	perMinute int
	by        *expirable.LRU[string, *rate.Limiter]
}

// NewRate returns a Rate of so many a minute, nil for 0.
func NewRate(perMinute int) *Rate {
	if perMinute <= 0 {
		return nil
	}
	return &Rate{perMinute, expirable.NewLRU[string, *rate.Limiter](mostKept, nil, keptFor)}
}

// Allow counts one more of a client, and tells whether it is taken.
func (r *Rate) Allow(client string) bool { return r == nil || r.of(client).Allow() }

// Left tells whether one more would be taken, and counts nothing.
func (r *Rate) Left(client string) bool { return r == nil || r.of(client).Tokens() >= 1 }

func (r *Rate) of(client string) *rate.Limiter {
	one, known := r.by.Get(client)
	if !known {
		one = rate.NewLimiter(rate.Limit(float64(r.perMinute)/60), 2*r.perMinute)
		r.by.Add(client, one)
	}
	return one
}

// A Slow makes those wait who try again and again: after the first wrong try a moment, as
// long as typing takes anyway, and twice as long after each further one, up to the longest.
// Nobody is locked out.
type Slow struct {
	longest time.Duration
	now     func() time.Time
	mu      sync.Mutex
	by      *expirable.LRU[string, tries]
}

type tries struct {
	wait time.Duration
	last time.Time
}

// shortest is the wait after a first wrong try.
const shortest = time.Second / 8

// NewSlow returns a Slow whose waits are longest at the most.
func NewSlow(longest time.Duration) *Slow {
	return &Slow{longest: longest, now: time.Now, by: expirable.NewLRU[string, tries](mostKept, nil, keptFor)}
}

// Wait returns how long it is until the next try is taken, 0 for now.
func (s *Slow) Wait(who string) time.Duration {
	s.mu.Lock()
	defer s.mu.Unlock()
	t, _ := s.by.Get(who)
	return max(0, t.wait-s.now().Sub(t.last))
}

// Wrong counts a try that was wrong.
func (s *Slow) Wrong(who string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	t, _ := s.by.Get(who)
	s.by.Add(who, tries{min(max(shortest, 2*t.wait), s.longest), s.now()})
}

// Right forgets the tries before a right one.
func (s *Slow) Right(who string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.by.Remove(who)
}
