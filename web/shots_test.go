package web_test

import (
	"context"
	"flag"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"
)

var shots = flag.String(
	"shots",
	"",
	"folder to put pictures of the main views into, taken of the workspace in -shots-of",
)
var shotsOf = flag.String("shots-of", "", "address of a running demo")

// TestShots takes the pictures of docs/screenshots. make shots runs it.
func TestShots(t *testing.T) {
	if *shots == "" {
		t.Skip("only make shots takes pictures")
	}
	require.NoError(t, os.MkdirAll(*shots, 0o755))
	demo := &app{Server: newApp(t).Server}
	demo.Server.URL = *shotsOf
	file := func(name string) string { return filepath.Join(*shots, name+".png") }

	b := demo.newTab(t)
	b.signIn()
	b.open("/studio")
	b.shot(file("quizzes"), false)
	b.open("/studio/new/offers")
	b.shot(file("starter"), false)
	b.open("/studio/quizzes/1")
	b.run(`document.querySelector("iframe").scrollIntoView()`)
	b.do(chromedp.Sleep(2 * time.Second)) // the pages in its frames come when they are near
	b.run(`scrollTo(0, 0)`)
	b.shot(file("sheet"), true)
	b.do(chromedp.EmulateViewport(1280, 1240))
	b.open("/studio/quizzes/2")
	b.run(`document.getElementById("part-look").scrollIntoView(); scrollBy(0, -90)`)
	b.do(chromedp.Sleep(2 * time.Second))
	b.shot(file("looks"), false)
	b.do(chromedp.EmulateViewport(1280, 800))
	b.open("/studio/quizzes/3")
	b.shot(file("findings"), true)
	b.open("/studio/quizzes/2")
	b.run(`document.getElementById("part-decision").scrollIntoView(); scrollBy(0, -120)`)
	b.shot(file("decision"), false)
	b.open("/studio/quizzes/2/map")
	b.shot(file("map"), true)
	b.open("/studio/quizzes/2/rehearse")
	b.do(chromedp.Sleep(time.Second))
	b.run(inside("phone") + `.querySelector(".button").click()`)
	b.until("the quiz asks", inside("desktop")+`?.querySelector("h1")?.textContent.includes("kept bees")`)
	b.taps("phone", "Never")
	b.taps("phone", "Yes")
	b.do(chromedp.Sleep(time.Second))
	b.shot(file("rehearse"), true)
	b.open("/studio/catalogue")
	b.shot(file("catalogue"), false)
	b.open("/studio/calendars?calendar=visits")
	b.shot(file("calendars"), true)
	b.open("/studio/leads?state=talks&state=new")
	b.run(`document.querySelector(".people .who a").click()`)
	b.until("somebody is open", `!!document.querySelector(".states")`)
	b.shot(file("leads"), false)
	b.open("/studio/quizzes/5/learn/replay")
	b.shot(file("replay"), false)
	b.open("/studio/quizzes/5/learn/won")
	b.shot(file("won"), false)
	b.open("/studio/quizzes/1")
	b.fill(`[data-path="/questions/crop/label"]`, "What grows on your land, mostly?")
	b.fill(`[data-path="/questions/crop/answers/berries/adds/readiness"]`, "5")
	b.do(chromedp.KeyEvent("\t"))
	b.kept()
	b.open("/studio/quizzes/1/release")
	b.shot(file("release"), false)
	b.open("/studio/outbox")
	b.run(`document.querySelector("td .link").click()`)
	b.until("a delivery is open", `document.querySelector("aside")`)
	b.shot(file("outbox"), false)
	b.pieces(filepath.Join("assets", "src", "guide"))
	b.open("/studio/quizzes/5/learn?source=letter")
	b.shot(file("responses"), false)
	b.open("/studio/quizzes/1/learn/12")
	b.shot(file("response"), true)

	p := demo.newTabOf(t, 390, 844, true)
	p.open("/q/is-your-orchard-ready-for-hired-bees")
	p.shot(file("opening"), false)
	p.click(".button")
	p.do()
	for _, answer := range []string{"cherries", "middle", "later", "enough", "little", "us"} {
		p.do(chromedp.WaitVisible(chromedp.CSS("[value=" + answer + "]")))
		p.run(`document.querySelector("[value=` + answer + `]").click()`)
		p.click("[name=go][value=on]")
	}
	p.shot(file("result"), false)
}

// pieces takes the pictures of the guide: parts of the rooms, as light files.
func (b *tab) pieces(folder string) {
	require.NoError(b.t, os.MkdirAll(folder, 0o755))
	for _, p := range []struct {
		name, at, of string
		high         float64
	}{
		{"write", "/studio/quizzes/1", "#part-q-crop .words, #part-q-crop .answers", 420},
		{"weigh", "/studio/quizzes/1", "#part-q-crop", 420},
		{"decide", "/studio/quizzes/1", "#part-s-bands", 420},
		{"land", "/studio/quizzes/1", "#part-o-walk", 460},
		{"rehearse", "/studio/quizzes/1/rehearse", "main", 560},
		{"release", "/studio/quizzes/1/release", "main", 560},
		{"learn", "/studio/quizzes/1/learn/12", "main", 560},
	} {
		b.open(p.at)
		b.do(chromedp.Sleep(time.Second))
		b.piece(filepath.Join(folder, p.name+".webp"), p.of, p.high)
	}
}

// piece takes a picture of what a selector names, at most so many pixels high.
func (b *tab) piece(file, selector string, high float64) {
	b.t.Helper()
	box := read[[]float64](b, `(() => {
		const boxes = [...document.querySelectorAll(`+"`"+selector+"`"+`)].map((e) => e.getBoundingClientRect());
		const least = (side) => Math.min(...boxes.map((b) => b[side])), most = (side) => Math.max(...boxes.map((b) => b[side]));
		return [least("left") + scrollX, least("top") + scrollY, most("right") - least("left"), most("bottom") - least("top")];
	})()`)
	quality, beyond := int64(80), true
	picture := get(b, chromedp.Action[[]byte](func(ctx context.Context, t *chromedp.Target) ([]byte, error) {
		r, err := cdp.Call(ctx, t, page.CaptureScreenshot, page.CaptureScreenshotParams{
			Format: page.CaptureScreenshotFormatWebp, Quality: &quality, CaptureBeyondViewport: &beyond,
			Clip: &page.Viewport{X: box[0], Y: box[1], Width: box[2], Height: min(box[3], high), Scale: 1},
		})
		if err != nil {
			return nil, err
		}
		return r.Data, nil
	}))
	require.NoError(b.t, os.WriteFile(file, picture, 0o644))
}
