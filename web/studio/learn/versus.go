package learn

import (
	"net/url"
	"slices"
	"strings"

	"omphalos/core/quiz"
	"omphalos/store/slice"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
)

// A slice is compared with another that the address names beside it: vs=others are all that
// are not in it, vs=before those of as many days before it, and vs.source=search those that
// have another value of a part of the sentence. Whoever is in the slice is not in the other.

// against reads the other slice of a sentence; its field and value, which are "" for none.
func (s *sentence) against(query url.Values) {
	for _, field := range slice.Fields(query) {
		value := query.Get(field)
		if field != "vs" && !strings.HasPrefix(field, "vs.") || value == "" {
			continue
		}
		_, before := s.before()
		of := strings.TrimPrefix(field, "vs.")
		switch {
		case value == "others" && field == "vs" && len(s.Parts) > 0, value == "before" && field == "vs" && before:
		case field != "vs" && s.Asked.Has(of) && !slices.Contains(slice.DayFields, of) &&
			s.other(of, value).Parts[of].Of.Kind != "":
		default:
			continue
		}
		s.versus, s.value = field, value
		return
	}
}

// other is the sentence with another value of a field.
func (s *sentence) other(field, value string) slice.Slice {
	fields := url.Values{}
	for f, values := range s.Asked {
		fields[f] = values
	}
	fields[field] = []string{value}
	read, _ := slice.Read(s.days, s.releases, fields)
	return read
}

// before is the sentence of as many days before those that it names, and whether it names
// both ends.
func (s *sentence) before() (slice.Slice, bool) {
	fields, dated := s.days.Before(s.Asked)
	if !dated {
		return slice.Slice{}, false
	}
	read, _ := slice.Read(s.days, s.releases, fields)
	return read, true
}

// those returns the responses of the other slice.
func (s *sentence) those(t *tally.Tally, in tally.Slice) tally.Slice {
	switch s.value {
	case "others":
		return t.Slice().Without(in)
	case "before":
		read, _ := s.before()
		return t.Slice(read.All()...).Without(in)
	}
	return t.Slice(s.other(strings.TrimPrefix(s.versus, "vs."), s.value).All()...).Without(in)
}

// A versus is a slice that this one can be compared with.
type versus struct {
	Words, Address string
	Chosen         bool
}

// mostVersus is how many other values of a part are offered, mostOffers how many altogether.
const (
	mostVersus = 6
	mostOffers = 60
)

// offers are the slices that this one can be compared with. Where it is all responses, it is
// one part of them against the others.
func (s *sentence) offers(list []desk.Facet) []versus {
	var offers []versus
	offer := func(words, field, value string, fields url.Values) {
		fields.Set(field, value)
		offers = append(offers, versus{words, s.at(fields), s.versus == field && s.value == value})
	}
	if len(s.Parts) > 0 {
		offer("with all others", "vs", "others", s.alone())
	}
	if _, dated := s.before(); dated {
		offer("with as many days before", "vs", "before", s.alone())
	}
	for _, f := range list {
		chosen := s.Asked[f.Field]
		for _, o := range f.Options[:min(len(f.Options), mostVersus)] {
			switch {
			case len(s.Parts) == 0:
				fields := url.Values{f.Field: {o.Value}}
				offer(f.Before+o.Name+" with all others", "vs", "others", fields)
			case len(chosen) > 0 && !slices.Contains(chosen, o.Value):
				offer("with those "+f.Before+o.Name, "vs."+f.Field, o.Value, s.alone())
			}
		}
	}
	for _, field := range slice.Fields(s.Asked) {
		key, ofAnswers := strings.CutPrefix(field, "answer.")
		if asked := s.quiz.Questions[key]; ofAnswers && asked != nil {
			for _, answer := range quiz.InOrder(asked.Answers) {
				if !slices.Contains(s.Asked[field], answer) {
					offer("with those "+s.said(field, []string{answer}), "vs."+field, answer, s.alone())
				}
			}
		}
	}
	return offers[:min(len(offers), mostOffers)]
}

// versusWords says what the slice is compared with.
func (s *sentence) versusWords(list []desk.Facet) string {
	switch s.value {
	case "others":
		return "all others"
	case "before":
		other, _ := s.before()
		return "those " + s.days.Words(other.Asked)
	}
	field := strings.TrimPrefix(s.versus, "vs.")
	for _, f := range list {
		if f.Field != field {
			continue
		}
		for _, o := range f.Options {
			if o.Value == s.value {
				return "those " + f.Before + o.Name
			}
		}
		return "those " + f.Before + s.asking(tally.Kind(field), s.value)
	}
	return "those " + s.said(field, []string{s.value})
}
