package web_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func somePicture(t testing.TB) []byte {
	m := image.NewRGBA(image.Rect(0, 0, 2000, 1000))
	for x := range 2000 {
		for y := range 1000 {
			m.Set(x, y, color.RGBA{23, 98, uint8(x % 256), 255})
		}
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, m))
	return b.Bytes()
}

// A picture is chosen, described and seen by respondents; what is no picture is told
// and changes nothing; one that was used before, or a drawing, is taken at a press.
func TestPictures(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	z := a.orchard(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/quizzes/1")
	folder := t.TempDir()
	good, bad := filepath.Join(folder, "orchard.png"), filepath.Join(folder, "letter.png")
	require.NoError(t, os.WriteFile(good, somePicture(t), 0o600))
	require.NoError(t, os.WriteFile(bad, []byte("Dear bees"), 0o600))

	b.click(`#part-opening [data-picture]`)
	b.until("the drawings", `document.querySelectorAll("[data-take]").length >= 24`)
	b.axeOf("dialog[open]", "Pictures")
	b.do(chromedp.SetUploadFiles(chromedp.CSS("#picture-file"), []string{bad}))
	b.until(
		"no picture",
		`document.getElementById("picture-wrong").textContent.trim().replace(/\s+/g, " ").includes("This is no JPEG, PNG, GIF or WebP picture.")`,
	)
	b.do(chromedp.SetUploadFiles(chromedp.CSS("#picture-file"), []string{good}))
	b.until("the picture is there", `document.querySelector("#part-opening .pic img")?.complete === true`)
	b.kept()
	assert.Equal(t, "1 finding", b.text(".findlink"), "it has no description yet")
	b.fill(`[data-path="/opening/picture/description"]`, "Rows of trees")
	b.until("described", `document.querySelector(".findlink").textContent.trim().replace(/\s+/g, " ") === "No findings"`)
	b.kept()

	b.focus(`[data-path="/questions/crop/answers/apples/label"]`)
	b.click(`[data-picture="/questions/crop/answers/apples/picture"]`)
	b.until("it is among those used before", `document.querySelectorAll('[data-take^="/pictures/"]').length === 1`)
	b.click(`[data-take$="drawing-blossom.svg"]`)
	b.until(
		"the answer has a drawing",
		`document.querySelector('[data-item="/questions/crop/answers/apples"] .pic img')?.src.endsWith("drawing-blossom.svg")`,
	)
	b.kept()
	b.run(`scrollTo(0, 0)`)
	b.axeOf("#questions", "Sheet with pictures")
	a.release(t, must(a.store.Definitions.Quiz(t.Context(), z.ID)))

	p := a.newTabOf(t, 390, 844, true)
	p.open("/q/" + z.Slug)
	p.until("it is seen, scaled", `document.querySelector("img.picture")?.naturalWidth === 1600`)
	assert.Equal(t, "Rows of trees", read[string](p, `document.querySelector("img.picture").alt`))
	p.axe("Opening with a picture")
	p.click(".button")
	p.until("the drawing beside the answer", `document.querySelector(".answer img")?.naturalWidth > 0`)
	p.axe("Question with a picture")
}

// What can't be taken is refused in words: 30 MB, and what claims to be a picture.
func TestPicturesThatAreRefused(t *testing.T) {
	t.Parallel()
	a := newApp(t)
	c := a.client(t).signIn()
	send := func(body string) (int, string) {
		r, err := http.NewRequest(http.MethodPost, a.URL+"/studio/pictures", strings.NewReader(body))
		require.NoError(t, err)
		answer, text := c.send(r)
		return answer.StatusCode, text
	}
	status, says := send(strings.Repeat("x", 30<<20))
	assert.Equal(t, http.StatusRequestEntityTooLarge, status)
	assert.Contains(t, says, "at most 12 MB fit")
	status, says = send("<svg onload=alert(1)>")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, says, "no JPEG, PNG, GIF or WebP")
	first, one := send(string(somePicture(t)))
	_, two := send(string(somePicture(t)))
	assert.Equal(t, http.StatusOK, first)
	assert.Equal(t, one, two, "the same picture is kept once")
	list, err := a.store.Definitions.Pictures(t.Context(), 9)
	require.NoError(t, err)
	assert.Len(t, list, 1)
	answer, _ := c.get("/pictures/nothing")
	assert.Equal(t, http.StatusNotFound, answer.StatusCode)
	stranger := a.client(t)
	r, err := http.NewRequest(http.MethodPost, a.URL+"/studio/pictures", strings.NewReader("x"))
	require.NoError(t, err)
	answer, _ = stranger.send(r)
	assert.NotEqual(t, http.StatusOK, answer.StatusCode, "only who is signed in")
}
