package finding

import (
	"slices"

	"omphalos/core/quiz"
)

// keyOf returns the last part of a pointer that is a key, which no field name is.
func keyOf(pointer quiz.Pointer) string {
	parts := pointer.Keys()
	kinds := []string{
		"sections",
		"questions",
		"answers",
		"rows",
		"scales",
		"steps",
		"rules",
		"columns",
		"cuts",
		"contenders",
		"outcomes",
		"landings",
		"blocks",
		"fields",
		"fees",
		"brackets",
		"then",
		"weigh",
		"rehearsals",
		"followUps",
	}
	for i := len(parts) - 1; i > 0; i-- {
		if slices.Contains(kinds, parts[i-1]) {
			return parts[i]
		}
	}
	return ""
}

// ranks orders pointers as the sheet does.
func (f *finder) ranks() func(pointer quiz.Pointer) int {
	rooms := []string{"title", "look", "opening", "sections", "questions", "scales", "decision", "outcomes",
		"contact", "followUps", "rehearsals"}
	place := map[string]int{}
	for i, k := range f.q.QuestionKeys() {
		place["questions/"+k] = i + 1
	}
	for i, k := range quiz.InOrder(f.q.Outcomes) {
		place["outcomes/"+k] = i + 1
	}
	return func(pointer quiz.Pointer) int {
		keys := append(pointer.Keys(), "", "")
		room := slices.Index(rooms, keys[0])
		if room < 0 {
			room = len(rooms)
		}
		return room*10000 + place[keys[0]+"/"+keys[1]]
	}
}
