package guard

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// Of IPv6 anybody has 2^64 addresses: the network counts.
func TestClient(t *testing.T) {
	for address, client := range map[string]string{
		"192.0.2.7": "192.0.2.7", "::ffff:192.0.2.7": "192.0.2.7", "2001:db8:1:2:3:4:5:6": "2001:db8:1:2::/64",
		"2001:db8:1:2::9": "2001:db8:1:2::/64", "fe80::1%eth0": "fe80::/64", "nobody": "nobody",
	} {
		assert.Equal(t, client, Client(address))
	}
}

func TestRate(t *testing.T) {
	r := NewRate(2)
	for range 4 {
		assert.True(t, r.Left("a"))
		assert.True(t, r.Allow("a"))
	}
	assert.False(t, r.Left("a"))
	assert.False(t, r.Allow("a"))
	assert.True(t, r.Allow("b"))
	assert.True(t, NewRate(0).Allow("a"))
}

// Each wrong try doubles the wait, up to the longest; a right one forgets them.
func TestSlow(t *testing.T) {
	s := NewSlow(time.Minute)
	at := time.Unix(0, 0)
	s.now = func() time.Time { return at }
	assert.Zero(t, s.Wait("a"))
	for _, wait := range []float64{0.125, 0.25, 0.5, 1, 2, 4, 8, 16, 32, 60, 60} {
		s.Wrong("a")
		assert.Equal(t, wait, s.Wait("a").Seconds())
		at = at.Add(time.Duration(wait * float64(time.Second)))
		assert.Zero(t, s.Wait("a"))
	}
	assert.Zero(t, s.Wait("b"))
	s.Wrong("a")
	s.Right("a")
	assert.Zero(t, s.Wait("a"))
}
