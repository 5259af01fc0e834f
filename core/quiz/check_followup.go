package quiz

import (
	"net/mail"
	"slices"

	"golang.org/x/text/currency"
)

// mostAddresses is to how many addresses one notice may go.
const mostAddresses = 20

func (c *checker) followUps() {
	for _, k := range InOrder(c.q.FollowUps) {
		c.followUp(At("followUps", k), k, c.q.FollowUps[k])
	}
}

func (c *checker) followUp(p Pointer, key string, f *FollowUp) {
	c.key(p, key, false)
	c.condition(p+"/when", f.When, after, true)
	c.consent(p+"/consent", f)
	if f.Wait < 0 || f.Wait > LongestWait {
		c.refuse("wait", p+"/wait", "a-follow-up-waits", LongestWait/24/60)
	}
	c.many(p+"/unless", len(f.Unless), "a follow-up")
	c.fillins(p+"/subject", f.Subject, MaxTitle)
	c.many(p+"/blocks", len(f.Blocks), "a letter")
	for _, k := range InOrder(f.Blocks) {
		c.block(p.Join("blocks", k), k, f.Blocks[k])
	}
	c.text(p+"/event", f.Event, MaxTitle)
	c.text(p+"/click", f.Click, MaxTitle)
	switch f.Kind {
	case MailFollowUp:
		if len(c.q.Emails()) == 0 {
			c.note("no-email", p+"/kind", "nobody-is-asked-for")
		}
		c.letter(p, f)
	case NoticeFollowUp:
		c.notice(p, f)
	case CallFollowUp:
		c.chosen(p+"/receiver", f.Receiver)
	case ListFollowUp:
		if len(c.q.Emails()) == 0 {
			c.note("no-email", p+"/kind", "nobody-is-asked-for")
		}
		c.chosen(p+"/list", f.List)
	case ConversionFollowUp:
		c.chosen(p+"/receiver", f.Receiver)
		c.worth(p+"/worth", f.Worth)
	default:
		kinds := make([]string, len(FollowUpKinds))
		for i, k := range FollowUpKinds {
			kinds[i] = string(k)
		}
		c.oneOf(p+"/kind", string(f.Kind), kinds...)
	}
}

// consent checks what somebody must have agreed to: whoever is put on a list, or told to an ad
// platform, must have been asked.
func (c *checker) consent(p Pointer, f *FollowUp) {
	asked := c.q.Ask(f.Consent)
	switch {
	case f.Consent == "" && (f.Kind == ListFollowUp || f.Kind == ConversionFollowUp):
		c.note("no-consent", p, "goes-out-with-a-consent")
	case f.Consent == "":
	case asked == nil:
		c.note("unknown", p, "asks-for-the-question", clip(f.Consent))
	case asked.Kind != Consent:
		c.note("no-consent", p, "is-no-consent", quoted(asked.Label))
	}
}

func (c *checker) letter(p Pointer, f *FollowUp) {
	if f.Subject == "" {
		c.note("empty", p+"/subject", "a-mail-needs-a-subject")
	}
	if len(f.Blocks) == 0 {
		c.note("empty", p+"/blocks", "a-mail-says-nothing")
	}
}

func (c *checker) notice(p Pointer, f *FollowUp) {
	c.oneOf(p+"/to", string(f.To), "", string(ToOwner))
	c.oneOf(p+"/digest", string(f.Digest), "", string(Daily), string(Weekly))
	if len(f.Addresses) > mostAddresses {
		c.refuse("many", p+"/addresses", "there-are-has-at", len(f.Addresses), "a notice", mostAddresses)
	}
	for _, a := range f.Addresses {
		if !IsEmail(a) {
			c.refuse("email", p+"/addresses", "is-no-email", clip(a))
		}
	}
	if len(f.Addresses) == 0 {
		c.note("no-address", p+"/addresses", "a-notice-needs-an-address")
	}
}

// chosen checks that something of the workspace is named. Whether it is there is not known to
// the document.
func (c *checker) chosen(p Pointer, key string) {
	if key == "" {
		c.note("no-receiver", p, "choose-where-it-goes")
	} else {
		c.key(p, key, false)
	}
}

func (c *checker) worth(p Pointer, w *Worth) {
	if w == nil {
		return
	}
	if w.Scale != "" && c.q.Scales[w.Scale] == nil {
		c.note("unknown", p+"/scale", "measures-the-scale-which", clip(w.Scale))
	}
	if _, err := currency.ParseISO(w.Currency); w.Currency != "" && err != nil {
		c.refuse("currency", p+"/currency", "is-not-a-currency", clip(w.Currency))
	}
	for k, amount := range w.Outcomes {
		c.named(p.Join("outcomes", k), k, "is worth something at")
		c.amount(p.Join("outcomes", k), amount)
	}
}

// IsEmail tells whether a text is one e-mail address (RFC 5322), without a name.
func IsEmail(s string) bool {
	at, err := mail.ParseAddress(s)
	return err == nil && at.Address == s && len(s) <= 254
}

// FollowUpProblems are the codes of problems that keep a follow-up from going out, and leave
// nothing of the quiz itself open.
var FollowUpProblems = []string{"no-email", "no-consent", "no-address", "no-receiver"}

// Stands tells whether nothing that Check finds keeps a follow-up from going out.
func Stands(problems []Problem, key string) bool {
	return !slices.ContainsFunc(problems, func(p Problem) bool { return p.Pointer.Within(At("followUps", key)) })
}
