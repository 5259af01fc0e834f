package quiz

import (
	"cmp"

	"omphalos/core/fillin"
)

// Shared is how a quiz shows where its address is shared. What is empty is the opening's.
type Shared struct {
	Title   string   `json:"title,omitempty"`
	Text    string   `json:"text,omitempty"` // Markdown, shown as plain words
	Picture *Picture `json:"picture,omitempty"`
}

// AsShared returns how a quiz shows where its address is shared: what it says about that, and
// its opening and title for what it does not say.
func (q *Quiz) AsShared() Shared {
	var s Shared
	if q.Look != nil && q.Look.Shared != nil {
		s = *q.Look.Shared
	}
	if o := q.Opening; o != nil {
		s.Title, s.Text = cmp.Or(s.Title, o.Heading), cmp.Or(s.Text, o.Text)
		s.Picture = cmp.Or(s.Picture, o.Picture)
	}
	s.Title = cmp.Or(s.Title, q.Title)
	return s
}

// OutcomeShared returns what an outcome shows where it is passed on: nothing of what somebody
// answered. What the outcome does not say is its headline and its text, where these fill
// nothing in, else what the quiz shows.
func (q *Quiz) OutcomeShared(key string) Shared {
	o := q.Outcomes[key]
	var s Shared
	if o.Shared != nil {
		s = *o.Shared
	}
	plain := func(text string) string {
		if len(fillin.Names(text)) > 0 {
			return ""
		}
		return text
	}
	s.Title, s.Text = plain(cmp.Or(s.Title, plain(o.Headline))), plain(cmp.Or(s.Text, plain(o.Text)))
	s.Picture = cmp.Or(s.Picture, o.Picture)
	of := q.AsShared()
	s.Title, s.Picture = cmp.Or(s.Title, of.Title), cmp.Or(s.Picture, of.Picture)
	return s
}
