package ui

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestMarkdownIsSafe(t *testing.T) {
	for text, want := range map[string]string{
		"**Bees** & <script>alert(1)</script>":     "<p><strong>Bees</strong> &amp; alert(1)</p>\n",
		"[x](javascript:alert(1))":                 "<p>x</p>\n",
		"<img src=x onerror=alert(1)>":             "\n",
		"[ours](https://quillbrook.example/guide)": "<p><a href=\"https://quillbrook.example/guide\" rel=\"nofollow noreferrer\">ours</a></p>\n",
	} {
		assert.Equal(t, want, string(Markdown(text)), text)
	}
	for text, want := range map[string]string{
		"1. Apples": "1. Apples", "# 5 and more": "# 5 and more", "- none": "- none", "> 5 ha": "&gt; 5 ha", "*very* sure": "<em>very</em> sure",
		"1 < 2": "1 &lt; 2", "עברית 🐝": "עברית 🐝",
	} {
		assert.Equal(t, want, string(Inline(text)), text)
	}
}

func TestShares(t *testing.T) {
	for share, want := range map[float64]string{0: "0 %", 0.001: "< 1 %", 0.125: "12 %", 0.5: "50 %", 1 - 1e-15: "100 %", 1e-15: "0 %", 0.125 + 1e-15: "12 %", 0.999: "> 99 %", 1: "100 %"} {
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
