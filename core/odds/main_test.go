package odds_test

import (
	"flag"
	"os"
	"testing"
)

// Properties of odds are held against a thousand quizzes, unless -rapid.checks says more.
func TestMain(m *testing.M) {
	_ = flag.Set("rapid.checks", "1000")
	os.Exit(m.Run())
}
