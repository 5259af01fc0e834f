package desk

import (
	"maps"
	"net/url"
	"slices"
	"strings"

	"omphalos/store/slice"
)

// A Facet is a part of a sentence of filters with what can be chosen there.
type Facet struct {
	Field   string
	Words   string
	Set     bool
	Options []Option
	Hidden  []Hidden // the other fields of the address
	Clear   string   // address without it

	Before string // what is said before the names that are chosen
}

// Offer fills in what can be chosen, and says what is: also what nobody has, or few, and so is none of
// the options.
func (f *Facet) Offer(options []Option, chosen []string, named func(value string) string) {
	var names []string
	for _, o := range options {
		if o.Chosen = slices.Contains(chosen, o.Value); o.Chosen {
			names = append(names, o.Name)
		}
		f.Options = append(f.Options, o)
	}
	for _, value := range chosen {
		if !slices.ContainsFunc(f.Options, func(o Option) bool { return o.Value == value }) {
			f.Options = append(f.Options, Option{Value: value, Name: named(value), Chosen: true})
			names = append(names, named(value))
		}
	}
	if f.Set = len(chosen) > 0; f.Set {
		f.Words = f.Before + strings.Join(names, " or ")
	}
}

// Recents are the last days by the addresses of a sentence with some fields, and any time.
func Recents(fields url.Values, at func(url.Values) string) []Option {
	last, others := fields.Get("last"), maps.Clone(fields)
	any := Option{Name: "any time", Chosen: true}
	for _, field := range slice.DayFields {
		any.Chosen = any.Chosen && !fields.Has(field)
		others.Del(field)
	}
	any.Value = at(others)
	var list []Option
	for _, days := range []string{"7", "30", "90"} {
		with := maps.Clone(others)
		with.Set("last", days)
		list = append(list, Option{Value: at(with), Name: "the last " + days + " days", Chosen: last == days})
	}
	return append(list, any)
}

// An Option of a facet, with how many there are.
type Option struct {
	Value, Name string
	Count       int
	Chosen      bool
}

// A Hidden field goes along with a form.
type Hidden struct{ Name, Value string }
