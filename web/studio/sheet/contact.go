package sheet

import (
	"fmt"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

// A contactPart is the contact section on the sheet.
type contactPart struct {
	*quiz.Contact
	Add    string // patch that adds one
	Remove string
	Whom   []patchChoice
	Fields []fieldRow
	Kinds  []kindName
	Mind   *mind
	Other  string // sentence of a condition that is no choice of the list
}

// A patchChoice of a drop-down is a patch.
type patchChoice struct {
	Name, Patch string
	Chosen      bool
}

type fieldRow struct {
	*quiz.Question
	Path   quiz.Pointer
	Key    string
	Number int
	First  bool
	Last   bool
}

var contactKinds = kindGroups[3].Kinds

func (sh *Sheet) contact() contactPart {
	c := sh.Doc.Contact
	if c == nil {
		return contactPart{
			Add: desk.PatchText(
				[]edit.Op{
					{
						Op:   "add",
						Path: "/contact",
						Value: &quiz.Contact{
							Place:   quiz.BeforeResult,
							Heading: "Where may we send it?",
							Button:  "Send",
							Fields: map[string]*quiz.Question{
								"field_1": {Order: 1, Kind: quiz.Name, Label: "Name"},
								"field_2": {Order: 2, Kind: quiz.Email, Label: "E-mail", Required: true},
								"field_3": {Order: 3, Kind: quiz.Consent, Label: "You may write to me about this."}},
						},
					},
				},
			),
		}
	}
	p := contactPart{
		Contact: c,
		Remove:  desk.PatchText([]edit.Op{{Op: "remove", Path: "/contact"}}),
		Kinds:   contactKinds,
		Mind:    sh.mind("/contact"),
	}
	everybody := edit.Op{Op: "remove", Path: "/contact/when"}
	if c.When == nil {
		everybody = edit.Op{Op: "add", Path: "/contact/place", Value: c.Place} // nothing changes
	}
	p.Whom = append(p.Whom, patchChoice{"everybody", desk.PatchText([]edit.Op{everybody}), c.When == nil})
	known := c.When == nil
	for _, k := range quiz.InOrder(sh.Doc.Outcomes) {
		chosen := c.When != nil && c.When.Outcome && c.When.Op == quiz.Is && c.When.Value != nil &&
			len(c.When.Value.Items) == 1 &&
			c.When.Value.Items[0].String() == k
		known = known || chosen
		when := &quiz.Condition{
			Subject: quiz.Subject{Outcome: true},
			Test:    quiz.Test{Op: quiz.Is, Value: quiz.Words(k)},
		}
		p.Whom = append(
			p.Whom,
			patchChoice{
				fmt.Sprintf("those who get %s · %s", sh.Doc.Letter(k), sh.Doc.Outcomes[k].Name),
				desk.PatchText([]edit.Op{{Op: "add", Path: "/contact/when", Value: when}}),
				chosen,
			},
		)
	}
	if !known {
		p.Other = sh.Doc.Sentence(c.When)
	}
	keys := quiz.InOrder(c.Fields)
	for i, k := range keys {
		p.Fields = append(
			p.Fields,
			fieldRow{c.Fields[k], quiz.At("contact", "fields", k), k, i + 1, i == 0, i == len(keys)-1},
		)
	}
	return p
}
