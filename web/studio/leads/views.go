package leads

import (
	"context"
	"errors"
	"net/url"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/studio/desk"
)

// views lists the sentences that are kept.
func (s *Room) views(ctx context.Context, in *sentence) (desk.Views, error) {
	kept, err := s.Store.Responses.LeadViews(ctx)
	views := desk.Views{Back: in.page().Encode()}
	if in.asks() {
		views.Keep = "/studio/leads/views"
	}
	for _, v := range kept {
		views.List = append(views.List, desk.View{Name: v.Name, Address: in.address + "?" + v.Query,
			Chosen: v.Query == in.fields.Encode(), Forget: "/studio/leads/views/forget"})
	}
	return views, err
}

// asks tells whether the sentence names some of all leads.
func (in *sentence) asks() bool {
	return in.fields.Get("search") != "" || len(in.parts) > 0 || in.within != nil
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
