package leads

import (
	"cmp"
	"strconv"

	"omphalos/core/atlas"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
)

// facets are the parts of the sentence, in their order.
var facets = []struct {
	kind tally.Kind
	any  string // what the sentence says where none is chosen
	one  string // what it says before those that are
	rare bool   // it is offered where all parts are asked for
}{
	{tally.Quiz, "of all quizzes", "of ", false},
	{tally.Standing, "of any standing", "that are ", false},
	{tally.Outcome, "with any outcome", "with ", true},
	{tally.State, "in any state", "that are ", false},
	{tally.Owner, "in anybody’s hands", "in the hands of ", false},
	{tally.Next, "whenever due", "due ", false},
	{tally.Source, "from any source", "from ", false},
	{tally.Country, "in any country", "in ", false},
	{tally.Reach, "with any score", "in the ", true},
	{tally.Medium, "by any medium", "by ", true},
	{tally.Campaign, "of any campaign", "of ", true},
	{tally.Language, "in any language", "in ", true},
	{tally.Device, "on any device", "on a ", true},
}

// more tells whether all parts of the sentence are asked for.
func (in *sentence) more() bool { return in.fields.Get("parts") == "all" }

// spans are the values of parts that are ranges, with what they are called.
var spans = map[tally.Kind][]struct{ value, name string }{
	tally.Next: {{"due", "today or before"}, {"week", "within a week"}, {"later", "later"}},
	tally.Reach: {{"750..1000", "highest quarter of scores"}, {"500..1000", "upper half of scores"},
		{"0..499", "lower half of scores"}},
}

const mostOptions = 40

// facets are the parts of the sentence: those that tell leads apart, and those that are set.
func (in *sentence) facets(t *tally.Tally, slice tally.Slice, found []int) []desk.Facet {
	var list []desk.Facet
	for _, f := range facets {
		field := string(f.kind)
		chosen := in.fields[field]
		if f.rare && len(chosen) == 0 && !in.more() {
			continue
		}
		others := slice
		if len(chosen) > 0 {
			others = in.slice(t, found, field)
		}
		counts := in.counts(f.kind, others)
		if len(chosen) == 0 && (len(counts) == 0 ||
			len(counts) == 1 && !f.kind.Column() && counts[0].Count == others.Count()) {
			continue
		}
		one := desk.Facet{Field: field, Words: f.any, Hidden: in.hide(field), Clear: in.without(field), Before: f.one}
		var options []desk.Option
		for _, c := range counts[:min(len(counts), mostOptions)] {
			options = append(options, desk.Option{Value: c.Value, Name: in.named(f.kind, c.Value), Count: c.Count})
		}
		one.Offer(options, chosen, func(value string) string { return in.named(f.kind, value) })
		list = append(list, one)
	}
	return list
}

// counts are the values of a part with how many leads have them.
func (in *sentence) counts(kind tally.Kind, of tally.Slice) []tally.Count {
	property := tally.Property{Kind: kind}
	if !kind.Column() {
		return of.Split(property)
	}
	var list []tally.Count
	for _, s := range spans[kind] {
		from, to, _ := in.span(kind, s.value)
		if n := of.And(tally.Part{Of: property, From: from, To: to}).Count(); n > 0 {
			list = append(list, tally.Count{Value: s.value, Count: n})
		}
	}
	return list
}

// named is what a value is called.
func (in *sentence) named(kind tally.Kind, value string) string {
	for _, s := range spans[kind] {
		if s.value == value {
			return s.name
		}
	}
	switch id, _ := strconv.ParseUint(value, 10, 64); kind {
	case tally.Quiz:
		return "“" + cmp.Or(in.quizzes[uint(id)], "a quiz that is deleted") + "”"
	case tally.Outcome:
		return "“" + cmp.Or(in.outcomes[value], value) + "”"
	case tally.Owner:
		return in.nameOf(uint(id))
	case tally.State:
		return in.settings.State(value).Name
	case tally.Country:
		return atlas.Name(value, "en")
	}
	return value
}

// nameOf is what a user is called.
func (in *sentence) nameOf(user uint) string {
	if user == 0 {
		return "nobody"
	}
	return cmp.Or(in.names[user], "somebody who has left")
}
