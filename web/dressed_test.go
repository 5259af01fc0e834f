package web_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/look"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// dressed is a quiz with every kind of question on one page, answers that stand in every way,
// and a result that shows all there is to show.
func (a *app) dressed(t testing.TB) uint {
	t.Helper()
	a.calendar(t, "visits")
	m := quiztest.New("walk", "plan")
	picture := &quiz.Picture{Source: "/assets/drawing-orchard.svg", Description: "An orchard",
		Focus: &quiz.Focus{X: 62, Y: 70}}
	m.Opening = &quiz.Opening{Heading: "Is your orchard ready?",
		Text: "A minute, [and no more](https://example.org).", Picture: picture}
	m.Pace = quiz.OnePage
	for _, key := range []string{"need", "care", "time"} {
		m.Scale(key, quiz.Sum)
		m.Scales[key].Name = "How much " + key
	}
	layouts := []quiz.AnswerLayout{quiz.InRows, quiz.TwoAcross, quiz.ThreeWide, quiz.AsCards}
	for i, kind := range quiz.Kinds {
		if kind == quiz.Location {
			continue
		}
		var answers []string
		if kind.HasAnswers() {
			answers = []string{"apples need=2 care=1 time=1", "cherries need=1 time=2"}
		}
		q := m.Ask("q_"+string(kind), kind, answers...)
		q.Label, q.Help = "What of "+string(kind)+"?", "If several, the one with the most trees."
		for _, answer := range q.Answers {
			if kind != quiz.Grid && kind != quiz.Dropdown {
				answer.Picture, answer.Note = picture, "a line below it"
			}
		}
		switch kind {
		case quiz.Single, quiz.YesNo, quiz.Pictures, quiz.Several:
			q.Layout = layouts[i%len(layouts)]
		case quiz.Appointment:
			q.Table = "visits"
		case quiz.Grid:
			q.Rows = map[string]*quiz.Row{"spring": {Order: 1, Label: "In spring"}}
		}
	}
	slides := m.Ask("slides", quiz.Rating)
	slides.Layout = quiz.AsSlider
	slides.Limits = &quiz.Limits{LowWords: "for the blossoms", HighWords: "for the honey"}
	m.Outcomes["walk"].Picture, m.Outcomes["walk"].Text = picture, "Your **trees** would pay for their bees."
	m.Outcomes["walk"].ShowAs, m.Outcomes["walk"].ShowWhy = quiz.AsWheel, true
	m.Outcomes["plan"].ShowScore = "need"
	m.Settings = &quiz.Settings{Results: &quiz.Results{Again: true, Keep: true, PassOn: true, Share: true}}
	m.Look = &quiz.Look{Owner: "Quillbrook Apiary Supply"}
	return a.add(t, string(m.Write())).ID
}

// prefers has a tab prefer something, as media features of CSS name it.
func (b *tab) prefers(features ...string) {
	var list []*emulation.MediaFeature
	for i := 0; i < len(features); i += 2 {
		list = append(list, &emulation.MediaFeature{Name: features[i], Value: features[i+1]})
	}
	_, err := chromedp.Call(b.ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Features: list})
	require.NoError(b.t, err)
}

// Each made look can be used by everybody, in light and dark: its opening, every kind of
// question, its results. At 320 px, as at a magnification of 400 %, nothing is cut off.
func TestEveryMadeLookIsForEverybody(t *testing.T) {
	for i, part := range [][]quiz.Made{quiz.Mades[:4], quiz.Mades[4:]} {
		t.Run(fmt.Sprint(i), func(t *testing.T) {
			t.Parallel()
			a := newApp(t)
			id := a.dressed(t)
			b := a.newTabOf(t, 390, 844, true)
			b.signIn()
			for _, made := range part {
				a.edit(t, id,
					fmt.Sprintf(
						`[{"op":"add","path":"/look/made","value":%q},{"op":"add","path":"/look/scheme","value":"device"}]`, made))
				for _, page := range []string{"the-opening", "q_single", "result.walk", "result.plan"} {
					b.prefers("prefers-color-scheme", "light")
					b.open(fmt.Sprintf("/showing/%d/%s", id, page))
					b.axe(fmt.Sprintf("%s, %s", made, page))
					b.prefers("prefers-color-scheme", "dark")
					b.axeOfColours(fmt.Sprintf("%s in the dark, %s", made, page))
				}
				b.prefers("prefers-color-scheme", "light")
				b.do(chromedp.EmulateViewport(320, 640))
				for _, page := range []string{"the-opening", "q_single", "result.walk"} {
					b.open(fmt.Sprintf("/showing/%d/%s", id, page))
					b.fits(fmt.Sprintf("%s at 320 px, %s", made, page))
				}
				b.do(chromedp.EmulateViewport(390, 844))
			}
		})
	}
}

