package player

import (
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/outbox"
	"omphalos/store"
	"omphalos/web/ui"
)

// Pages that letters lead to: on one somebody says that they want no more mail, on the other
// that it was them who signed up. Nothing is done before they press the button, for programs
// look at links, too; but a mail program that posts to the first has asked its user (RFC 8058).

func (p *player) letters() []ui.Route {
	return []ui.Route{
		ui.Get(outbox.LeavePlace+":pass", p.leaving),
		ui.Post(outbox.LeavePlace+":pass", ui.Answers, p.leave),
		ui.Get(outbox.ConfirmPlace+":token", p.signingUp),
		ui.Post(outbox.ConfirmPlace+":token", ui.Answers, p.signUp),
	}
}

// A letterPage asks one thing, or says that it is done.
type letterPage struct {
	frame
	Heading, Text string
	Button        string // "" where there is nothing to press
	Action        string
}

func (p *player) letterPage(c *gin.Context, status int, in tongue, heading, text, button string) {
	page := letterPage{frame: newFrame(nil, heading), Heading: heading, Text: text, Button: button,
		Action: c.Request.URL.String()}
	if in != "" {
		page.Language = string(in)
	}
	p.show(c, status, "letter", page)
}

// letterTongue is the language of the letter that led here.
func letterTongue(c *gin.Context) tongue {
	in := tongue(c.Query("in"))
	if in.known().String() == "en" {
		return ""
	}
	return in
}

func (p *player) leaving(c *gin.Context) {
	in := letterTongue(c)
	ours, err := p.store.Outbox.Opens(c.Request.Context(), c.Param("pass"))
	switch {
	case err != nil:
		p.fail(c, err)
	case !ours:
		p.nowhere(c, in)
	default:
		p.letterPage(c, http.StatusOK, in, in.say("No more mail?"),
			in.say("No mail of this kind will come any more, and you are taken off all lists."), in.say("I want no more mail"))
	}
}

func (p *player) leave(c *gin.Context) {
	in := letterTongue(c)
	switch err := p.store.Outbox.Unsubscribe(c.Request.Context(), c.Param("pass")); {
	case errors.Is(err, store.ErrNotFound):
		p.nowhere(c, in)
	case err != nil:
		p.fail(c, err)
	default:
		p.letterPage(c, http.StatusOK, in, in.say("That is done"), in.say("No more mail will come."), "")
	}
}

func (p *player) signingUp(c *gin.Context) {
	in := letterTongue(c)
	s, err := p.store.Outbox.Subscription(c.Request.Context(), c.Param("token"))
	switch {
	case errors.Is(err, store.ErrNotFound):
		p.nowhere(c, in)
	case err != nil:
		p.fail(c, err)
	case s.State == store.Asked:
		p.letterPage(c, http.StatusOK, in, in.say("Was it you?"),
			in.say("Somebody signed up with your address. Say that it was you, and you are on the list."),
			in.say("Yes, it was me"))
	default:
		p.signedUp(c, in, s)
	}
}

func (p *player) signUp(c *gin.Context) {
	in := letterTongue(c)
	s, err := p.store.Outbox.Confirm(c.Request.Context(), c.Param("token"))
	switch {
	case errors.Is(err, store.ErrNotFound):
		p.nowhere(c, in)
	case err != nil:
		p.fail(c, err)
	default:
		p.signedUp(c, in, s)
	}
}

func (p *player) signedUp(c *gin.Context, in tongue, s *store.Subscription) {
	text := in.say("You are on the list.")
	if s.State == store.Left {
		text = in.say("No more mail will come.")
	}
	p.letterPage(c, http.StatusOK, in, in.say("Thank you"), text, "")
}

func (p *player) nowhere(c *gin.Context, in tongue) {
	p.letterPage(c, http.StatusNotFound, in, in.say("This link leads nowhere"),
		in.say("It may have been cut off: open it from the letter once more."), "")
}
