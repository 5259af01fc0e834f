package ui

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestShares(t *testing.T) {
	for share, want := range map[float64]string{0: "0 %", 0.001: "< 1 %", 0.125: "13 %", 0.5: "50 %",
		1 - 1e-15: "100 %", 1e-15: "0 %", 0.125 + 1e-15: "13 %", 0.999: "> 99 %", 1: "100 %"} {
		assert.Equal(t, want, Percent(share))
	}
	assert.Equal(t, "Walk the…", fit("Walk the rows together", 72))
	assert.Equal(t, "Walk", fit("Walk", 72))
}

func TestCounts(t *testing.T) {
	assert.Equal(t, "1 response", Plural(1, "response", "responses"))
	assert.Equal(t, "2,048 responses", Plural(2048, "response", "responses"))
	assert.Equal(t, "1,000,000", Count(1_000_000))
}
