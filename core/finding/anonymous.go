package finding

import "omphalos/core/quiz"

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
