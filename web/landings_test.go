package web_test

import (
	"bytes"
	"fmt"
	"mime/multipart"
	"net/http"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store"
)

// land takes a quiz of one question without an opening to its end.
func (c *client) land(z *store.Quiz, query, answer string) (*http.Response, string) {
	c.t.Helper()
	_, page := c.get("/q/" + z.Slug)
	assert.Contains(c.t, page, `name="asked"`)
	r, _ := c.form("/q/"+z.Slug+query, "asked", "want", "answer.want", answer, "go", "on")
	at := r.Header.Get("Location")
	if r.StatusCode == http.StatusSeeOther {
		return c.get(at)
	}
	return r, ""
}

// One outcome lands elsewhere by the visitor and by a signpost, which is changed while
// the released quiz redirects; a sign that is not up falls back to the page.
func TestLandingsBySign(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("lead")
	m.Ask("want", quiz.Single, "hive", "jar")
	m.Outcomes["lead"].Headline = ""
	z := a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	landings := "/outcomes/lead/landings"
	b.click(fmt.Sprintf(`[data-act^="add?path=%s&"]`, landings))
	b.kept()
	own := landings + "/landing_2"
	b.choose(part(own+"/when", "all/0", "subject"), "visitor source")
	b.kept()
	b.fill(part(own+"/when", "all/0", "value"), "letter")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.choose(fmt.Sprintf(`[data-path=%q]`, own+"/kind"), "redirect")
	b.kept()
	b.fill(fmt.Sprintf(`[data-path=%q]`, own+"/address"), "ftp://example.org/file")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.until("ftp is refused at its field",
		`document.querySelector(".fieldwrong")?.textContent.trim().replace(/\s+/g, " ").includes("https://")`)
	b.fill(fmt.Sprintf(`[data-path=%q]`, own+"/address"), "https://example.org/")
	b.run(
		fmt.Sprintf(
			`document.querySelector('[data-path=%q]').closest("[data-fills]").querySelector("summary").click()`,
			own+"/address",
		),
	)
	b.pressWhile(`.fills[open] [data-insert="{want}"]`, func() {
		require.Eventually(t, func() bool {
			return a.draft(t, z.ID).Outcomes["lead"].Landings["landing_2"].Address == "https://example.org/"
		}, patience, 10*time.Millisecond, "the field that was left is kept")
		b.do(chromedp.Sleep(200 * time.Millisecond)) // the answer is there before the press ends
	})
	b.do(chromedp.KeyEvent("?from={visitor.source}"))
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	b.until(
		"a sample is shown",
		`document.querySelector(".sampleof")?.textContent.trim().replace(/\s+/g, " ").includes("https://example.org/hive?from=letter")`,
	)
	b.axe("landings")
	b.run(
		`[...document.querySelectorAll(".landing .line button")].find(x => x.textContent.trim().replace(/\s+/g, " ").includes("a signpost instead")).click()`,
	)
	b.kept()
	b.fill(fmt.Sprintf(`[data-path=%q]`, own+"/signpost/table"), "booking")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.fill(fmt.Sprintf(`[data-path=%q]`, own+"/signpost/row"), "{want}")
	b.do(chromedp.KeyEvent(kb.Tab))
	b.kept()
	require.Equal(
		t,
		&quiz.Signpost{Table: "booking", Row: "{want}"},
		a.draft(t, z.ID).Outcomes["lead"].Landings["landing_2"].Signpost,
	)
	z, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, z)

	_, page := a.client(t).land(z, "?utm_source=letter", "hive")
	assert.Contains(t, page, "Thank you", "no such sign yet: the page")
	_, page = a.client(t).land(z, "?utm_source=elsewhere", "hive")
	assert.Contains(t, page, "Thank you")

	// The sign is put up, then changed, in its room.
	b.open("/studio/signposts")
	b.axe("Signposts, empty")
	put := func(address string) {
		b.open("/studio/signposts")
		b.fill("form.rowform [name=table]", "booking")
		b.fill("form.rowform [name=row]", "hive")
		b.fill("form.rowform [name=address]", address)
		b.do(chromedp.KeyEvent(kb.Enter))
	}
	put("mailto:me@example.org")
	b.until("refused", `document.querySelector(".wrong")?.textContent.trim().replace(/\s+/g, " ").includes("Nothing was changed")`)
	assert.Equal(t, "mailto:me@example.org", b.value("form.rowform [name=address]"), "what was typed is still there")
	for _, address := range []string{"https://example.org/first?score={passage}", "https://example.org/second"} {
		put(address)
		b.until("kept", `document.querySelector(".flash")`)
		r, _ := a.client(t).land(z, "?utm_source=letter", "hive")
		assert.Equal(t, http.StatusFound, r.StatusCode)
		assert.Contains(t, r.Header.Get("Location"), address[:len("https://example.org/first")])
	}
	b.open("/studio/signposts")
	assert.Contains(t, b.text("main"), "just now", "it was used")
	b.axe("Signposts")
}

// upload sends a file of a list.
func (c *client) upload(path, content string) (*http.Response, string) {
	c.t.Helper()
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	f, err := w.CreateFormFile("file", "list.csv")
	require.NoError(c.t, err)
	_, err = f.Write([]byte(content))
	require.NoError(c.t, err)
	require.NoError(c.t, w.Close())
	r, err := http.NewRequest(http.MethodPost, c.app.URL+path, &body)
	require.NoError(c.t, err)
	r.Header.Set("Content-Type", w.FormDataContentType())
	return c.send(r)
}