// With colours of one's own what is chosen is told by the system's; more contrast is more.
func TestColoursOfOnesOwn(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	id := a.dressed(t)
	b := a.newTabOf(t, 390, 844, true)
	b.signIn()
	for _, made := range quiz.Mades {
		a.edit(t, id, fmt.Sprintf(`[{"op":"add","path":"/look/made","value":%q}]`, made))
		b.prefers("forced-colors", "active")
		b.open(fmt.Sprintf("/showing/%d/q_single", id))
		b.run(`document.querySelector("#at-q_single input[type=radio]").click()`)
		styles := read[[]string](b, `(() => {
			const [on, off] = document.querySelectorAll("#at-q_single .answer");
			return [on, off].map((el) => getComputedStyle(el).outlineStyle + " " + getComputedStyle(el).outlineWidth);
		})()`)
		assert.Equal(t, "solid 3px", styles[0], made)
		assert.NotEqual(t, styles[0], styles[1], made)
		b.prefers("prefers-contrast", "more")
		assert.Equal(t, read[string](b, `getComputedStyle(document.body).color`),
			read[string](b, `getComputedStyle(document.querySelector(".text")).color`), made)
	}
}

// Nothing is chosen on a slider before it is touched; then the point is, with keys as well.
func TestARatingIsDrawnAlong(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	m := quiztest.New("end")
	q := m.Ask("honey", quiz.Rating)
	q.Layout, q.Required = quiz.AsSlider, true
	z := a.add(t, string(m.Write()))
	a.release(t, z)
	b := a.newTabOf(t, 390, 844, true)
	b.open("/q/" + z.Slug)
	b.axe("A slider")
	b.click("[name=go][value=on]")
	b.until("it is required", `document.querySelector(".wrong")`)
	b.focus("input[type=range]")
	b.keys("\u0305") // as the key to the right
	b.run(`{ const r = document.querySelector("input[type=range]"); r.valueAsNumber = 8; r.dispatchEvent(new Event("input", { bubbles: true })); }`)
	assert.Equal(t, "8", b.text("output"))
	b.click("[name=go][value=on]")
	b.until("finished", `location.pathname.endsWith("/end")`)
	assert.Equal(t, map[string]string{"honey": "8"}, a.answers(t, z, 1))

	plain := a.newTabOf(t, 390, 844, false)
	plain.open("/q/" + z.Slug)
	assert.Equal(t, 11, read[int](plain, `document.querySelectorAll("input[name='answer.honey']").length`),
		"without scripts there are the points")
}

