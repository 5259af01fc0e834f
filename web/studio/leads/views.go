package leads

import (
	"context"
	"errors"
	"net/url"

	"github.com/gin-gonic/gin"

	"omphalos/store"
)

// A kept view is a sentence under a name.
type keptView struct {
	Name, Address string
	Chosen        bool
}

func (s *Room) views(ctx context.Context, in *sentence) ([]keptView, error) {
	views, err := s.Store.Responses.LeadViews(ctx)
	var list []keptView
	for _, v := range views {
		list = append(list, keptView{v.Name, in.address + "?" + v.Query, v.Query == in.fields.Encode()})
	}
	return list, err
}

// keep keeps the sentence under a name.
func (s *Room) keep(c *gin.Context) {
	query, err := url.ParseQuery(c.PostForm("back"))
	if err != nil {
		query = url.Values{}
	}
	ctx := c.Request.Context()
	in, err := s.sentenceOf(ctx, query)
	if err == nil {
		err = s.Store.Responses.KeepLeadView(ctx, store.LeadView{Name: c.PostForm("name"), Query: in.fields.Encode()})
	}
	switch {
	case errors.Is(err, store.ErrViewName):
		s.Say(c, "It is not kept: a name of 1 to 60 letters is needed.", "")
	case errors.Is(err, store.ErrViews):
		s.Say(c, "It is not kept: there are as many views as there can be. Forget one first.", "")
	case err != nil:
		s.Fail(c, err)
		return
	}
	s.back(c, nil)
}

// forget forgets a view.
func (s *Room) forget(c *gin.Context) {
	if err := s.Store.Responses.ForgetLeadView(c.Request.Context(), c.PostForm("name")); err != nil {
		s.Fail(c, err)
		return
	}
	s.back(c, nil)
}
