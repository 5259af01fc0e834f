package country

import (
	"net/netip"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestOf(t *testing.T) {
	d, err := StandIn()
	require.NoError(t, err)
	for address, want := range map[string]string{
		"192.0.2.7": "IE", "192.0.2.200": "GB", "198.51.100.1": "FR", "203.0.113.255": "DE",
		"2001:db8::1": "IE", "2001:db8:ffff::1": "GB", "127.0.0.1": "", "10.1.2.3": "", "::1": "",
	} {
		assert.Equal(t, want, d.Of(netip.MustParseAddr(address)), address)
	}
	assert.Empty(t, d.Of(netip.Addr{}))
	require.NoError(t, d.Close())
	_, err = Open(filepath.Join(t.TempDir(), "none.mmdb"))
	assert.ErrorContains(t, err, "opening the countries in")
}
