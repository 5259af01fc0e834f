package outbox

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"net/netip"
	"time"

	"code.dny.dev/ssrf"
)

// A Reach says where calls and mail may go. With the zero value that is every address on the
// open net, and none that is private, of this machine, of its link or of a cloud's own
// services. What is asked is the address that is dialled: of names as they are looked up, and
// of redirects, each time.
type Reach struct {
	Allowed []netip.Prefix // beside the open net
}

// ErrReach says that an address must not be called.
var ErrReach = errors.New("leads to an address that is not on the open net")

// ParseReach reads addresses and ranges that are allowed beside the open net.
func ParseReach(ranges []string) (Reach, error) {
	var r Reach
	for _, s := range ranges {
		if at, err := netip.ParseAddr(s); err == nil {
			r.Allowed = append(r.Allowed, netip.PrefixFrom(at, at.BitLen()))
			continue
		}
		p, err := netip.ParsePrefix(s)
		if err != nil {
			return Reach{}, fmt.Errorf("%q is neither an address nor a range such as 10.0.0.0/8", s)
		}
		r.Allowed = append(r.Allowed, p.Masked())
	}
	return r, nil
}

const dials = 10 * time.Second

// dialer returns what dials only where it may.
func (r Reach) dialer() *net.Dialer {
	var four, six []netip.Prefix
	for _, p := range r.Allowed {
		if p.Addr().Is4() {
			four = append(four, p)
		} else {
			six = append(six, p)
		}
	}
	guard := ssrf.New(ssrf.WithAnyPort(), ssrf.WithAllowedV4Prefixes(four...), ssrf.WithAllowedV6Prefixes(six...))
	return &net.Dialer{Timeout: dials, Control: guard.Safe}
}

// Dial connects to an address, where it may.
func (r Reach) Dial(ctx context.Context, network, address string) (net.Conn, error) {
	c, err := r.dialer().DialContext(ctx, network, address)
	if errors.Is(err, ssrf.ErrProhibitedIP) || errors.Is(err, ssrf.ErrProhibitedNetwork) {
		return nil, fmt.Errorf("%s %w", address, ErrReach)
	}
	return c, err
}

const mostRedirects = 5

// client returns what calls only where it may, without a proxy, and follows a few redirects.
func (r Reach) client() *http.Client {
	return &http.Client{
		Transport: &http.Transport{DialContext: r.Dial, TLSHandshakeTimeout: dials, ResponseHeaderTimeout: 30 * time.Second,
			MaxIdleConnsPerHost: 4, IdleConnTimeout: time.Minute, MaxResponseHeaderBytes: 64 << 10, ForceAttemptHTTP2: true},
		CheckRedirect: func(next *http.Request, via []*http.Request) error {
			switch {
			case len(via) > mostRedirects:
				return fmt.Errorf("more than %d redirects", mostRedirects)
			case next.Method != via[0].Method: // 301 to 303 (RFC 9110, 15.4) would ask and say nothing
				return errors.New("it redirects so that what is sent would be lost: 307 or 308 keep it")
			}
			return nil
		},
	}
}
