// Package card writes people as vCards (RFC 6350), which address books and telephones read.
package card

import (
	"cmp"
	"fmt"
	"io"
	"strings"

	"github.com/emersion/go-vcard"
)

// A Card is somebody as an address book has them. What is "" is left out.
type Card struct {
	UID           string // the same for the same person, however often they are taken over
	Name, Company string
	Email, Phone  string
	Country, Note string
	Revised       string // as 20261126T091500Z
	Categories    []string
}

// Write writes cards one after the other, version 4.0.
func Write(to io.Writer, cards ...Card) error {
	out := vcard.NewEncoder(to)
	for _, c := range cards {
		if err := out.Encode(c.fields()); err != nil {
			return fmt.Errorf("writing the card of %s: %w", c.UID, err)
		}
	}
	return nil
}

func (c Card) fields() vcard.Card {
	v := vcard.Card{}
	called := ""
	for _, words := range []string{c.Name, c.Company, c.Email, c.Phone, "Nobody"} { // a card has to be called something
		called = cmp.Or(called, line(words))
	}
	v.SetValue(vcard.FieldFormattedName, called)
	if name := line(c.Name); name != "" {
		v.SetName(nameOf(name))
	}
	set := func(field, value string) {
		if value = line(value); value != "" {
			v.SetValue(field, value)
		}
	}
	set(vcard.FieldUID, c.UID)
	set(vcard.FieldOrganization, structured(c.Company))
	set(vcard.FieldEmail, c.Email)
	if line(c.Phone) != "" {
		v.Add(vcard.FieldTelephone, &vcard.Field{Value: "tel:" + strings.ReplaceAll(line(c.Phone), " ", "-"),
			Params: vcard.Params{"VALUE": {"uri"}}})
	}
	if line(c.Country) != "" {
		v.AddAddress(&vcard.Address{Country: line(c.Country)})
	}
	if len(c.Categories) > 0 {
		v.SetCategories(c.Categories)
	}
	set(vcard.FieldRevision, c.Revised)
	if c.Note != "" {
		v.SetValue(vcard.FieldNote, c.Note)
	}
	vcard.ToV4(v)
	return v
}

// nameOf takes the last word for the family's name: who is called otherwise is still called
// right as a whole.
func nameOf(name string) *vcard.Name {
	words := strings.Fields(name)
	last := len(words) - 1
	if last == 0 {
		return &vcard.Name{GivenName: name}
	}
	return &vcard.Name{GivenName: strings.Join(words[:last], " "), FamilyName: words[last]}
}

// structured is a value of a field that semicolons part, as one part.
func structured(text string) string { return strings.ReplaceAll(text, ";", ",") }

// line is a text without line breaks, or anything else that does not print.
func line(text string) string { return strings.Join(strings.Fields(text), " ") }
