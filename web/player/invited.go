package player

import (
	"errors"
	"net/http"
	"net/url"

	"github.com/gin-gonic/gin"

	"omphalos/core/program"
	"omphalos/store"
)

// Somebody who is invited comes by an address of their own. It is known how far they have
// come, and what the list says of them can be asked for in conditions. A quiz may also be for
// colleagues: for those who are signed in to the studio.

// A guest is known before the first answer: by an invitation, or as a colleague.
type guest struct {
	invitation *store.Invitation
	member     *store.User
}

// member returns the colleague who asks, nil for nobody.
func (p *player) member(c *gin.Context) *store.User {
	if p.Member == nil {
		return nil
	}
	return p.Member(c.Request)
}

// invitationField names the invitation in an address.
const invitationField = "i"

// invited leads somebody who is invited to where they have come, or to the beginning.
func (p *player) invited(c *gin.Context) {
	ctx := c.Request.Context()
	i, err := p.store.Definitions.InvitationOf(ctx, c.Param("token"))
	if err != nil {
		p.fail(c, err)
		return
	}
	z, err := p.store.Definitions.Quiz(ctx, i.QuizID)
	if err != nil {
		p.fail(c, err)
		return
	}
	p.lead(c, "/q/"+z.Slug+"?"+url.Values{invitationField: {i.Token}}.Encode())
}

// admitted returns what is known of somebody who comes, and false where they are not let in:
// then it has answered.
func (p *player) admitted(c *gin.Context, r *released, of *store.Release) (guest, bool) {
	if of.Gate.Members {
		member := p.member(c)
		if member == nil {
			page := newProblem(r, "For colleagues", "This quiz is for those who sign in here. Sign in, and it begins.")
			page.Link, page.LinkWords = "/studio/sign-in?"+
				url.Values{"to": {c.Request.URL.RequestURI()}}.Encode(), tongueOf(r.program).say("Sign in")
			p.show(c, http.StatusForbidden, "problem", page)
		}
		return guest{member: member}, member != nil
	}
	i, ok := p.invitationOf(c, r, of)
	return guest{invitation: i}, ok
}

func (p *player) invitationOf(c *gin.Context, r *released, of *store.Release) (*store.Invitation, bool) {
	ctx := c.Request.Context()
	token := c.Query(invitationField)
	if token == "" && !of.Gate.Invited {
		return nil, true
	}
	i, err := p.store.Definitions.InvitationOf(ctx, token)
	switch {
	case errors.Is(err, store.ErrNotFound) || err == nil && i.QuizID != of.QuizID:
		if !of.Gate.Invited {
			return nil, true
		}
		p.show(c, http.StatusForbidden, "problem", newProblem(r, "For those who are invited",
			"This quiz is for people on a list. Open it by the address that was sent to you."))
		return nil, false
	case err != nil:
		p.fail(c, err)
		return nil, false
	}
	if i.Passage == "" {
		return i, true
	}
	before, err := p.store.Responses.Passage(ctx, i.Passage)
	switch {
	case err != nil || before.Finished && (of.Gate.Again || r.program.Quiz.Repeating().Persons()):
		return i, true // it was forgotten, or they may answer once more
	case before.Finished:
		p.rememberPassage(c, before)
		p.lead(c, "/p/"+before.ID+"/end")
	default: // the address is theirs: it opens their way on another device, too
		p.rememberPassage(c, before)
		p.lead(c, "/p/"+before.ID)
	}
	return nil, false
}

// tell adds what is known of a guest to what is known of a visitor.
func (g guest) tell(v *program.Visitor, anonymous bool) {
	switch {
	case anonymous:
	case g.invitation != nil:
		delete(v.Query, invitationField) // it is a key
		for name, value := range g.invitation.Columns() {
			v.Set("query."+name, value)
		}
	case g.member != nil:
		v.Set("query.name", g.member.Name)
		v.Set("query.address", g.member.Email)
	}
}

// takeUp takes down that a passage was begun by an invitation.
func (p *player) takeUp(c *gin.Context, g guest, passage string) error {
	i := g.invitation
	if i == nil || i.Passage == passage {
		return nil
	}
	return p.store.Definitions.Accept(c.Request.Context(), i.ID, passage)
}
