package leads

import (
	"errors"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// lead returns the lead that the address names, or answers that it is not there.
func (s *Room) lead(c *gin.Context) (*store.Lead, bool) {
	id, ok := desk.Number(c, "lead")
	if !ok {
		s.Fail(c, store.ErrNotFound)
		return nil, false
	}
	l, err := s.Store.Responses.Lead(c.Request.Context(), uint(id))
	if err != nil {
		s.Fail(c, err)
	}
	return l, err == nil
}

// merge makes one lead of two.
func (s *Room) merge(c *gin.Context) {
	l, ok := s.lead(c)
	if !ok {
		return
	}
	other, err := strconv.ParseUint(c.PostForm("other"), 10, 64)
	if known := strings.TrimSpace(c.PostForm("known")); known != "" {
		var l *store.Lead
		if l, err = s.Store.Responses.LeadOf(c.Request.Context(), known); err == nil {
			other = uint64(l.ID)
		}
	}
	if err != nil {
		s.Say(c, "Nothing was put together: choose with whom, or type the address or number that they gave.", "")
		s.back(c, nil)
		return
	}
	err = s.Store.Responses.MergeLeads(c.Request.Context(), l.ID, uint(other), s.User(c))
	switch {
	case errors.Is(err, store.ErrSame):
		s.Say(c, "This is the same lead already.", "")
		s.back(c, nil)
		return
	case err != nil:
		s.Fail(c, err)
		return
	}
	s.Say(c, "They are one lead now. A response can be parted from it again.", "")
	s.back(c, nil)
}

// part makes a lead of its own of one of a lead's responses.
func (s *Room) part(c *gin.Context) {
	l, ok := s.lead(c)
	if !ok {
		return
	}
	of, _ := strconv.ParseUint(c.PostForm("quiz"), 10, 64)
	number, _ := strconv.Atoi(c.PostForm("number"))
	made, err := s.Store.Responses.PartLead(c.Request.Context(), l.ID, uint(of), number, s.User(c))
	switch {
	case errors.Is(err, store.ErrSame):
		s.Say(c, "This is the lead's only response.", "")
	case err != nil:
		s.Fail(c, err)
		return
	default:
		s.Say(c, made.Called()+" is a lead of its own now.", "")
	}
	s.back(c, nil)
}

// erase deletes a person for good.
func (s *Room) erase(c *gin.Context) {
	l, ok := s.lead(c)
	if !ok {
		return
	}
	if c.PostForm("sure") == "" {
		s.back(c, nil)
		return
	}
	n, err := s.Store.Responses.EraseLead(c.Request.Context(), l.ID, s.User(c))
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, "They are erased, with "+ui.Plural(n, "response", "responses")+" and all that was kept of them.", "")
	query, _ := url.ParseQuery(c.PostForm("back"))
	query.Del("lead")
	c.Request.PostForm.Set("back", query.Encode())
	s.back(c, nil)
}
