package desk

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

// An Option of a facet, with how many there are.
type Option struct {
	Value, Name string
	Count       int
	Chosen      bool
}

// A Hidden field goes along with a form.
type Hidden struct{ Name, Value string }