// Lists come in and go out as CSV; a wrong file changes nothing and says which line.
func TestListsAsFiles(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	c := a.client(t).signIn()
	for _, bad := range []struct{ room, file, says string }{
		{"signposts", "table,key,address\nbooking,IE,https://example.org/ie\nbooking,GB\n",
			"Line 3 has 2 columns, and the first line has 3"},
		{"signposts", "table,key,address\nbooking,IE,https://example.org/ie\nbooking,GB,/relative\n", "Row 2 (booking / GB)"},
		{"signposts", "", "There is nothing in it"},
		{"catalogue", "key,name,price\nstarter,Starter hive,a lot\n", "a price needs a currency"},
		{"catalogue", "key,name,colour\nstarter,Starter hive,red\n", "the column &#34;colour&#34; is not one of"},
		{"catalogue", "key,name\nstarter,Starter hive\nstarter,Again\n", "row 1 has the same key"},
	} {
		r, page := c.upload("/studio/"+bad.room+"/import", bad.file)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, bad.file)
		assert.Contains(t, page, bad.says, bad.file)
		assert.Contains(t, page, "Nothing was changed")
	}
	signs, err := a.store.Definitions.Signposts(t.Context())
	require.NoError(t, err)
	assert.Empty(t, signs)
	for room, file := range map[string]string{
		"signposts": "table,key,address\nbooking,GB,https://example.org/gb\nbooking,IE,https://example.org/ie\n",
		"catalogue": "key,name,text,picture,description,price,sale price,currency,tags,address,in " +
			"stock\nstarter,Starter hive,\"One box, all tools\",,,189.5,,EUR,\"first, hive\",https://example.org/starter,yes\n",
	} {
		r, page := c.upload("/studio/"+room+"/import", file)
		require.Equal(t, http.StatusSeeOther, r.StatusCode, page)
		_, back := c.get("/studio/" + room + ".csv")
		assert.Equal(t, file, back)
	}
}

// A landing shows products that are named, then those with a tag, without those out of
// stock; a product in use is told so, and comes back when it was taken out.
func TestCatalogueAndProducts(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	require.NoError(t, a.store.Definitions.PutProducts(t.Context(), []store.Product{
		{
			Key:       "starter",
			Name:      "Starter hive",
			Price:     "189",
			SalePrice: "149.5",
			Currency:  "EUR",
			Tags:      "hive",
			Address:   "https://example.org/starter",
			InStock:   true,
		},
		{Key: "smoker", Name: "Smoker", Tags: "tool", InStock: true}, {Key: "gone", Name: "Sold out", Tags: "tool"}}))
	m := quiztest.New("finder")
	m.Ask("want", quiz.Single, "hive", "jar")
	z := a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/catalogue")
	b.axe("Catalogue")
	b.fill(".productform [name=name]", "Bee brush")
	b.fill(".productform [name=tags]", "tool")
	b.fill(".productform [name=price]", "7,9")
	b.click(".productform [data-picture]")
	b.click(`#picture-list [data-take$="drawing-hive.svg"]`)
	b.click(".productform .button")
	b.until("it is there",
		`document.querySelector(".flash")?.textContent.trim().replace(/\s+/g, " ").includes("Bee brush")`)

	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	b.choose(`[data-path="/outcomes/finder/landings/page/kind"]`, "products")
	b.kept()
	for _, n := range []int{0, 1} { // Starter hive; the tag tool
		b.run(
			fmt.Sprintf(`[...document.querySelectorAll(".products")][%d].querySelectorAll("input")[%d].click()`, n, n),
		)
		b.kept()
	}
	b.until("both are chosen", `document.querySelectorAll(".products :checked").length === 2`)
	b.axe("a landing with products")
	z, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, z)
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	p.tap("label.answer")
	p.until("the products", `document.querySelectorAll(".product").length === 3`)
	assert.Equal(
		t,
		"Starter hive|Smoker|Bee brush",
		read[string](p, `[...document.querySelectorAll(".product h2")].map(h => h.textContent).join("|")`),
	)
	assert.Contains(t, p.text(".product"), "149.50 EUR")
	p.axe("products")

	b.open("/studio/catalogue")
	assert.Contains(t, b.text("tbody tr:nth-child(2)"), "Test", "the quiz that shows it")
	assert.Contains(t, b.text("tbody tr:nth-child(1)"), "189.00 EUR 149.50 EUR")
	b.click(`[aria-label="Take Starter hive out of the catalogue"]`)
	b.until("it is out", `document.querySelectorAll("tbody tr").length === 3`)
	b.click(".flash button")
	b.until("it is back", `document.querySelectorAll("tbody tr").length === 4`)
}

// A quote adds up amounts with 2.9 % and 0.30 on top: 250 + 7.25 + 0.30 = 257.55;
// common practice, no source.
func TestQuote(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("quote")
	m.Scales["price"] = &quiz.Scale{
		Name:     "Price",
		Kind:     quiz.Money,
		Currency: "EUR",
		Fees: map[string]*quiz.Fee{
			"card": {Name: "Card fee", Percent: decimal.Must("2.9"), Fixed: decimal.Must("0.30")},
		},
	}
	m.Ask("want", quiz.Single, "hive price=250", "jar price=8.5")
	z := a.add(t, string(m.Write()))
	b := a.newTab(t)
	b.signIn()
	b.open(fmt.Sprintf("/studio/quizzes/%d", z.ID))
	b.click(`[data-act="add?path=/outcomes/quote/landings/page/blocks&kind=bill"]`)
	b.kept()
	b.choose(`[aria-label="Scale of the quote"]`, "price")
	b.kept()
	b.axe("a quote")
	z, err := a.store.Definitions.Quiz(t.Context(), z.ID)
	require.NoError(t, err)
	a.release(t, z)
	_, page := a.client(t).land(z, "", "hive")
	for _, said := range []string{"250", "7.55", "257.55"} {
		assert.Contains(t, page, said)
	}
}
