package outbox

import (
	"net/http"
	"strings"
	"testing"
	"time"

	standardwebhooks "github.com/standard-webhooks/standard-webhooks/libraries/go"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Source: the Standard Webhooks specification, its example of a secret and a signature.
func TestTheSpecificationsSignature(t *testing.T) {
	h := http.Header{}
	at := time.Unix(1614265330, 0)
	require.NoError(t, sign(h, []string{"whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw"},
		"msg_p5jXN8AQM9LWM0D4loKWxJek", at, []byte(`{"test": 2432232314}`)))
	assert.Equal(t, "v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=", h.Get("webhook-signature"))
	assert.Equal(t, "1614265330", h.Get("webhook-timestamp"))
}

// While a secret is turned over, who knows either of the two can check a call.
func TestASecretIsTurnedOverWithoutAGap(t *testing.T) {
	older, newer := "whsec_"+strings.Repeat("b2xk", 8), "whsec_"+strings.Repeat("bmV3", 8)
	h := http.Header{}
	body := []byte(`{}`)
	require.NoError(t, sign(h, []string{newer, older}, "key", time.Now(), body))
	for _, secret := range []string{older, newer} {
		hook, err := standardwebhooks.NewWebhook(secret)
		require.NoError(t, err)
		assert.NoError(t, hook.Verify(body, h))
	}
	stranger, err := standardwebhooks.NewWebhook("whsec_" + strings.Repeat("bm90", 8))
	require.NoError(t, err)
	assert.Error(t, stranger.Verify(body, h))
}

// Tries come later and later, never together, and not rarer than four times a day.
func TestTriesComeLater(t *testing.T) {
	for tries, most := range map[int]time.Duration{1: 5 * time.Second, 2: 10 * time.Second, 5: 80 * time.Second,
		30: 6 * time.Hour, 1000: 6 * time.Hour} {
		seen := map[time.Duration]bool{}
		for range 100 {
			wait := Again(tries)
			assert.LessOrEqual(t, wait, most)
			assert.GreaterOrEqual(t, wait, most/2)
			seen[wait] = true
		}
		assert.Greater(t, len(seen), 50)
	}
}
