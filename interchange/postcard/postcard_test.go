package postcard_test

import (
	"bytes"
	"flag"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/look"
	"omphalos/core/quiz"
	"omphalos/interchange/postcard"
)

// keep is a folder in which the cards of the tests are left to be looked at.
var keep = flag.String("keep", "", "folder for the cards")

func card(made quiz.Made, title, text string) postcard.Card {
	return postcard.Card{Title: title, Text: text, Owner: "Quillbrook Apiary Supply",
		Dress: look.Of(&quiz.Look{Made: made})}
}

func draw(t *testing.T, name string, c postcard.Card) image.Image {
	t.Helper()
	data, err := postcard.Draw(c)
	require.NoError(t, err)
	if *keep != "" {
		require.NoError(t, os.WriteFile(filepath.Join(*keep, name+".png"), data, 0o600))
	}
	img, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	require.Equal(t, image.Rect(0, 0, postcard.Width, postcard.Height), img.Bounds())
	return img
}

// inked returns the box around all that differs from the paper, knots and line at the foot
// apart.
func inked(img image.Image) image.Rectangle {
	paper := img.At(2, 2)
	var box image.Rectangle
	for y := range postcard.Height - 100 {
		for x := range postcard.Width {
			if img.At(x, y) != paper {
				box = box.Union(image.Rect(x, y, x+1, y+1))
			}
		}
	}
	return box
}

func TestEachMadeLookHasItsCard(t *testing.T) {
	drawing, err := os.ReadFile("../../web/assets/src/drawings/orchard.svg")
	require.NoError(t, err)
	picture, err := postcard.Picture(drawing)
	require.NoError(t, err)
	papers := map[color.Color]quiz.Made{}
	for _, made := range quiz.Mades {
		c := card(made, "Let us walk your rows together",
			"Your trees would pay for their bees. Choose a morning and we come by.")
		c.Picture, c.Focus = picture, quiz.Focus{X: 62, Y: 70}
		img := draw(t, string(made), c)
		papers[img.At(2, 2)] = made
		assert.NotEqual(t, img.At(1000, 300), img.At(2, 2), "the picture is there")
	}
	assert.Len(t, papers, 8)
}

// A score stands at the foot, in its band; words make room for it.
func TestAScoreOnACard(t *testing.T) {
	for _, made := range quiz.Mades {
		c := card(made, strings.Repeat("Let us walk your rows together. ", 5), strings.Repeat("A few words more. ", 20))
		c.Score = &postcard.Score{Words: "Readiness: 17 of 29", At: 0.6, From: 0.38, To: 0.66, Cuts: []float64{0.38, 0.66}}
		img := draw(t, "score-"+string(made), c)
		const middle = postcard.Height - 72 - 24
		at := func(share float64, y int) color.Color { return img.At(72+int(share*(postcard.Width-2*72)), y) }
		line := func(share float64) color.Color { return at(share, middle) }
		assert.Equal(t, line(0.1), line(0.9), made)
		assert.Equal(t, line(0.45), line(0.65), made)
		assert.NotEqual(t, line(0.1), line(0.45), "the band, in %s", made)
		assert.NotEqual(t, line(0.45), line(0.6), "the mark, in %s", made)
		assert.NotEqual(t, at(0.38, middle+12), at(0.45, middle+12), "a cut, in %s", made)
		assert.Equal(t, at(0.1, middle+12), at(0.45, middle-28), "nothing is written into the line, in %s", made)
	}
}

// Words never leave their room, however many or long they are.
func TestWordsFit(t *testing.T) {
	for name, title := range map[string]string{
		"one":   "Yes",
		"long":  strings.Repeat("A long hive on legs spares your back, and ", 8) + "more",
		"word":  strings.Repeat("Bienenstockaufstellungsgenehmigung", 5),
		"empty": "",
	} {
		c := card(quiz.Fair, title, strings.Repeat("You would rather not lift, and you have a meadow. ", 12))
		box := inked(draw(t, "fit-"+name, c))
		assert.True(t, box.In(image.Rect(60, 60, postcard.Width-60, postcard.Height-90)), "%s: %v", name, box)
	}
}

