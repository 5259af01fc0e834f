package quiz

import (
	"time"

	"omphalos/core/decimal"
)

// A FollowUp is what goes out when somebody has landed: a sentence with a condition. It goes
// out once for a response, as soon as all that it asks for is known, and never from a
// rehearsal or after parting ways.
type FollowUp struct {
	Order   float64      `json:"order"`
	Kind    FollowUpKind `json:"kind"`
	Off     bool         `json:"off,omitempty"`
	When    *Condition   `json:"when,omitempty"`    // may ask for the outcome, its standing and contact
	Consent string       `json:"consent,omitempty"` // a consent without which it does not go out
	Wait    int          `json:"wait,omitempty"`    // minutes after it was known
	Unless  []string     `json:"unless,omitzero"`   // states of the lead in which it does not go out after waiting

	// of mail
	Subject string            `json:"subject,omitempty"`
	Blocks  map[string]*Block `json:"blocks,omitzero"`

	// of a notice, which goes to colleagues
	To        Colleague `json:"to,omitempty"`
	Addresses []string  `json:"addresses,omitzero"` // where To names nobody
	Digest    Digest    `json:"digest,omitempty"`

	Receiver string `json:"receiver,omitempty"` // of a call or a conversion: its key in the workspace
	List     string `json:"list,omitempty"`     // its key in the workspace

	// of a conversion
	Click string `json:"click,omitempty"` // the parameter of the address that names the click
	Worth *Worth `json:"worth,omitempty"`
	Event string `json:"event,omitempty"` // what the ad platform calls it
}

// FollowUpKind is what goes out.
type FollowUpKind string

// The kinds of follow-up.
const (
	MailFollowUp       FollowUpKind = "mail"       // to the respondent
	NoticeFollowUp     FollowUpKind = "notice"     // by mail to colleagues
	CallFollowUp       FollowUpKind = "call"       // of another system
	ListFollowUp       FollowUpKind = "list"       // a sign-up
	ConversionFollowUp FollowUpKind = "conversion" // told to an ad platform
)

// FollowUpKinds lists the kinds of follow-up, the commonest first.
var FollowUpKinds = []FollowUpKind{MailFollowUp, NoticeFollowUp, ListFollowUp, CallFollowUp, ConversionFollowUp}

// Letter tells whether follow-ups of the kind are mail with a subject and blocks.
func (k FollowUpKind) Letter() bool { return k == MailFollowUp || k == NoticeFollowUp }

// Calls tells whether follow-ups of the kind call a receiver.
func (k FollowUpKind) Calls() bool { return k == CallFollowUp || k == ConversionFollowUp }

// Colleague is to whom a notice goes.
type Colleague string

// The colleagues; an empty Colleague is whoever has one of the addresses.
const (
	ToOwner Colleague = "owner" // in whose hands the lead is; where it is in nobody's, the addresses
)

// Digest says that notices are gathered into one. An empty Digest sends each by itself.
type Digest string

// The digests.
const (
	Daily  Digest = "day"  // at eight in the morning
	Weekly Digest = "week" // on Monday at eight
)

// digestHour is when digests go out, in the quiz's time zone.
const digestHour = 8

// After returns the first time after another at which a digest goes out.
func (d Digest) After(t time.Time) time.Time {
	next := time.Date(t.Year(), t.Month(), t.Day(), digestHour, 0, 0, 0, t.Location())
	for !next.After(t) || d == Weekly && next.Weekday() != time.Monday {
		next = time.Date(next.Year(), next.Month(), next.Day()+1, digestHour, 0, 0, 0, t.Location())
	}
	return next
}

// A Worth is what a conversion is worth: what a scale came to, or an amount by outcome, in a
// currency (ISO 4217).
type Worth struct {
	Scale    string                     `json:"scale,omitempty"`
	Outcomes map[string]decimal.Decimal `json:"outcomes,omitzero"`
	Currency string                     `json:"currency,omitempty"`
}

// LongestWait is how long a follow-up may wait, in minutes: a year.
const LongestWait = 366 * 24 * 60

func (f *FollowUp) place() float64 { return f.Order }

// Consents returns the keys of all consents that the quiz asks for: of questions in their
// order, then of contact fields.
func (q *Quiz) Consents() []string { return q.asking(Consent) }

// Emails returns the keys of what asks for an e-mail address, as Consents does.
func (q *Quiz) Emails() []string { return q.asking(Email) }

func (q *Quiz) asking(kind Kind) []string {
	var keys []string
	for _, k := range q.QuestionKeys() {
		if q.Questions[k].Kind == kind {
			keys = append(keys, k)
		}
	}
	if q.Contact != nil {
		for _, k := range InOrder(q.Contact.Fields) {
			if q.Contact.Fields[k].Kind == kind {
				keys = append(keys, k)
			}
		}
	}
	return keys
}
