package quiz

import (
	"bytes"
	"encoding/json"
	"fmt"

	"omphalos/core/decimal"
)

// A Condition is a group (exactly one of All, Any, None, One) or a clause (a
// Subject and a Test).
type Condition struct {
	All  []*Condition `json:"all,omitzero"`
	Any  []*Condition `json:"any,omitzero"`
	None []*Condition `json:"none,omitzero"`
	One  []*Condition `json:"one,omitzero"` // exactly one of them holds
	Subject
	Test
}

// Group returns the parts of a group and "all", "any", "none" or "one"; for a clause "".
func (c *Condition) Group() (how string, parts []*Condition) {
	switch {
	case c.All != nil:
		return "all", c.All
	case c.Any != nil:
		return "any", c.Any
	case c.None != nil:
		return "none", c.None
	case c.One != nil:
		return "one", c.One
	}
	return "", nil
}

// A Subject is what a clause looks at: exactly one of the five.
type Subject struct {
	Answer  string `json:"answer,omitempty"` // a question's key
	Row     string `json:"row,omitempty"`    // of a grid
	Scale   string `json:"scale,omitempty"`
	Visitor string `json:"visitor,omitempty"` // a fact, see Facts
	Outcome bool   `json:"outcome,omitempty"` // the outcome itself: in landings and later

	Standing bool `json:"standing,omitempty"` // of the outcome: in landings and later
}

// OfCountry tells whether a subject is a country: the visitor's, or what a question asks for.
func (q *Quiz) OfCountry(s Subject) bool {
	if s.Visitor == "country" {
		return true
	}
	asked := q.Ask(s.Answer)
	return s.Answer != "" && asked != nil && asked.Kind == Country
}

// A Test compares the subject.
type Test struct {
	Op    Op     `json:"op,omitempty"`
	Value *Value `json:"value,omitempty"`
}

// Op is how a test compares.
type Op string

// The operators. Comparing with something not answered is false, but for
// IsNot and IsSkipped.
const (
	Is         Op = "is"
	IsNot      Op = "is not"
	IsOneOf    Op = "is one of" // several picks: at least one of them
	Includes   Op = "includes"  // several picks: all that are named
	AtLeast    Op = "at least"
	AtMost     Op = "at most"
	MoreThan   Op = "more than"
	LessThan   Op = "less than"
	Between    Op = "between"  // both ends included
	Contains   Op = "contains" // a text, upper and lower case alike
	IsAnswered Op = "is answered"
	IsSkipped  Op = "is skipped"
)

// Ops lists every operator.
var Ops = []Op{
	Is,
	IsNot,
	IsOneOf,
	Includes,
	AtLeast,
	AtMost,
	MoreThan,
	LessThan,
	Between,
	Contains,
	IsAnswered,
	IsSkipped,
}

// Facts are the visitor's properties that a condition or a fill-in may name,
// beside "query.NAME" for a named parameter of the address.
var Facts = []string{
	"country",
	"language",
	"device",
	"referrer",
	"source",
	"medium",
	"campaign",
	"term",
	"content",
	"date",
	"time",
	"weekday",
}

// A Value is what a test compares with: one string or number, or a list.
type Value struct {
	Items []Item
	List  bool
}

// An Item is a number or a string.
type Item struct {
	Text   string
	Number decimal.Decimal
	IsText bool
}

// Words returns the Value of one string.
func Words(s string) *Value { return &Value{Items: []Item{{Text: s, IsText: true}}} }

// Amount returns the Value of one number.
func Amount(d decimal.Decimal) *Value { return &Value{Items: []Item{{Number: d}}} }

// ListOf returns the Value that lists the items of others.
func ListOf(values ...*Value) *Value {
	list := &Value{List: true}
	for _, v := range values {
		list.Items = append(list.Items, v.Items...)
	}
	return list
}

// String returns the item as it is read aloud.
func (i Item) String() string {
	if i.IsText {
		return i.Text
	}
	return i.Number.String()
}

// MarshalJSON writes a string or a number.
func (i Item) MarshalJSON() ([]byte, error) {
	if i.IsText {
		return json.Marshal(i.Text)
	}
	return i.Number.MarshalJSON()
}

// UnmarshalJSON reads a string or a number.
func (i *Item) UnmarshalJSON(b []byte) error {
	if len(b) > 0 && b[0] == '"' {
		*i = Item{IsText: true}
		return json.Unmarshal(b, &i.Text)
	}
	*i = Item{}
	if len(b) == 0 || (b[0] != '-' && (b[0] < '0' || b[0] > '9')) {
		return fmt.Errorf("%s is neither words in quotation marks nor a number", bytes.TrimSpace(b))
	}
	return i.Number.UnmarshalJSON(b)
}

// MarshalJSON writes a string, a number or an array of them.
func (v Value) MarshalJSON() ([]byte, error) {
	if v.List {
		if v.Items == nil {
			return []byte("[]"), nil
		}
		return json.Marshal(v.Items)
	}
	if len(v.Items) != 1 {
		return []byte("null"), nil
	}
	return v.Items[0].MarshalJSON()
}

// UnmarshalJSON reads what MarshalJSON writes.
func (v *Value) UnmarshalJSON(b []byte) error {
	if b = bytes.TrimSpace(b); len(b) > 0 && b[0] == '[' {
		*v = Value{List: true}
		return json.Unmarshal(b, &v.Items)
	}
	*v = Value{Items: make([]Item, 1)}
	return json.Unmarshal(b, &v.Items[0])
}
