package learn

import (
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// takenAt is where what a page proposes is taken over.
func takenAt(c *gin.Context) string {
	at := *c.Request.URL
	at.Path += "/adopt"
	return at.String()
}

// takeOver changes the draft as the page proposed that was looked at: also where others would be
// proposed now.
func (s *Room) takeOver(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	back := *c.Request.URL
	back.Path = strings.TrimSuffix(back.Path, "/adopt")
	s.edit(c, z, c.PostForm("patch"), back.String(), func(made *edit.Change) string {
		return "In the draft now: " + changes(made) + ". It can be undone on the sheet."
	})
}

// mostChanged is how many changes are named one by one.
const mostChanged = 12

// changes names each change of an edit.
func changes(made *edit.Change) string {
	list, err := edit.Changes(made.Before, made.After)
	if err != nil || len(list) == 0 || len(list) > mostChanged {
		return made.Sentence
	}
	words := make([]string, len(list))
	for i, one := range list {
		words[i] = one.Sentence
	}
	return strings.Join(words, "; ")
}

// edit changes the draft, says so, and leads back.
func (s *Room) edit(c *gin.Context, z *store.Quiz, patch, back string, words func(*edit.Change) string) {
	_, made, err := s.Store.Definitions.Edit(c.Request.Context(), z.ID, z.Revision, []byte(patch), s.User(c))
	said := desk.Unkept(err)
	switch {
	case err == nil:
		said = words(made)
	case said == "":
		s.Fail(c, err)
		return
	}
	s.Say(c, said, "")
	c.Redirect(http.StatusSeeOther, back)
}
