package postcard

import (
	"bytes"
	"embed"
	"fmt"
	"io/fs"
	"strings"
	"sync"
	"unicode"

	"github.com/go-text/typesetting/font"
	ot "github.com/go-text/typesetting/font/opentype"
	"golang.org/x/text/unicode/norm"

	"omphalos/core/look"
	"omphalos/core/quiz"
)

//go:embed fonts/*.ttf
var files embed.FS

// The files of each typeface: one for each part of the letters that it has, the Latin ones
// first. Others are of scripts that none of them has.
var (
	typefaces = map[quiz.Typeface]string{
		quiz.Commissioner: "commissioner", quiz.Literata: "literata", quiz.Atkinson: "atkinson-hyperlegible-next",
		quiz.Fraunces: "fraunces", quiz.Bricolage: "bricolage-grotesque", quiz.Shantell: "shantell-sans",
	}
	parts  = []string{"latin", "latin-ext", "vietnamese", "greek", "cyrillic", "cyrillic-ext"}
	others = []string{"noto-sans-hebrew-hebrew", "noto-sans-arabic-arabic"}
)

// filesOf returns those of a typeface, of the one that is taken instead, and the others.
func filesOf(name quiz.Typeface) []string {
	var list []string
	for _, name := range []quiz.Typeface{name, look.Instead(name)} {
		for _, part := range parts {
			file := typefaces[name] + "-" + part
			if _, err := fs.Stat(files, pathOf(file)); err == nil {
				list = append(list, file)
			}
		}
	}
	return append(list, others...)
}

func pathOf(file string) string { return "fonts/" + file + ".ttf" }

// parsed fonts by file; they are read once.
var parsed sync.Map

func read(file string) *font.Font {
	if known, there := parsed.Load(file); there {
		return known.(*font.Font)
	}
	data, err := files.ReadFile(pathOf(file))
	if err != nil {
		panic("postcard: " + err.Error()) // it ships with it
	}
	face, err := font.ParseTTF(bytes.NewReader(data))
	if err != nil {
		panic(fmt.Sprintf("postcard: reading %s: %v", file, err))
	}
	parsed.Store(file, face.Font)
	return face.Font
}

// weightAxis is the axis of variable fonts along which they become heavier (OpenType, fvar).
var weightAxis = ot.MustNewTag("wght")

// A wardrobe is the faces that words are set in: that of the look first.
type wardrobe []*font.Face

func wardrobeOf(name quiz.Typeface, weight float32) wardrobe {
	var w wardrobe
	for _, file := range filesOf(name) {
		face := font.NewFace(read(file))
		face.SetVariations([]font.Variation{{Tag: weightAxis, Value: weight}})
		w = append(w, face)
	}
	return w
}

// ResolveFace returns the first face that has a character.
func (w wardrobe) ResolveFace(r rune) *font.Face {
	for _, face := range w {
		if _, has := face.NominalGlyph(r); has {
			return face
		}
	}
	return w[0]
}

// Writes tells whether words can be written on a card: whether all their letters are of a script
// that a typeface has.
func Writes(words string) bool {
	return strings.TrimSpace(words) == "" || wardrobeOf(quiz.Commissioner, 400).written(words) != ""
}

// written returns words as they can be written. Signs that no face has, such as emoji, are left
// out; words with a letter that none has are left out altogether, since the rest would be broken.
func (w wardrobe) written(words string) string {
	var kept strings.Builder
	last := ' '
	for _, r := range norm.NFC.String(words) {
		_, has := w.ResolveFace(r).NominalGlyph(r)
		switch joiner := '\u200b' <= r && r <= '\u200d'; {
		case joiner && !unicode.IsLetter(last): // it stood among signs that are gone
		case has || unicode.IsSpace(r):
			kept.WriteRune(r)
			last = r
		case unicode.In(r, unicode.Letter, unicode.Nd):
			return ""
		}
	}
	return strings.Join(strings.Fields(kept.String()), " ")
}
