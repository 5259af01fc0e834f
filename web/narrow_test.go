package web_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/look"
)

// fiveColumns is the orchard quiz with five scales and a decision table of five columns.
func (a *app) fiveColumns(t testing.TB) {
	t.Helper()
	z := a.orchard(t)
	ops := []string{}
	for i, scale := range []string{"urgency", "means", "area", "risk"} {
		ops = append(
			ops,
			fmt.Sprintf(
				`{"op":"add","path":"/scales/%s","value":{"order":%d,"kind":"points","name":"The %s of it all"}}`,
				scale,
				i+2,
				scale,
			),
			fmt.Sprintf(`{"op":"add","path":"/questions/crop/answers/apples/adds/%s","value":%d}`, scale, 3*i-4),
		)
	}
	columns := ""
	for i, key := range []string{"crop", "size", "bloom", "hives", "budget"} {
		columns += fmt.Sprintf(`,"%s":{"order":%d,"answer":"%[1]s"}`, key, i)
	}
	ops = append(
		ops,
		`{"op":"add","path":"/decision/steps/table","value":{"order":0.5,"kind":"table","columns":{`+columns[1:]+`},
		"rules":{"r":{"order":1,"cells":{"crop":{"op":"is","value":"none"}},"outcome":"not_yet"}}}}`,
	)
	a.edit(t, z.ID, "["+strings.Join(ops, ",")+"]")
}

// inView tells whether something is seen whole, where it is scrolled to from above only.
func (b *tab) inView(selector string) bool {
	b.t.Helper()
	return read[bool](b, fmt.Sprintf(`(() => {
		const el = document.querySelector(%q);
		el.scrollIntoView({block: "center", inline: "start"});
		for (let box = el.parentElement; box; box = box.parentElement) box.scrollLeft = 0;
		const r = el.getBoundingClientRect(), at = document.elementFromPoint(r.x + r.width / 2, r.y + r.height / 2);
		return r.left >= 0 && r.right <= innerWidth && el.contains(at);
	})()`, selector))
}

// On a tablet the sheet is whole: tools stand under their question, the outline comes from
// the side, and what is typed fits.
func TestTheSheetAt768(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.fiveColumns(t)
	b := a.newTabOf(t, 768, 1024, true)
	b.signIn()
	b.open("/studio/quizzes/1")
	b.fits("the sheet")
	for _, tool := range []string{"copy", "remove", "down"} {
		assert.True(t, b.inView("#part-q-crop .aside [data-act="+tool+"]"), tool)
	}
	assert.True(t, b.inView(`#part-q-crop .aside [data-picture]`))
	assert.True(t, b.inView(`[data-path="/questions/crop/answers/apples/adds/risk"]`), "all five columns")
	assert.True(t, b.inView("#status"))
	assert.False(t, b.inView("#part-outline a"))
	b.run(`document.querySelector("#part-q-crop .aside [data-act=copy]").click()`)
	b.until("a copy", `document.querySelectorAll("#questions > .question").length === 7`)
	b.kept()

	b.run(`document.activeElement.blur()`)
	b.do(chromedp.KeyEvent("/"))
	b.do(chromedp.KeyEvent("nothing yet"))
	b.until("the outline is here", `document.getElementById("part-outline").getBoundingClientRect().left === 0`)
	b.axe("Sheet at 768 with the outline")
	b.do(chromedp.KeyEvent(kb.Escape))
	b.until("and gone", `document.getElementById("part-outline").getBoundingClientRect().right <= 0`)
	b.click("[x-on\\:click*=outline]")
	b.until("here again", `document.getElementById("part-outline").getBoundingClientRect().left === 0`)
	b.click(`#part-outline a[href="#decision"]`)
	b.until(
		"gone there",
		`document.getElementById("part-outline").getBoundingClientRect().right <= 0 && document.getElementById("decision").getBoundingClientRect().top < 400`,
	)
	assert.True(t, b.inView(`#part-s-table .rules [data-act^=remove][aria-label^="Delete"]`))
	b.fits("the sheet")
}

// A decision table of five columns keeps what its rules name and their tools in view.
func TestAWideTable(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.fiveColumns(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	for _, selector := range []string{`[aria-label="Outcome of rule 1"]`,
		`#part-s-table .rules [data-act^=remove][aria-label="Delete rule 1"]`,
		`#part-s-table [data-act^=add][data-act$=columns]`} {
		assert.True(t, b.inView(selector), selector)
	}
	b.fits("the sheet")
}

// In the dark, too, everything can be read: words of weights stand out from the shade of
// their cell at 4.5 : 1 and more (WCAG 2.2, 1.4.3).
func TestTheSheetInTheDark(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.fiveColumns(t)
	for _, mode := range []string{"light", "dark"} {
		b := a.newTab(t)
		media := emulation.SetEmulatedMediaParams{
			Features: []*emulation.MediaFeature{{Name: "prefers-color-scheme", Value: mode}},
		}
		_, err := chromedp.Call(b.ctx, emulation.SetEmulatedMedia, media)
		require.NoError(t, err)
		b.signIn()
		b.open("/studio/quizzes/1")
		b.axeOfColours("Sheet when it is " + mode)
		for _, shade := range []string{"up-1", "up-2", "up-3", "up-4", "up-5", "down-1", "down-5"} {
			colours := read[[]string](b, fmt.Sprintf(`(() => {
				const cell = document.querySelector(".cell.c0"), canvas = document.createElement("canvas").getContext("2d", {willReadFrequently: true});
				cell.className = "cell c0 %s";
				return [getComputedStyle(cell).backgroundColor, getComputedStyle(cell.firstElementChild).color].map((c) => {
					canvas.fillStyle = c;
					canvas.fillRect(0, 0, 1, 1);
					return "#" + [...canvas.getImageData(0, 0, 1, 1).data].slice(0, 3).map((n) => n.toString(16).padStart(2, "0")).join("");
				});
			})()`, shade))
			assert.GreaterOrEqual(
				t,
				look.Contrast(colours[0], colours[1]),
				4.5,
				"%s when it is %s: %v",
				shade,
				mode,
				colours,
			)
		}
	}
}
