package learn

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/studio/desk"
)

// views lists the views of a quiz.
func (s *Room) views(ctx context.Context, quiz uint, sl *sentence) (desk.Views, error) {
	kept, err := s.Store.Definitions.Views(ctx, quiz)
	views := desk.Views{Back: sl.clone().Encode()}
	if len(sl.Asked) > 0 {
		views.Keep = sl.beside("views")
	}
	for _, v := range kept {
		views.List = append(views.List, desk.View{Name: v.Name, Address: sl.address + "?" + v.Query,
			Chosen: v.Query == views.Back, Forget: fmt.Sprintf("%s/views/%d/forget", sl.address, v.ID)})
	}
	return views, err
}

// keep keeps the sentence under a name.
func (s *Room) keep(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	err := s.Store.Definitions.KeepView(c.Request.Context(), z.ID, c.PostForm("name"), in.slice.clone().Encode())
	switch {
	case errors.Is(err, store.ErrViewName):
		s.Say(c, "It is not kept: a name of 1 to 60 letters is needed.", "")
	case err != nil:
		s.Fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, in.slice.at(in.slice.clone()))
}

// forget forgets a view.
func (s *Room) forget(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	id, ok := desk.Number(c, "view")
	if !ok {
		s.Fail(c, store.ErrNotFound)
		return
	}
	if err := s.Store.Definitions.ForgetView(c.Request.Context(), z.ID, uint(id)); err != nil {
		s.Fail(c, err)
		return
	}
	back := desk.Address(z) + "/learn"
	if query, err := url.ParseQuery(c.PostForm("back")); err == nil && len(query) > 0 {
		back += "?" + query.Encode()
	}
	c.Redirect(http.StatusSeeOther, back)
}
