package player

import (
	"net/http/httptest"
	"net/netip"
	"strings"
	"testing"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"

	"omphalos/core/quiztest"
)

func TestWhatIsKnownOfAVisitor(t *testing.T) {
	p := quiztest.New("a")
	p.Ask("q", "shorttext")
	program := p.Compile(t)
	c, _ := gin.CreateTestContext(httptest.NewRecorder())
	c.Request = httptest.NewRequest(
		"GET",
		"/q/x?utm_source=letter&utm_campaign=spring&ref=a%26b&long="+strings.Repeat("x", 300),
		nil,
	)
	c.Request.Header.Set("Accept-Language", "de-AT,de;q=0.9,en;q=0.5")
	c.Request.Header.Set("Referer", "https://blog.example.org/bees?private=1")
	c.Request.Header.Set("User-Agent", "Mozilla/5.0 (Linux; Android 14) Mobile Safari")
	c.Request.RemoteAddr = "192.0.2.7:1234"
	player := &player{
		Options: Options{
			Countries: func(a netip.Addr) string { return map[string]string{"192.0.2.7": "IE"}[a.String()] },
		},
	}
	v := player.visitorOf(c, program)
	assert.Equal(t, "IE", v.Country)
	assert.Equal(t, "de", v.Language)
	assert.Equal(t, "blog.example.org", v.Referrer)
	assert.Equal(t, "phone", v.Device)
	assert.Equal(t, "letter", v.Source)
	assert.Equal(t, "spring", v.Campaign)
	assert.Equal(t, map[string]string{"ref": "a&b"}, v.Query)
	assert.Regexp(t, `^\d{4}-\d\d-\d\d$`, v.Date)
	assert.Regexp(t, `^[a-z]+day$`, v.Weekday)
	for agent, want := range map[string]string{"Mozilla/5.0 (X11; Linux x86_64)": "desktop",
		"Mozilla/5.0 (iPad; CPU OS 17)": "tablet", "Mozilla/5.0 (Linux; Android 14)": "tablet", "": "desktop"} {
		assert.Equal(t, want, device(agent), agent)
	}
}

func TestProgress(t *testing.T) {
	p := newProgress("", 2, 3, 0.4)
	assert.Len(t, p.Knots, 6, "two behind, the one here, three to come")
	assert.True(t, p.Knots[1].Full && !p.Knots[2].Full)
	assert.InDelta(t, p.Knots[2].X, p.Line, 1e-9)
	assert.InDelta(t, float64(width-6), p.Knots[5].X, 1e-9)
	assert.False(t, p.About)
	assert.True(t, newProgress("", 2, 2.5, 0.4).About, "as far as one can tell")
	long := newProgress("", 10, 29, 0.25)
	assert.Empty(t, long.Knots, "a long quiz has a line without knots")
	assert.InDelta(t, 6+0.25*(width-12), long.Line, 1e-9)
	assert.Empty(t, newProgress("", 0, 0, 0).Knots)
}
