package player

import (
	"fmt"
	"slices"
	"strings"

	"omphalos/core/look"
	"omphalos/core/quiz"
	"omphalos/web/assets"
)

// A face is a typeface as it ships: the files it is in, and what is taken where it has not
// come yet.
type face struct{ file, instead string }

var faces = map[quiz.Typeface]face{
	quiz.Commissioner: {"commissioner", "system-ui,sans-serif"},
	quiz.Literata:     {"literata", "Georgia,serif"},
	quiz.Atkinson:     {"atkinson-hyperlegible-next", "system-ui,sans-serif"},
	quiz.Fraunces:     {"fraunces", "Georgia,serif"},
	quiz.Bricolage:    {"bricolage-grotesque", "system-ui,sans-serif"},
	quiz.Shantell:     {"shantell-sans", "system-ui,sans-serif"},
}

// typefaces writes the typefaces of texts and headings, with the scripts that a quiz is written
// in, in whichever of its languages. A browser waits for them a tenth of a
// second at the most; words are never moved by one that comes later: it is worn from the next
// page on.
func typefaces(d look.Dress, q *quiz.Quiz) string {
	css, words := "", string(q.Write())
	for _, name := range worn(d) {
		for _, l := range assets.Letterings {
			if !l.Always && !strings.ContainsFunc(words, l.Has) {
				continue
			}
			css += fmt.Sprintf(`@font-face{font-family:%q;src:url(%q) format("woff2");`+
				`font-weight:400 800;font-display:optional;unicode-range:%s}`,
				string(name), lettered(name, l), l.Ranges)
		}
	}
	family := func(name quiz.Typeface) string { return fmt.Sprintf("%q,%s", string(name), faces[name].instead) }
	return css + ":root{--font-text:" + family(d.Typeface) + ";--font-head:" + family(d.Headings) + "}"
}

// lettered returns the address of the file that has the letters of a typeface; of the typeface
// that is taken instead where it has none of these.
func lettered(name quiz.Typeface, l assets.Lettering) string {
	file := func(name quiz.Typeface) string { return faces[name].file + "-" + l.Part + ".woff2" }
	if !assets.Has(file(name)) {
		name = look.Instead(name)
	}
	return assets.Path(file(name))
}

// worn are the typefaces of texts and headings, one or two.
func worn(d look.Dress) []quiz.Typeface {
	return slices.Compact([]quiz.Typeface{d.Typeface, d.Headings})
}

// fetchedFirst returns the addresses of the files that the words of a quiz need, in the language
// it is in: the first of each typeface always, the others where it has such letters.
func fetchedFirst(d look.Dress, q *quiz.Quiz) []string {
	words := writtenWith(q)
	var list []string
	for _, name := range worn(d) {
		for i, l := range assets.Letterings {
			if i == 0 || strings.ContainsFunc(words, l.Has) {
				list = append(list, lettered(name, l))
			}
		}
	}
	return list
}

// writtenWith is all that a quiz says in its own language, and what we say beside it.
func writtenWith(q *quiz.Quiz) string {
	alone := *q
	alone.Translations = nil
	words := string(alone.Write())
	if q.Settings != nil {
		for _, said := range spoken.words[tongue(q.Settings.Language).known()] {
			words += said
		}
	}
	return words
}
