package web_test

import (
	"fmt"
	"os"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// Seen with the eyes of a visitor from one of two countries, an outcome's landings show
// which one such visitors get.
func TestLandingsByCountryOnTheSheet(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	data, err := os.ReadFile("../cmd/omphalos/demo/finder.json")
	require.NoError(t, err)
	a.add(t, string(data))
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	seen := func(who, shares string) {
		b.until(
			who,
			fmt.Sprintf(
				`[...document.querySelectorAll("#part-o-long .landing .stepshare")].map(s => s.textContent).join("|") === %q && document.querySelector(".eyes [name=country]").defaultValue === %q`,
				shares,
				who,
			),
		)
	}
	seen("", "0 %|20 %")
	b.fill(".eyes [name=country]", "ie")
	b.do(chromedp.KeyEvent(kb.Enter))
	seen("Ireland", "20 %|0 %")
	b.axeOf("#part-eyes", "with the eyes of a visitor")
	b.fill(".eyes [name=country]", "Frankreich")
	b.do(chromedp.KeyEvent(kb.Enter))
	seen("France", "0 %|20 %")
	b.click(".eyes a")
	seen("", "0 %|20 %")
}
