// Package markdown turns texts in CommonMark into HTML that is safe to show, and into plain
// words.
package markdown

import (
	"bytes"
	"html"
	"html/template"
	"strings"

	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/microcosm-cc/bluemonday"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/parser"
	"github.com/yuin/goldmark/util"

	"omphalos/core/excerpt"
)

var (
	commonMark = goldmark.New()
	sanitizer  = bluemonday.UGCPolicy().AllowRelativeURLs(true).RequireNoReferrerOnLinks(true)
)

// What was rendered lately, by text: most texts of a quiz are the same for everybody.
var (
	texts, _   = lru.New[string, template.HTML](2048)
	inlines, _ = lru.New[string, template.HTML](8192)
)

// longestKept is the longest text whose rendering is remembered, in bytes.
const longestKept = 8 << 10

func remembered(of *lru.Cache[string, template.HTML], text string, render func(string) template.HTML) template.HTML {
	if len(text) > longestKept {
		return render(text)
	}
	if html, known := of.Get(text); known {
		return html
	}
	html := render(text)
	of.Add(text, html)
	return html
}

// HTML turns CommonMark into HTML that is safe to show.
func HTML(text string) template.HTML { return remembered(texts, text, renderMarkdown) }

// Words returns the words of a Markdown text, at most so many characters, on one line.
func Words(text string, most int) string {
	plain := html.UnescapeString(bluemonday.StrictPolicy().Sanitize(string(HTML(text))))
	return excerpt.Line(plain, most)
}

func renderMarkdown(text string) template.HTML {
	var b bytes.Buffer
	if err := commonMark.Convert([]byte(text), &b); err != nil {
		return template.HTML("<p>" + template.HTMLEscapeString(text) + "</p>")
	}
	return template.HTML(sanitizer.SanitizeBytes(b.Bytes()))
}

// inlineMark reads emphasis, links and code, but no lists, headings or quotes.
var inlineMark = goldmark.New(goldmark.WithParser(parser.NewParser(
	parser.WithBlockParsers(util.Prioritized(parser.NewParagraphParser(), 100)),
	parser.WithInlineParsers(parser.DefaultInlineParsers()...),
)))

// Inline is HTML for headings and labels, where "1. Apples" is no list.
func Inline(text string) template.HTML { return remembered(inlines, text, renderInline) }

func renderInline(text string) template.HTML {
	var b bytes.Buffer
	if err := inlineMark.Convert([]byte(text), &b); err != nil {
		return template.HTML(template.HTMLEscapeString(text))
	}
	safe := strings.TrimSpace(string(sanitizer.SanitizeBytes(b.Bytes())))
	safe = strings.ReplaceAll(strings.TrimSuffix(strings.TrimPrefix(safe, "<p>"), "</p>"), "</p>\n<p>", "<br>")
	return template.HTML(safe)
}
