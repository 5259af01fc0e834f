package outbox

import (
	"fmt"
	"os"
	"os/exec"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The lines of docs/operations.md that check a signature say yes to that of the specification
// (Standard Webhooks, its example), also where another stands before it, and no to another body.
func TestTheLinesThatCheckASignature(t *testing.T) {
	doc, err := os.ReadFile("../docs/operations.md")
	require.NoError(t, err)
	lines := func(language string) string {
		found := regexp.MustCompile("(?s)```" + language + "\n(.*?)```").FindSubmatch(doc)
		require.NotNil(t, found, language)
		return string(found[1])
	}
	const (
		secret    = "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw"
		id        = "msg_p5jXN8AQM9LWM0D4loKWxJek"
		timestamp = "1614265330"
		signature = "v1,another v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE="
	)
	for _, language := range []struct{ name, command, say, quote, end string }{
		{"js", "node", "-e", "const %s = %q;\n", "\nconsole.log(right);"},
		{"python", "python3", "-c", "%s = %q\n", "\nprint(str(right).lower())"},
	} {
		if _, err := exec.LookPath(language.command); err != nil {
			t.Logf("%s is not here: its lines are not tried", language.command)
			continue
		}
		for body, want := range map[string]string{`{"test": 2432232314}`: "true\n", `{"test": 1}`: "false\n"} {
			program := ""
			for _, one := range [][2]string{{"secret", secret}, {"id", id}, {"timestamp", timestamp},
				{"signature", signature}, {"body", body}} {
				program += fmt.Sprintf(language.quote, one[0], one[1])
			}
			said, err := exec.Command(language.command, language.say, program+lines(language.name)+language.end).CombinedOutput()
			require.NoError(t, err, "%s", said)
			assert.Equal(t, want, string(said), language.name)
		}
	}
	assert.Contains(t, lines("go"), "hmac.Equal")
}
