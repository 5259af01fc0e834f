package web_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// cellOf selects the cell of an answer of the question "sunday".
func cellOf(answer, scale string) string {
	return fmt.Sprintf(`[data-path="/questions/sunday/answers/%s/adds/%s"]`, answer, scale)
}

// paste pastes a text where the cursor stands, as from a spreadsheet.
func (b *tab) paste(text string) {
	b.run(
		fmt.Sprintf(
			`{ const data = new DataTransfer(); data.setData("text/plain", %q); document.activeElement.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true})) }`,
			text,
		),
	)
}

// focus puts the cursor into a field.
func (b *tab) focus(selector string) {
	b.run(fmt.Sprintf(`document.querySelector(%q).focus()`, selector))
}

// Blocks of the ledger are pasted, filled down, emptied and copied, each as one change
// that one undo takes back; a block with letters in it changes nothing.
func TestBlocksOfTheLedger(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()
	b.open(a.keeper(t))
	b.focus(cellOf("look", "to_watcher"))
	b.paste("3\t-1,5\n\t4\r\n")
	b.kept()
	b.until("the block is in", fmt.Sprintf(`document.querySelector(%q).value === "+4"`, cellOf("build", "to_tinkerer")))
	assert.Equal(
		t,
		[]string{"+3", "−1.5", ""},
		[]string{
			b.value(cellOf("look", "to_watcher")),
			b.value(cellOf("look", "to_tinkerer")),
			b.value(cellOf("build", "to_watcher")),
		},
	)
	assert.Equal(
		t,
		"Undo: Weights of “A free Sunday in May. What do you do?” changed",
		read[string](b, `document.querySelector("[data-act=undo]").title`),
	)

	b.focus(cellOf("look", "to_watcher"))
	b.paste("1\t2\nthree\t4")
	b.until(
		"letters are told",
		`document.getElementById("notice").textContent.trim().replace(/\s+/g, " ").includes("Row 2, column 1 of what you pasted: “three” is no number. Nothing was changed.")`,
	)
	assert.Equal(t, "+3", b.value(cellOf("look", "to_watcher")))

	b.focus(cellOf("look", "to_watcher"))
	for range 3 {
		b.do(chromedp.KeyEvent(kb.ArrowDown, chromedp.KeyModifiers(8)))
	}
	assert.Equal(t, 4, read[int](b, `document.querySelectorAll(".cell.picked").length`))
	b.do(chromedp.KeyEvent("d", chromedp.KeyModifiers(2)))
	b.kept()
	b.until("filled down", fmt.Sprintf(`document.querySelector(%q).value !== ""`, cellOf("sow", "to_watcher")))
	assert.Equal(t, b.value(cellOf("look", "to_watcher")), b.value(cellOf("sow", "to_watcher")))
	copied := read[string](
		b,
		`(() => { const data = new DataTransfer(); document.activeElement.dispatchEvent(new ClipboardEvent("copy", {clipboardData: data, bubbles: true, cancelable: true})); return data.getData("text/plain") })()`,
	)
	assert.Len(t, copied, 7, "four numbers in four lines: %q", copied)
	b.do(chromedp.KeyEvent(kb.Delete))
	b.kept()
	b.until(
		"emptied",
		fmt.Sprintf(
			`document.querySelector(%q).value === "" && document.querySelector(%q).value === ""`,
			cellOf("look", "to_watcher"),
			cellOf("sow", "to_watcher"),
		),
	)

	b.click(`#part-q-sunday [popovertarget]`)
	b.click(`#weights-sunday [data-act$="kind=times&by=2"]`)
	b.kept()
	b.until("twice as heavy", fmt.Sprintf(`document.querySelector(%q).value === "+8"`, cellOf("build", "to_tinkerer")))
	for range 5 {
		b.click("[data-act=undo]")
		b.kept()
	}
	assert.Equal(t, "+2", b.value(cellOf("look", "to_watcher")), "as it was")
}

