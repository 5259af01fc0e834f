package desk

import (
	"slices"
	"strings"
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

// An Option of a facet, with how many there are.
type Option struct {
	Value, Name string
	Count       int
	Chosen      bool
}

// A Hidden field goes along with a form.
type Hidden struct{ Name, Value string }
