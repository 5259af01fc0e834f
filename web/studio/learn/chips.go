package learn

import (
	"strconv"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store/slice"
)

// A chip is a part of the sentence that was added by a press on a figure.
type chip struct{ Words, Drop string }

// chips are the parts about answers and scores, in the order of the address.
func (s *sentence) chips() []chip {
	var list []chip
	for _, field := range slice.Fields(s.Asked) {
		kind, key, _ := strings.Cut(field, ".")
		values := s.Asked[field]
		switch kind {
		case "answer":
			key, row, _ := strings.Cut(key, ".")
			list = append(list, chip{"who answered " + s.answers(key, values) + " to " + s.question(key, row), s.without(field)})
		case "amount":
			list = append(list, chip{"who answered " + rangeWords(values[0]) + " to " + s.question(key, ""), s.without(field)})
		case "score":
			name := key
			if scale := s.quiz.Scales[key]; scale != nil {
				name = scale.Name
			}
			list = append(list, chip{"with " + name + " " + rangeWords(values[0]), s.without(field)})
		}
	}
	return list
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

func (s *sentence) answers(key string, values []string) string {
	names := make([]string, len(values))
	for i, value := range values {
		names[i] = value
		if asked := s.quiz.Questions[key]; asked != nil && asked.Answers[value] != nil {
			names[i] = "“" + asked.Answers[value].Label + "”"
		}
	}
	return strings.Join(names, " or ")
}

// rangeWords says "10..18" as it is read.
func rangeWords(text string) string {
	low, high, _ := strings.Cut(text, "..")
	if low == high {
		return low
	}
	return low + " to " + high
}

// timeWords says the days of the sentence.
func (s *sentence) timeWords() string {
	from, to := s.Asked.Get("from"), s.Asked.Get("to")
	switch {
	case from == "" && to == "":
		return "of any time"
	case to == "":
		return "since " + from
	case from == "":
		return "until " + to
	case from == to:
		return "of " + from
	}
	return "from " + from + " to " + to
}

// A span of time that is often asked for.
type recent struct {
	Words, Address string
	Chosen         bool
}

// recents are the last days, counted from today.
func (s *sentence) recents(today decimal.Decimal) []recent {
	var list []recent
	for _, n := range []int64{7, 30, 90} {
		from := quiz.DayText(today - decimal.FromInt(n-1))
		fields := s.clone()
		fields.Set("from", from)
		fields.Del("to")
		list = append(list, recent{
			"the last " + strconv.FormatInt(n, 10) + " days", s.at(fields),
			s.Asked.Get("from") == from && !s.Asked.Has("to"),
		})
	}
	return append(list, recent{"any time", s.without("from", "to"), !s.Asked.Has("from") && !s.Asked.Has("to")})
}