// Scales of all kinds are made and set up under the ledger; keywords are typed onto
// answers and merged; a formula says what is wrong with it.
func TestScalesOnTheSheet(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	b := a.newTab(t)
	b.signIn()
	b.open(a.keeper(t))
	b.click(`.addscale [data-act$="kind=keyword"]`)
	b.do(chromedp.WaitVisible(chromedp.CSS(`[data-path="/scales/scale_5/name"]`)))
	b.fill(`[data-path="/scales/scale_5/name"]`, "calm")
	b.until("the name is kept", `document.querySelector('[data-path="/scales/scale_5/name"]').defaultValue === "calm"`)
	b.kept()
	answer := `[data-item="/questions/sunday/answers/look"] `
	b.focus(answer + "textarea")
	for i, word := range []string{"Calm", "slow"} {
		b.fill(answer+"[data-tag]", word)
		b.do(chromedp.KeyEvent(kb.Enter))
		b.until(
			"the keyword is on the answer",
			fmt.Sprintf(`document.querySelectorAll(%q).length === %d`, answer+".tag", i+1),
		)
		b.kept()
	}
	assert.Equal(t, "+1", b.value(cellOf("look", "scale_5")), "by its name, whatever the capitals")
	b.choose(`[data-act^="merge?path=/scales/keyword_6&"]`, "scale_5")
	b.until("merged", fmt.Sprintf(`document.querySelector(%q)?.value === "+2"`, cellOf("look", "scale_5")))
	b.kept()

	b.click(`.addscale [data-act$="kind=points"]`)
	b.do(chromedp.WaitVisible(chromedp.CSS(`[data-path="/scales/scale_6/name"]`)))
	b.fill(`[data-path="/scales/scale_6/name"]`, "Both")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.choose(`[data-path="/scales/scale_6/method"]`, "formula")
	b.do(chromedp.WaitVisible(chromedp.CSS(`[data-path="/scales/scale_6/formula"]`)))
	b.kept()
	b.fill(`[data-path="/scales/scale_6/formula"]`, "to_watcher + ")
	b.until(
		"what is wrong",
		`document.querySelector('[data-item="/scales/scale_6"] .mind')?.textContent.trim().replace(/\s+/g, " ").includes("Something is missing after “+”")`,
	)
	b.kept()
	b.run(`document.querySelector('[data-path="/scales/scale_6/formula"]').setSelectionRange(99, 99)`)
	b.click(`[data-insert=to_guardian]`)
	b.until("it can be read", `!document.querySelector('[data-item="/scales/scale_6"] .mind')`)
	b.kept()
	require.Contains(t, b.value(`[data-path="/scales/scale_6/formula"]`), "to_watcher + to_guardian")
	feet := func(column int) string {
		return read[string](
			b,
			fmt.Sprintf(`[...document.querySelectorAll(".footcell.c%d")].map((f) => f.textContent).join(" ")`, column),
		)
	}
	assert.Equal(t, "0 12 6.1", feet(5), "lowest, highest and expected of the sum of two pulls")

	b.click(`[name=column][value=scale_5]`)
	assert.False(
		t,
		read[bool](b, fmt.Sprintf(`!!document.querySelector(%q).offsetParent`, cellOf("look", "scale_5"))),
		"hidden",
	)
	b.open(b.address())
	assert.False(
		t,
		read[bool](b, fmt.Sprintf(`!!document.querySelector(%q).offsetParent`, cellOf("look", "scale_5"))),
		"still hidden after a reload",
	)
	b.axeOf("#part-scales", "Sheet with scales of all kinds")
	b.click(`[data-item="/scales/scale_6"] [data-act=remove]`)
	b.until("the scale is gone", `!document.querySelector('[data-item="/scales/scale_6"]')`)
	b.choose(`[data-act^="turn?path=/scales/to_watcher&"]`, "money")
	b.until("in euros", `document.querySelector('[data-path="/scales/to_watcher/currency"]')?.value === "EUR"`)
	b.kept()
}
