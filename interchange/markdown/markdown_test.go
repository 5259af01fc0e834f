package markdown_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"omphalos/interchange/markdown"
)

func TestMarkdownIsSafe(t *testing.T) {
	for text, want := range map[string]string{
		"**Bees** & <script>alert(1)</script>": "<p><strong>Bees</strong> &amp; alert(1)</p>\n",
		"[x](javascript:alert(1))":             "<p>x</p>\n",
		"<img src=x onerror=alert(1)>":         "\n",
		"[ours](https://quillbrook.example/guide)": "<p><a href=\"https://quillbrook.example/guide\" " +
			"rel=\"nofollow noreferrer\">ours</a></p>\n",
	} {
		assert.Equal(t, want, string(markdown.HTML(text)), text)
	}
	for text, want := range map[string]string{
		"1. Apples": "1. Apples", "# 5 and more": "# 5 and more", "- none": "- none", "> 5 ha": "&gt; 5 ha",
		"*very* sure": "<em>very</em> sure",
		"1 < 2":       "1 &lt; 2", "עברית 🐝": "עברית 🐝",
	} {
		assert.Equal(t, want, string(markdown.Inline(text)), text)
	}
	assert.Equal(t, "Bees & trees", markdown.Words("# Bees &amp; [trees](https://example.org)", 40))
}