// A made look is chosen on the sheet and seen at once on a phone and on a desktop; colours tell
// how they read while they are picked; kept under a name, it is worn by other quizzes, and
// changes with them until they are released.
func TestALookFromTheSheet(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	b.run(`document.getElementById("faces").scrollIntoView()`)
	framed := `document.querySelector("#faces iframe").contentDocument?.documentElement?.className`
	b.until("it is shown", framed+`?.includes("made-almanac")`)
	b.click(`[data-made="night"]`)
	b.kept()
	b.until("it is worn", framed+`?.includes("made-night")`)
	assert.Equal(t, "true", read[string](b, `document.querySelector('[data-made="night"]').getAttribute("aria-pressed")`))
	b.choose(`[data-path="/look/corners"]`, "round")
	b.kept()
	b.until("a part of it is changed", framed+`?.includes("corners-round")`)
	b.choose(`#faces [x-ref="page"]`, "crop")
	b.until("another page",
		`document.querySelector("#faces iframe").contentDocument?.querySelector("h1")?.textContent.includes("What do you grow?")`)
	b.choose(`#faces [x-ref="page"]`, "result.plan")
	b.until("a result", `document.querySelector("#faces iframe").contentDocument?.querySelector("a.button")`)
	b.run(`document.querySelector("#faces iframe").contentDocument.querySelector("a.button").click()`)
	b.run(`fetch("/studio/quizzes/1/look/pages").then(() => (window.asked = true))`)
	b.until("time has gone by", `window.asked`)
	assert.Equal(t, "/showing/1/result.plan", read[string](b,
		`document.querySelector("#faces iframe").contentWindow.location.pathname`), "it leads nowhere here")
	b.axeOf("#part-look", "The look on the sheet")

	// As it is dragged, and what would do.
	pick := func(role, colour, event string) {
		b.run(fmt.Sprintf(
			`{ const f = document.querySelector('[data-at="/look/dark"] [name=%s]'); f.value = %q; f.dispatchEvent(new Event(%q, { bubbles: true })); }`, role, colour, event))
	}
	pick("Ink", "#24313a", "input")
	b.until("it is told",
		`document.querySelector('[data-at="/look/dark"] .reads strong')?.textContent.includes("hard to read")`)
	assert.Empty(t, a.draft(t, 1).Look.Dark, "nothing is kept while it is dragged")
	pick("Ink", "#d8e4e8", "input")
	b.until("and that it reads", `!document.querySelector('[data-at="/look/dark"] .reads strong')`)
	pick("Ink", "#d8e4e8", "change")
	b.kept()
	assert.Equal(t, "#d8e4e8", a.draft(t, 1).Look.Dark.Ink)

	// The point that no crop cuts off.
	b.click(`#part-opening [data-picture]`)
	b.click(`#picture-list [data-take$="drawing-orchard.svg"]`)
	b.kept()
	b.focus(`[data-focus="/opening/picture/focus"]`)
	b.run(`document.activeElement.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowRight", bubbles: true }))`)
	b.kept()
	assert.Equal(t, &quiz.Focus{X: 55, Y: 50}, a.draft(t, 1).Opening.Picture.Focus)

	// Kept, and worn by another quiz.
	r := a.release(t, a.latest(t, 1))
	b.fill(`[x-data="keeplook"] input`, "Autumn")
	b.keys("\t")
	b.until("it is kept", `document.querySelector("#part-look")?.textContent.includes("This is the look “Autumn”")`)
	b.kept()
	a.keeper(t)
	b.open("/studio/quizzes/2")
	b.run(`[...document.querySelectorAll("#part-look button")].find((e) => e.textContent.trim() === "Autumn").click()`)
	b.kept()
	b.until("worn", `document.querySelector('[data-made="night"]').getAttribute("aria-pressed") === "true"`)
	b.choose(`[data-path="/look/corners"]`, "soft")
	b.kept()
	assert.Equal(t, quiz.SoftCorners, a.draft(t, 1).Look.Corners, "both change")
	b.click("[data-act=undo]")
	b.kept()
	assert.Equal(t, quiz.RoundCorners, a.draft(t, 1).Look.Corners, "and change back")
	_, css := a.client(t).get(fmt.Sprintf("/look/%d", r.ID))
	assert.Contains(t, css, "color-scheme:dark", "a release stays as it is")
	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	assert.Contains(t, read[string](p, `document.documentElement.className`), "made-night")
	p.axe("A dressed opening")
}

// A palette is made of the colours of a logo, and taken over.
func TestColoursOfALogo(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	a.orchard(t)
	logo := image.NewNRGBA(image.Rect(0, 0, 120, 40))
	for y := range 40 {
		for x := range 120 {
			logo.Set(x, y, color.NRGBA{0xf0, 0xb0, 0x20, 255})
		}
	}
	var data bytes.Buffer
	require.NoError(t, png.Encode(&data, logo))
	file := filepath.Join(t.TempDir(), "logo.png")
	require.NoError(t, os.WriteFile(file, data.Bytes(), 0o600))
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	b.click(`[data-picture="/look/logo"]`)
	b.do(chromedp.SetUploadFiles(chromedp.CSS("#picture-file"), []string{file}))
	b.until("it is there", `document.querySelector('#part-look .pic img')`)
	b.kept()
	b.click(`[x-data="brand"] button`)
	b.until("a palette", `document.querySelector('[x-ref="brand"] [data-patch]')`)
	b.axeOf("#part-look", "The colours of a logo")
	b.click(`[x-ref="brand"] [data-patch]`)
	b.kept()
	d := look.Of(a.draft(t, 1).Look)
	assert.GreaterOrEqual(t, look.Contrast(d.Light.Accent, d.Light.Paper), look.TextContrast,
		"yellow is made darker until it can be read")
	assert.NotEqual(t, "#17627a", d.Light.Accent)
}
