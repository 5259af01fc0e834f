package player

import (
	"net/url"
	"os"
	"path"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/look"
	"omphalos/core/quiz"
	"omphalos/web/assets"
)

// A page fetches first what its words are written with, and no more.
func TestTypefacesAreFetchedAsWordsNeedThem(t *testing.T) {
	first := func(title, language string, made quiz.Made) []string {
		q := &quiz.Quiz{Title: title, Look: &quiz.Look{Made: made}, Settings: &quiz.Settings{Language: language},
			Translations: map[string]quiz.Translations{"pl": {quiz.At("title"): {Text: "Łąka"}}}}
		var files []string
		for _, address := range fetchedFirst(look.Of(q.Look), q) {
			name, _, _ := strings.Cut(path.Base(address), ".")
			files = append(files, name)
		}
		return files
	}
	assert.Equal(t, []string{"commissioner-basic"}, first("Bees & trees – “which” cost 5 € × 2?", "", quiz.Almanac))
	assert.Equal(t, []string{"commissioner-basic", "commissioner-latin"}, first("A café", "en", quiz.Almanac))
	assert.Equal(t, []string{"commissioner-basic", "commissioner-latin"}, first("Bienen", "de", quiz.Almanac),
		"our own words are German")
	assert.Equal(t, []string{"commissioner-basic", "commissioner-latin-ext"}, first("Wrocław", "", quiz.Almanac))
	assert.Equal(t, []string{"commissioner-basic", "commissioner-greek"}, first("Μέλισσες", "", quiz.Almanac))
	assert.Equal(t, []string{"commissioner-basic", "commissioner-latin-ext", "commissioner-vietnamese"},
		first("Những đồng", "", quiz.Almanac))
	two := look.Of(&quiz.Look{Made: quiz.Porcelain})
	require.NotEqual(t, two.Typeface, two.Headings)
	assert.Len(t, first("Bees", "", quiz.Porcelain), 2)
}

// A quiz in another script is written with its typeface, or with one like it where that has no
// such letters; pages of others say nothing of it.
func TestATypefaceForEachScript(t *testing.T) {
	css := func(title string, face quiz.Typeface) string {
		q := &quiz.Quiz{Title: "Bees", Look: &quiz.Look{Typeface: face},
			Translations: map[string]quiz.Translations{"uk": {quiz.At("title"): {Text: title}}}}
		return typefaces(look.Of(q.Look), q)
	}
	for _, face := range quiz.Typefaces {
		for title, part := range map[string]string{"Бджоли": "cyrillic", "Ғалам": "cyrillic-ext", "Μέλισσες": "greek"} {
			assert.NotContains(t, css("Łąka", face), part+".woff2", face)
			file := regexp.MustCompile(`[\w-]+-` + part + `\.woff2`).FindString(css(title, face))
			assert.True(t, assets.Has(file), file)
		}
	}
	assert.Contains(t, css("Μέλισσες", quiz.Fraunces), `"fraunces";src:url("/assets/literata-greek.woff2`)
	assert.Contains(t, css("Бджоли", quiz.Atkinson), `"atkinson";src:url("/assets/commissioner-cyrillic.woff2`)
	assert.Contains(t, css("Бджоли", quiz.Shantell), `"shantell";src:url("/assets/shantell-sans-cyrillic.woff2`)
}

// A tab wears the colours of the look that is seen, and nothing is asked for on its behalf.
func TestATabWearsTheLook(t *testing.T) {
	d := dressOf(&quiz.Quiz{Look: &quiz.Look{Made: quiz.Porcelain}})
	svg, err := url.PathUnescape(strings.TrimPrefix(string(d.Icon()), "data:image/svg+xml,"))
	require.NoError(t, err)
	assert.Contains(t, svg, `stroke="`+d.Light.Accent+`"`)
	d = dressOf(&quiz.Quiz{Look: &quiz.Look{Made: quiz.Porcelain, Scheme: quiz.DarkOnly}})
	assert.Contains(t, string(d.Icon()), url.PathEscape(d.Dark.Accent))
}

// Each character is in one file of a typeface, and the studio's style sheet says so as letters.json.
func TestEachLetterIsInOneFile(t *testing.T) {
	for r := rune(0x20); r < 0xffff; r++ {
		in := 0
		for _, l := range assets.Letterings {
			if l.Has(r) {
				in++
			}
		}
		require.LessOrEqual(t, in, 1, "U+%04X", r)
	}
	css, err := os.ReadFile("../assets/src/faces.css")
	require.NoError(t, err)
	spaces := regexp.MustCompile(`\s+`)
	for _, l := range assets.Letterings {
		assert.Contains(t, spaces.ReplaceAllString(string(css), ""),
			"commissioner-"+l.Part+`.woff2")format("woff2");font-weight:400800;font-display:optional;`)
		assert.Contains(t, spaces.ReplaceAllString(string(css), ""), "unicode-range:"+l.Ranges+";")
	}
}
