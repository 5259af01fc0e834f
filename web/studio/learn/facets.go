package learn

import (
	"slices"
	"strconv"

	"golang.org/x/text/language"
	"golang.org/x/text/language/display"

	"omphalos/core/atlas"
	"omphalos/store/slice"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
)

// facets are the parts of the sentence that every quiz has, in their order.
var facets = []struct {
	kind tally.Kind
	any  string // what the sentence says where none is chosen
	one  string // what it says before those that are
}{
	{tally.Release, "to any release", "to "},
	{tally.Source, "from any source", "from "},
	{tally.Medium, "by any medium", "by "},
	{tally.Campaign, "of any campaign", "of "},
	{tally.Device, "on any device", "on a "},
	{tally.Country, "in any country", "in "},
	{tally.Language, "in any language", "in "},
	{tally.Outcome, "with any outcome", "with "},
	{tally.Contact, "with or without a contact", "with "},
	{tally.Pressed, "whatever they pressed", "who pressed "},
}

// hide lists all fields of the address but some.
func (s *sentence) hide(but ...string) []desk.Hidden {
	var list []desk.Hidden
	fields := s.clone()
	for _, field := range slice.Fields(fields) {
		if slices.Contains(but, field) {
			continue
		}
		for _, value := range fields[field] {
			list = append(list, desk.Hidden{Name: field, Value: value})
		}
	}
	return list
}

// mostOptions is how many values of a part can be chosen where it stands.
const mostOptions = 24

// facets are the parts of the sentence: those that tell responses apart, and those that are
// set.
func (s *sentence) facets(t *tally.Tally, in tally.Slice) []desk.Facet {
	var list []desk.Facet
	for _, f := range facets {
		field := string(f.kind)
		others := in
		if s.Asked.Has(field) {
			others = t.Slice(s.All(field)...)
		}
		counts := others.Split(tally.Property{Kind: f.kind})
		chosen := s.Asked[field]
		alike := len(counts) == 0 || len(counts) == 1 && counts[0].Count == others.Count()
		if alike && len(chosen) == 0 {
			continue
		}
		one := desk.Facet{Field: field, Words: f.any, Hidden: s.hide(field), Clear: s.without(field), Before: f.one}
		var options []desk.Option
		for _, c := range counts[:min(len(counts), mostOptions)] {
			value, name := s.named(f.kind, c.Value)
			options = append(options, desk.Option{Value: value, Name: name, Count: c.Count})
		}
		one.Offer(options, chosen, func(value string) string { return s.asking(f.kind, value) })
		list = append(list, one)
	}
	return list
}

// asking is the name of a value as it stands in the address.
func (s *sentence) asking(kind tally.Kind, value string) string {
	if kind == tally.Release {
		return "release " + value
	}
	_, name := s.named(kind, value)
	return name
}

// named returns the value that stands in the address and its name.
func (s *sentence) named(kind tally.Kind, value string) (asked, name string) {
	switch kind {
	case tally.Release:
		for _, r := range s.releases {
			if strconv.FormatUint(uint64(r.ID), 10) == value {
				return strconv.Itoa(r.Number), "release " + strconv.Itoa(r.Number)
			}
		}
	case tally.Outcome:
		if o := s.quiz.Outcomes[value]; o != nil && o.Name != "" {
			return value, "“" + o.Name + "”"
		}
	case tally.Contact:
		return value, "a contact"
	case tally.Pressed:
		return value, "“" + s.quiz.Button(value) + "”"
	case tally.Country:
		return value, atlas.Name(value, "en")
	case tally.Language:
		if tag, err := language.Parse(value); err == nil {
			return value, display.English.Tags().Name(tag)
		}
	}
	return value, value
}
