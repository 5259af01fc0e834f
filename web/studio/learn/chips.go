package learn

import (
	"cmp"
	"strings"

	"omphalos/core/atlas"
	"omphalos/core/quiz"
	"omphalos/store/slice"
	"omphalos/web/studio/desk"
)

// chips are the parts about answers and scores, in the order of the address.
func (s *sentence) chips() []desk.Chip {
	var list []desk.Chip
	for _, field := range slice.Fields(s.Asked) {
		if words := s.said(field, s.Asked[field]); words != "" {
			list = append(list, desk.Chip{Words: words, Drop: s.without(field)})
		}
	}
	return list
}

// said says a part about answers or scores, "" where the field is of another kind.
func (s *sentence) said(field string, values []string) string {
	kind, key, _ := strings.Cut(field, ".")
	switch kind {
	case "answer":
		key, row, _ := strings.Cut(key, ".")
		names := make([]string, len(values))
		for i, value := range values {
			names[i] = "“" + s.answer(key, value) + "”"
		}
		return "who answered " + strings.Join(names, " or ") + " to " + s.question(key, row)
	case "amount":
		return "who answered " + rangeWords(values[0]) + " to " + s.question(key, "")
	case "score":
		name := key
		if scale := s.quiz.Scales[key]; scale != nil {
			name = scale.Name
		}
		return "with " + name + " " + rangeWords(values[0])
	}
	return ""
}

// answer is what an answer to a question is called: by its words, of a country by its name, of
// a place by that of its row.
func (s *sentence) answer(key, value string) string {
	asked := s.quiz.Questions[key]
	switch {
	case asked == nil:
	case asked.Answers[value] != nil:
		return asked.Answers[value].Label
	case asked.Kind == quiz.Country:
		return atlas.Name(value, "en")
	case asked.Kind == quiz.Location:
		return cmp.Or(s.place(asked.Table, value), value)
	}
	return value
}

func (s *sentence) question(key, row string) string {
	asked := s.quiz.Questions[key]
	if asked == nil {
		return "“" + key + "”"
	}
	if r := asked.Rows[row]; r != nil {
		return "“" + asked.Label + "” for “" + r.Label + "”"
	}
	return "“" + asked.Label + "”"
}

// rangeWords says "10..18" as it is read.
func rangeWords(text string) string {
	low, high, _ := strings.Cut(text, "..")
	if low == high {
		return low
	}
	return low + " to " + high
}
