package finding

import (
	"maps"
	"slices"

	"omphalos/core/quiz"
)

// languages notes what a quiz does not say in the languages that it is in, and what it may say
// otherwise by now.
func (f *finder) languages() {
	for _, in := range slices.Sorted(maps.Keys(f.q.Translations)) {
		at, name := quiz.At("translations", in), quiz.LanguageName(in)
		missing, old := f.q.Gaps(in)
		if missing == 1 {
			f.note("untranslated", at, nil, "text-missing", name)
		} else if missing > 1 {
			f.note("untranslated", at, nil, "texts-missing", missing, name)
		}
		if old == 1 {
			f.note("translation-old", at, nil, "text-old", name)
		} else if old > 1 {
			f.note("translation-old", at, nil, "texts-old", old, name)
		}
		f.products(in, name)
	}
}

// products notes products that a landing can show and that say nothing in a language.
func (f *finder) products(in, name string) {
	if f.outside.Unsaid == nil {
		return
	}
	for _, key := range quiz.InOrder(f.q.Outcomes) {
		landings := f.q.Outcomes[key].Landings
		for _, l := range quiz.InOrder(landings) {
			if landings[l].Products == nil {
				continue
			}
			at := quiz.At("outcomes", key, "landings", l, "products")
			switch unsaid := f.outside.Unsaid(landings[l].Products, in); unsaid {
			case 0:
			case 1:
				f.note("product-untranslated", at, nil, "product-unsaid", name)
			default:
				f.note("product-untranslated", at, nil, "products-unsaid", unsaid, name)
			}
		}
	}
}
