package ui

import (
	"html/template"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is laid out in a template for those who read it is not in the page; words stay
// apart, and what comes from outside stays as it is.
func TestPagesAreLean(t *testing.T) {
	for _, c := range []struct{ laidOut, sent string }{
		{"<p>\n  Words\n  <b>and</b>\n  more\n</p>", "<p>Words\n<b>and</b>\nmore</p>"},
		{"<a\n  href=\"x\"\n  class=\"one\n    two\"\n>\n  {{ .Say }}\n</a>", `<a href="x" class="one two" >{say}</a>`},
		{"<p title=\"{{ if .Yes }}\n  so\n{{ else }}\n  not\n{{ end }}\">\n</p>", `<p title="so"></p>`},
		{"<h2>\n  {{ if .Yes }}\n    Yes\n  {{ else }}\n    No\n  {{ end }}\n</h2>", "<h2>Yes</h2>"},
		{"<ul>\n  {{ range .List }}\n    <li>{{ . }}</li>\n  {{ end }}\n</ul>", "<ul><li>a</li>\n<li>b</li>\n</ul>"},
		{"<br />\n<i>\n  {{ .Say }}\n</i>\n!", "<br />\n<i>{say}</i>\n!"},
		{"<textarea\n>\n{{ .Text }}</textarea>", "<textarea >\n\n  two\n  lines</textarea>"},
		{"<p>{{ .Text }}</p>", "<p>\n  two\n  lines</p>"},
	} {
		page := template.Must(template.New("").Parse(c.laidOut))
		lean(page)
		var b strings.Builder
		require.NoError(t, page.Execute(&b, map[string]any{
			"Say": "{say}", "Yes": true, "List": []string{"a", "b"}, "Text": "\n  two\n  lines",
		}))
		assert.Equal(t, c.sent, b.String(), c.laidOut)
	}
}
