package sheet

import (
	"cmp"
	"errors"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// changeLanguages keeps what was written in a language, adds one or takes one away.
func (s *Room) changeLanguages(c *gin.Context) {
	in := c.PostForm("in")
	at := quiz.At("translations", in)
	switch c.PostForm("do") {
	case "add":
		s.editLanguages(c, in, "", func(q *quiz.Quiz) []edit.Op {
			if q.Translations == nil {
				return []edit.Op{{Op: "add", Path: "/translations", Value: map[string]any{in: map[string]any{}}}}
			}
			return []edit.Op{{Op: "add", Path: at, Value: map[string]any{}}}
		})
	case "remove":
		s.editLanguages(c, "", "", func(q *quiz.Quiz) []edit.Op {
			if q.Translations[in] == nil {
				return nil
			}
			return []edit.Op{{Op: "remove", Path: at}}
		})
	default:
		s.editLanguages(c, in, "", func(q *quiz.Quiz) []edit.Op { return written(c, q, in) })
	}
}

// The fields of a text begin with these; its pointer follows.
const (
	saidField = "said:"
	wasField  = "was:"
	ofField   = "of:"
	fitsField = "fits:" // what it says fits the words that stand there now
)

// written is what a form changes of a language: only what was typed into, so that two who
// write at once don't undo each other.
func written(c *gin.Context, q *quiz.Quiz, in string) []edit.Op {
	var ops []edit.Op
	words := q.Translations[in]
	for _, t := range q.Texts() {
		name := string(t.At)
		said, sent := c.GetPostForm(saidField + name)
		said = strings.TrimSpace(strings.ReplaceAll(said, "\r\n", "\n"))
		if !sent ||
			said == strings.TrimSpace(strings.ReplaceAll(c.PostForm(wasField+name), "\r\n", "\n")) &&
				c.PostForm(fitsField+name) == "" {
			continue
		}
		at := quiz.At("translations", in, name)
		_, there := words[t.At]
		switch {
		case said == "" && there:
			ops = append(ops, edit.Op{Op: "remove", Path: at})
		case said != "":
			of := strings.ReplaceAll(c.PostForm(ofField+name), "\r\n", "\n")
			ops = append(ops, edit.Op{Op: "add", Path: at, Value: quiz.Translated{Text: said, Of: of}})
		}
	}
	return ops
}

// editLanguages keeps an edit of the languages, shows one of them and says what was done: "" for
// the edit's own words. What could not be kept is shown again as it was typed.
func (s *Room) editLanguages(c *gin.Context, then, said string, ops func(q *quiz.Quiz) []edit.Op) {
	z, q, ok := s.DraftOf(c)
	if !ok {
		return
	}
	room := desk.Address(z) + "/languages"
	if then != "" {
		room += "?in=" + then
	}
	var change *edit.Change
	err := store.ErrStale
	for tries := 0; tries < 3 && errors.Is(err, store.ErrStale); tries++ {
		if tries > 0 { // somebody edits meanwhile: what is meant stays the same
			if z, q, ok = s.DraftOf(c); !ok {
				return
			}
		}
		list := ops(q)
		if len(list) == 0 {
			c.Redirect(http.StatusSeeOther, room)
			return
		}
		_, change, err = s.Store.Definitions.Edit(c.Request.Context(), z.ID, z.Revision,
			[]byte(desk.PatchText(list)), s.User(c))
	}
	if err != nil {
		typed := map[string]string{}
		for name, values := range c.Request.PostForm {
			if at, is := strings.CutPrefix(name, saidField); is && len(values) > 0 {
				typed[at] = values[0]
			}
		}
		wrong := cmp.Or(desk.Unkept(err), "This could not be kept just now: send it again.")
		s.showLanguages(c, http.StatusUnprocessableEntity, wrong+" What was written is still here.", typed)
		return
	}
	s.Say(c, cmp.Or(said, change.Sentence+".")+" Undo on the sheet takes that back.", "")
	c.Redirect(http.StatusSeeOther, room)
}
