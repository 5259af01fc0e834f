package outbox

import (
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Nothing that is not on the open net is dialled, however it is written.
func TestNothingButTheOpenNetIsReached(t *testing.T) {
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		t.Error("it was reached")
	}))
	defer server.Close()
	_, port, err := net.SplitHostPort(server.Listener.Addr().String())
	require.NoError(t, err)
	client := Reach{}.client()
	for _, host := range []string{
		// of this machine
		"127.0.0.1", "127.1", "2130706433", "0x7f000001", "0177.0.0.1", "localhost", "localhost.", "LOCALHOST",
		"0.0.0.0", "0",
		// and as IPv6
		"[::1]", "[::]", "[::ffff:127.0.0.1]", "[::ffff:7f00:1]", "[::127.0.0.1]", "[64:ff9b::7f00:1]", "[2002:7f00:1::]",
		// private
		"10.0.0.1", "172.16.0.1", "172.31.255.254", "192.168.1.1", "100.64.0.1", "198.18.0.1", "[fc00::1]", "[fd12:3456::1]",
		// of the link, and of clouds
		"169.254.1.1", "[fe80::1]", "169.254.169.254", "[fd00:ec2::254]", "100.100.100.200", "192.0.0.192",
		"224.0.0.1", "255.255.255.255", "[ff02::1]", "240.0.0.1",
	} {
		_, err := client.Get("http://" + host + ":" + port + "/")
		assert.Error(t, err, host)
	}
	for _, host := range []string{"127.0.0.1", "localhost", "169.254.169.254", "10.0.0.1", "[::1]",
		"[::ffff:127.0.0.1]", "[fd00:ec2::254]"} {
		_, err := client.Get("http://" + host + ":" + port + "/")
		assert.ErrorIs(t, err, ErrReach, host)
	}
}

// A redirect is dialled by the same rule as what it comes from.
func TestARedirectReachesNoFurther(t *testing.T) {
	inside := httptest.NewUnstartedServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) {
		t.Error("it was reached")
	}))
	listener, err := net.Listen("tcp", "127.0.0.2:0")
	require.NoError(t, err)
	inside.Listener = listener
	inside.Start()
	defer inside.Close()
	outside := httptest.NewServer(http.RedirectHandler("http://"+listener.Addr().String(), http.StatusTemporaryRedirect))
	defer outside.Close()
	client := Reach{Allowed: []netip.Prefix{netip.MustParsePrefix("127.0.0.1/32")}}.client()
	_, err = client.Get(outside.URL)
	assert.ErrorIs(t, err, ErrReach)
}

// A name is looked up and dialled in one: it can't lead elsewhere in between.
func TestTheAddressThatIsAskedIsTheOneDialled(t *testing.T) {
	d := Reach{}.dialer()
	for _, at := range []string{"127.0.0.1:80", "[::1]:80", "169.254.169.254:80"} {
		assert.Error(t, d.Control("tcp4", at, nil), at)
	}
	assert.NoError(t, d.Control("tcp4", "93.184.215.14:443", nil))
	assert.NoError(t, d.Control("tcp6", "[2606:4700::1111]:25", nil))
	assert.NoError(t, d.Control("tcp4", "8.8.8.8:8443", nil))
}

func TestReadingWhatIsReached(t *testing.T) {
	r, err := ParseReach([]string{"10.1.2.3/16", "::1"})
	require.NoError(t, err)
	assert.Equal(t, "[10.1.0.0/16 ::1/128]", "["+r.Allowed[0].String()+" "+r.Allowed[1].String()+"]")
	_, err = ParseReach([]string{"mail.example.org"})
	assert.ErrorContains(t, err, "neither an address nor a range")
}

// A redirect that would lose what is sent is no delivery.
func TestARedirectKeepsWhatIsSent(t *testing.T) {
	got := ""
	inside := httptest.NewServer(http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		b, _ := io.ReadAll(r.Body)
		got = r.Method + " " + string(b)
	}))
	defer inside.Close()
	client := Reach{Allowed: []netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")}}.client()
	for status, want := range map[int]string{301: "", 302: "", 303: "", 307: "POST said", 308: "POST said"} {
		got = ""
		outside := httptest.NewServer(http.RedirectHandler(inside.URL, status))
		answer, err := client.Post(outside.URL, "text/plain", strings.NewReader("said"))
		if err == nil {
			require.NoError(t, answer.Body.Close())
		}
		assert.Equal(t, want == "", err != nil, status)
		assert.Equal(t, want, got, status)
		outside.Close()
	}
}
