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
// come, and what the list says of them can be asked for in conditions.

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
	c.Redirect(http.StatusSeeOther, "/q/"+z.Slug+"?"+url.Values{invitationField: {i.Token}}.Encode())
}

// admitted returns the invitation by which somebody comes, nil for none, and false where they
// are not let in: then it has answered.
func (p *player) admitted(c *gin.Context, r *released, of *store.Release) (*store.Invitation, bool) {
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
		p.show(c, http.StatusForbidden, "problem", newProblem(r.program, "For those who are invited",
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
		c.Redirect(http.StatusSeeOther, "/p/"+before.ID+"/end")
	default: // the address is theirs: it opens their way on another device, too
		p.rememberPassage(c, before)
		c.Redirect(http.StatusSeeOther, "/p/"+before.ID)
	}
	return nil, false
}

// tellOf adds what a list says of somebody to what is known of a visitor.
func tellOf(i *store.Invitation, v *program.Visitor, anonymous bool) {
	if i == nil || anonymous {
		return
	}
	delete(v.Query, invitationField) // it is a key
	for name, value := range i.Columns() {
		v.Set("query."+name, value)
	}
}

// takeUp takes down that a passage was begun by an invitation.
func (p *player) takeUp(c *gin.Context, i *store.Invitation, passage string) error {
	if i == nil || i.Passage == passage {
		return nil
	}
	return p.store.Definitions.Accept(c.Request.Context(), i.ID, passage)
}
