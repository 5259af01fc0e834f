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
	}
}
