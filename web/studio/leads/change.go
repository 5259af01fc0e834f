package leads

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/store/tally"
	"omphalos/web/ui"
)

// mostChanged is how many leads are changed at once; see store.ErrMany.
const mostChanged = 10_000

// back leads to the list again, as the form says it was.
func (s *Room) back(c *gin.Context, more url.Values) {
	query, err := url.ParseQuery(c.PostForm("back"))
	if err != nil {
		query = url.Values{}
	}
	for field, values := range more {
		query[field] = values
	}
	to := "/studio/leads"
	if len(query) > 0 {
		to += "?" + query.Encode()
	}
	c.Redirect(http.StatusSeeOther, to)
}

// chosen are the leads that a form is about: those that were picked, or all of the sentence.
func (s *Room) chosen(c *gin.Context) ([]int, error) {
	var ids []int
	if c.PostForm("all") == "" {
		for _, text := range c.PostFormArray("ids") {
			if id, err := strconv.Atoi(text); err == nil && id > 0 {
				ids = append(ids, id)
			}
		}
		return ids, nil
	}
	query, err := url.ParseQuery(c.PostForm("back"))
	if err != nil {
		return nil, nil
	}
	ctx := c.Request.Context()
	in, err := s.sentenceOf(ctx, query)
	if err != nil {
		return nil, err
	}
	found, err := in.found(ctx)
	if err != nil {
		return nil, err
	}
	err = s.Store.Responses.LeadTally(ctx, func(t *tally.Tally) {
		slice := in.slice(t, found)
		ids = slice.Page(tally.Order{}, 0, slice.Count())
	})
	return ids, err
}

// change changes leads, one or many; what a form does not say stays.
func (s *Room) change(c *gin.Context) {
	ids, err := s.chosen(c)
	if err != nil {
		s.Fail(c, err)
		return
	}
	if len(ids) == 0 {
		s.Say(c, "Nothing was changed: pick at least one lead first.", "")
		s.back(c, nil)
		return
	}
	to := changeOf(c)
	if to == (store.LeadChange{}) {
		s.Say(c, "Nothing was changed: choose what is to change.", "")
		s.back(c, nil)
		return
	}
	batch, err := s.Store.Responses.ChangeLeads(c.Request.Context(), ids, to, s.User(c))
	for refused, words := range map[error]string{
		store.ErrState: "There is no such state any more.", store.ErrDay: "This is no day, as 2026-12-01 is one.",
		store.ErrNote: "A note has 1 to 4000 letters.", store.ErrNotFound: "Whoever that was is not here any more.",
		store.ErrMany: fmt.Sprintf("At most %s leads can be changed at once: narrow the sentence.", ui.Count(mostChanged)),
	} {
		if errors.Is(err, refused) {
			s.Say(c, "Nothing was changed. "+words, "")
			s.back(c, typed(c))
			return
		}
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, s.changedWords(c, len(ids), to), "/studio/leads/undo/"+batch+"?back="+url.QueryEscape(c.PostForm("back")))
	s.back(c, nil)
}

// typed keeps a note that could not be kept, for its field.
func typed(c *gin.Context) url.Values {
	if note := c.PostForm("note"); note != "" && len(note) < 8000 {
		return url.Values{"typed": {note}}
	}
	return nil
}

// changeOf reads what a form changes.
func changeOf(c *gin.Context) (to store.LeadChange) {
	if state := c.PostForm("state"); state != "" {
		to.State = &state
	}
	if owner, err := strconv.ParseUint(c.PostForm("owner"), 10, 64); err == nil {
		by := uint(owner)
		to.Owner = &by
	}
	if next, said := c.GetPostForm("next"); said && (next != "" || c.PostForm("many") == "") {
		to.Next = &next
	}
	if note, said := c.GetPostForm("note"); said {
		to.Note = &note
	}
	if objected := c.PostForm("objected"); objected != "" {
		yes := objected == "yes"
		to.Objected = &yes
	}
	return to
}

// changedWords says what was changed.
func (s *Room) changedWords(c *gin.Context, n int, to store.LeadChange) string {
	who := ui.Plural(n, "lead", "leads")
	if n == 1 {
		if id, err := strconv.Atoi(c.PostForm("ids")); err == nil {
			if l, err := s.Store.Responses.Lead(c.Request.Context(), uint(id)); err == nil {
				who = l.Called()
			}
		}
	}
	var parts []string
	if to.State != nil {
		if settings, err := s.Store.Responses.LeadSettings(c.Request.Context()); err == nil {
			parts = append(parts, "now “"+settings.State(*to.State).Name+"”")
		}
	}
	if to.Owner != nil {
		names, _ := s.Store.People.Names(c.Request.Context())
		if parts = append(parts, "now in the hands of "+names[*to.Owner]); *to.Owner == 0 {
			parts[len(parts)-1] = "now in nobody's hands"
		}
	}
	if to.Next != nil {
		if parts = append(parts, "next on "+*to.Next); *to.Next == "" {
			parts[len(parts)-1] = "without a next day"
		}
	}
	if to.Note != nil {
		parts = append(parts, "with a note")
	}
	if to.Objected != nil {
		if parts = append(parts, "not to be written to or called"); !*to.Objected {
			parts[len(parts)-1] = "objecting no more"
		}
	}
	return who + ": " + strings.Join(parts, ", ") + "."
}

// undo takes back what was changed together.
func (s *Room) undo(c *gin.Context) {
	n, err := s.Store.Responses.UndoLeads(c.Request.Context(), c.Param("batch"))
	switch {
	case errors.Is(err, store.ErrNotFound):
		s.Say(c, "That was taken back already.", "")
	case err != nil:
		s.Fail(c, err)
		return
	case n == 0:
		s.Say(c, "Nothing was taken back: it has been changed once more since.", "")
	default:
		s.Say(c, "Taken back for "+ui.Plural(n, "lead", "leads")+".", "")
	}
	to := "/studio/leads"
	if query, err := url.ParseQuery(c.Query("back")); err == nil && len(query) > 0 {
		to += "?" + query.Encode()
	}
	c.Redirect(http.StatusSeeOther, to)
}
