package learn

import (
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// adoptAt is where points are taken over, with the sentence.
func adoptAt(in *sliced, ordered []string) string {
	fields := in.slice.clone()
	for _, key := range ordered {
		fields.Add("ordered", key)
	}
	if len(fields) == 0 {
		return in.slice.address + "/won/adopt"
	}
	return in.slice.address + "/won/adopt?" + fields.Encode()
}

// takeOver takes points over into the draft: those of an answer, or all of them.
func (s *Room) takeOver(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	page, err := s.learned(c, z, in)
	if err != nil {
		s.Fail(c, err)
		return
	}
	var ops []edit.Op
	for _, one := range page.ops {
		question, asked := c.GetPostForm("question")
		if !asked || question == one.question && c.PostForm("answer") == one.answer {
			ops = append(ops, one.op)
		}
	}
	back := strings.Replace(adoptAt(in, ordered(c)), "/won/adopt", "/won", 1)
	s.edited(c, z, ops, back, fmt.Sprintf("The draft has the points of %s now. It can be undone on the sheet.", ui.Plural(len(ops), "answer", "answers")))
}

// edited changes the draft, says so, and leads back.
func (s *Room) edited(c *gin.Context, z *store.Quiz, ops []edit.Op, back, words string) {
	if len(ops) == 0 {
		s.Say(c, "Nothing was changed: the draft has it so already.", "")
		c.Redirect(http.StatusSeeOther, back)
		return
	}
	_, _, err := s.Store.Definitions.Edit(c.Request.Context(), z.ID, z.Revision, []byte(desk.PatchText(ops)), s.User(c))
	switch {
	case errors.Is(err, store.ErrStale):
		s.Say(c, "The quiz was being changed just then. Press once more.", "")
	case err != nil:
		s.Fail(c, err)
		return
	default:
		s.Say(c, words, "")
	}
	c.Redirect(http.StatusSeeOther, back)
}
