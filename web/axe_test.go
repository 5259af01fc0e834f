package web_test

import (
	"fmt"
	"os"
	"strings"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"
)

// axe holds the page against WCAG 2.2 AA with axe-core.
func (b *tab) axe(where string) {
	b.t.Helper()
	b.heldAgainst(where, "document", "wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa")
}

// axeOf does so with a part of the page that was held against it before.
func (b *tab) axeOf(part, where string) {
	b.t.Helper()
	b.heldAgainst(where, fmt.Sprintf("%q", part), "wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa")
}

// axeOfColours does so where nothing but the colours is another.
func (b *tab) axeOfColours(where string) {
	b.t.Helper()
	b.heldAgainst(where, "document", "color-contrast", "link-in-text-block")
}

// drawWhole has all of a page drawn while it is looked at, far from the window too.
const drawWhole = `
	const drawn = new CSSStyleSheet();
	drawn.replaceSync(".question { content-visibility: visible !important }");
	document.adoptedStyleSheets.push(drawn);
`

// asBefore takes that back.
const asBefore = `document.adoptedStyleSheets = document.adoptedStyleSheets.filter((s) => s !== drawn);`

func (b *tab) heldAgainst(where, what string, rules ...string) {
	b.t.Helper()
	source, err := os.ReadFile("../node_modules/axe-core/axe.min.js")
	require.NoError(b.t, err, "axe-core comes with npm ci")
	type violation struct {
		ID    string `json:"id"`
		Help  string `json:"help"`
		Nodes []struct {
			HTML string `json:"html"`
			Why  string `json:"failureSummary"`
		} `json:"nodes"`
	}
	if !read[bool](b, `"axe" in window`) {
		b.run(string(source))
	}
	// What sticks to the top hides parts of what lies below it. A page that has just
	// loaded scrolls to the place that its address names, after which it is taken back.
	b.until("the page has loaded", `document.readyState === "complete"`)
	b.until("the page stays at its top", `scrollY === 0 || scrollTo({top: 0, behavior: "instant"})`)
	found := get(
		b,
		chromedp.Evaluate[[]violation](
			fmt.Sprintf(
				`(async () => {`+drawWhole+`const found = await axe.run(%s, {runOnly: ["%s"], resultTypes: ["violations"]});`+
					asBefore+`return found.violations; })()`,
				what, strings.Join(rules, `","`),
			),
			chromedp.EvalAwaitPromise,
		),
	)
	for _, v := range found {
		for _, n := range v.Nodes {
			b.t.Errorf("%s: %s (%s)\n  %s\n  %s", where, v.ID, v.Help, n.HTML, n.Why)
		}
	}
}
