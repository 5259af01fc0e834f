package finding

import (
	"strings"

	"omphalos/core/quiz"
)

// anonymous notes what an anonymous quiz asks for and does not keep.
func (f *finder) anonymous() {
	if f.q.Settings == nil || !f.q.Settings.Anonymous {
		return
	}
	if f.q.Contact != nil && len(f.q.Contact.Fields) > 0 {
		f.note("asked-not-kept", "/contact", mend("take-contact-away", remove("/contact")), "contact-is-not-asked")
	}
	for _, key := range f.q.QuestionKeys() {
		if f.q.Questions[key].Kind.Personal() {
			f.note("asked-not-kept", quiz.At("questions", key), nil, "answer-is-not-kept", f.label(key))
		}
	}
}

// persons notes that persons are to be told apart who can't be.
func (f *finder) persons() {
	if r := f.q.Repeating(); !r.Persons() {
		return
	}
	tells := func(k quiz.Kind) bool { return k == quiz.Email || k == quiz.Phone }
	asked := false
	for _, q := range f.q.Questions {
		asked = asked || tells(q.Kind)
	}
	if c := f.q.Contact; c != nil && c.Place == quiz.BeforeResult {
		for _, q := range c.Fields {
			asked = asked || tells(q.Kind)
		}
	}
	by := mend("by-the-device", remove("/settings/repeats/by"))
	switch {
	case f.q.Settings.Anonymous:
		f.note("person-unknown", "/settings/repeats/by", by, "persons-anonymous")
	case !asked:
		f.note("person-unknown", "/settings/repeats/by", by, "persons-unasked")
	}
}

// countries notes where the visitor's country is asked for on a server that can't tell it.
func (f *finder) countries() {
	if !f.outside.Lost {
		return
	}
	for _, p := range f.placed() {
		each(p.pointer, p.c, func(pointer quiz.Pointer, c *quiz.Condition) {
			if c.Visitor == "country" && !f.noted("country-untold", p.pointer) {
				f.note("country-untold", pointer, nil, "country-is-untold")
			}
		})
	}
	for _, t := range f.texts() {
		if strings.Contains(t.text, "visitor.country}") {
			f.note("country-untold", t.pointer, nil, "country-is-untold")
		}
	}
}