// What is read from right to left begins at the right, its letters joined: Arabic ones are
// narrower in a word than alone.
func TestRightToLeft(t *testing.T) {
	for name, title := range map[string]string{"arabic": "خلايا النحل في بستانك",
		"hebrew": "הכוורת הראשונה שלך, 2026"} {
		c := card(quiz.Salon, title, "")
		c.Owner, c.RightToLeft = "", true
		box := inked(draw(t, name, c))
		assert.Greater(t, box.Max.X, postcard.Width-100, name)
		c.RightToLeft, c.Title = false, "Hive"
		assert.Less(t, inked(draw(t, name+"-left", c)).Min.X, 100)
	}
	joined := card(quiz.Almanac, "نحل", "")
	apart := card(quiz.Almanac, "ن ح ل", "")
	joined.Owner, apart.Owner = "", ""
	joined.RightToLeft, apart.RightToLeft = true, true
	assert.Less(t, inked(draw(t, "joined", joined)).Dx(), inked(draw(t, "apart", apart)).Dx())
}

// What no typeface has is left out, and a title with letters that none has is not written; each
// typeface writes Greek, Cyrillic and Vietnamese, in its own letters or in those of one like it.
func TestWhatCannotBeWritten(t *testing.T) {
	same := func(a, b string, face quiz.Typeface) bool {
		drawn := func(title string) []byte {
			c := card(quiz.Almanac, title, "")
			c.Dress.Headings = face
			data, err := postcard.Draw(c)
			require.NoError(t, err)
			return data
		}
		return bytes.Equal(drawn(a), drawn(b))
	}
	assert.True(t, postcard.Writes("Your first 🐝 – Μέλισσες, Бджоли, نحل"))
	assert.False(t, postcard.Writes("Bees: 蜂"))
	for _, face := range quiz.Typefaces {
		assert.True(t, same("Your first hive", "🐝 Your first\t🍯👩🏽‍🌾 hive ❤️🇺🇦\u200b", face), face)
		assert.True(t, same("1 hive", "1️⃣ hive", face), face)
		assert.True(t, same("", "你的第一个蜂箱 2026", face), "not even the year of it, in %s", face)
		assert.True(t, same("Café", "Cafe\u0301", face), face)
		for _, word := range []string{"Μέλισσες", "Бджоли", "Ғалам", "Những"} {
			assert.False(t, same("", word, face), "%s in %s", word, face)
			assert.False(t, same(strings.Repeat("?", len([]rune(word))), word, face), "%s in %s", word, face)
		}
	}
}

func TestPicture(t *testing.T) {
	for _, bad := range []string{"", "Dear bees", "<svg", `<svg xmlns="http://www.w3.org/2000/svg"></svg>`} {
		_, err := postcard.Picture([]byte(bad))
		assert.Error(t, err, bad)
	}
}

func BenchmarkDraw(b *testing.B) {
	c := card(quiz.Poster, "Let us walk your rows together",
		"Your trees would pay for their bees. Choose a morning and we come by.")
	for b.Loop() {
		if _, err := postcard.Draw(c); err != nil {
			b.Fatal(err)
		}
	}
}

// Bars stand at the foot, each as long as its share, from where words begin; no more than fit.
func TestBarsOnACard(t *testing.T) {
	bar := func(name string, share float64, first bool) postcard.Bar {
		return postcard.Bar{Name: name, Words: "12", Share: share, First: first}
	}
	for _, rightToLeft := range []bool{false, true} {
		c := card(quiz.Porcelain, strings.Repeat("You are a watcher of bees. ", 6), strings.Repeat("A few words more. ", 20))
		c.RightToLeft = rightToLeft
		c.Bars = []postcard.Bar{bar("Watcher", 0.9, true), bar("A tinkerer who builds each hive anew", 0.5, false),
			bar("Gatherer", 0, false), bar("Guard", 1, false), bar("One too many", 1, false)}
		img := draw(t, fmt.Sprint("bars-", rightToLeft), c)
		at := func(share float64, y int) color.Color {
			if rightToLeft {
				share = 1 - share
			}
			return img.At(72+int(share*(postcard.Width-2*72)), y)
		}
		const last, each = postcard.Height - 72 - 4, 62 // the middle of the lowest bar, and between two
		for i, b := range []postcard.Bar{c.Bars[3], c.Bars[2], c.Bars[1], c.Bars[0]} {
			y := last - i*each
			if b.Share > 0 {
				assert.Equal(t, at(0.01, y), at(b.Share-0.02, y), "%s, %v", b.Name, rightToLeft)
			}
			if b.Share > 0 && b.Share < 1 {
				assert.NotEqual(t, at(b.Share-0.02, y), at(b.Share+0.02, y), "%s ends, %v", b.Name, rightToLeft)
			}
		}
		assert.NotEqual(t, at(0.1, last-3*each), at(0.1, last), "that which leads is told apart")
		assert.True(t, inked(img).Min.Y > 60, "words make room")
	}
}
