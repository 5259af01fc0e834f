package sheet

import (
	"context"
	"errors"
	"log/slog"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/store"
)

// An update tells the sheet in the browser what has changed.
type update struct {
	Revision int                 `json:"revision"`
	Shown    string              `json:"shown"`  // mark of what is shown now
	Parts    map[string]string   `json:"parts"`  // HTML of the parts that changed, by ID
	Orders   map[string][]string `json:"orders"` // IDs of the parts in each list
	Sentence string              `json:"sentence,omitempty"`
	Told     string              `json:"told,omitempty"`    // how it went, in words
	Made     quiz.Pointer        `json:"made,omitempty"`    // path of what an act made
	Renamed  quiz.Pointer        `json:"renamed,omitempty"` // path that Made had before
	Message  string              `json:"message,omitempty"` // why an edit was not kept
	Pointer  quiz.Pointer        `json:"pointer,omitempty"` // where
}

func etag(revision int) string { return `"` + strconv.Itoa(revision) + `"` }

// revision reads If-Match, which every change must carry.
func revision(c *gin.Context) (int, bool) {
	n, err := strconv.Atoi(strings.Trim(strings.TrimPrefix(c.GetHeader("If-Match"), "W/"), `"`))
	if err != nil {
		c.JSON(
			http.StatusPreconditionRequired,
			update{Message: "The change does not say which revision it is of (If-Match). Load the page again."},
		)
	}
	return n, err == nil
}

// draft answers with the sheet as it stands, for a tab that fell behind: with what
// differs from what it shows.
func (s *Room) draft(c *gin.Context) {
	if z, ok := s.known(c); ok {
		s.answer(c, http.StatusOK, z, update{})
	}
}

// patch keeps an edit: a JSON Patch (RFC 6902) against a revision.
func (s *Room) patch(c *gin.Context) {
	z, base, body, ok := s.changing(c)
	if !ok {
		return
	}
	after, change, err := s.Store.Definitions.Edit(c.Request.Context(), z.ID, base, body, s.User(c))
	if err != nil {
		s.refuse(c, z.ID, err)
		return
	}
	s.answer(c, http.StatusOK, after, update{Sentence: change.Sentence})
}

// act keeps a change of structure, which becomes a patch on the way.
func (s *Room) act(c *gin.Context) {
	z, base, body, ok := s.changing(c)
	if !ok {
		return
	}
	act, err := edit.ReadAct(body)
	if errors.Is(err, edit.ErrAct) {
		s.refuse(c, z.ID, err)
		return
	}
	if err != nil {
		c.JSON(http.StatusBadRequest, update{Message: "The request can't be read. Load the page again."})
		return
	}
	if z.Revision != base {
		s.refuse(c, z.ID, store.ErrStale)
		return
	}
	patch, made, err := edit.Patch(act, []byte(z.Draft))
	if err != nil {
		s.refuse(c, z.ID, err)
		return
	}
	if string(patch) == "null" { // it is so already
		s.answer(c, http.StatusOK, z, update{})
		return
	}
	switch act := act.(type) {
	case *edit.Turn, *edit.Mark: // the control that did it keeps the focus
		made = ""
	case *edit.Rename:
		s.rename(c, z, base, patch, act.Path, made)
		return
	}
	s.make(c, z, base, patch, made)
}

// rename keeps a patch that gives something another key, and says which it had: what is open
// on a page goes on under the other one.
func (s *Room) rename(c *gin.Context, z *store.Quiz, base int, patch []byte, from, to quiz.Pointer) {
	after, change, err := s.Store.Definitions.Edit(c.Request.Context(), z.ID, base, patch, s.User(c))
	if err != nil {
		s.refuse(c, z.ID, err)
		return
	}
	s.answer(c, http.StatusOK, after, update{Sentence: change.Sentence, Made: to, Renamed: from})
}

// make keeps a patch that makes something at a path, and answers with what changed.
func (s *Room) make(c *gin.Context, z *store.Quiz, base int, patch []byte, made quiz.Pointer) {
	after, change, err := s.Store.Definitions.Edit(c.Request.Context(), z.ID, base, patch, s.User(c))
	if err != nil {
		s.refuse(c, z.ID, err)
		return
	}
	s.answer(c, http.StatusOK, after, update{Sentence: change.Sentence, Made: made})
}

func (s *Room) undo(c *gin.Context) { s.walk(c, "Undone: ", s.Store.Definitions.Undo) }

func (s *Room) redo(c *gin.Context) { s.walk(c, "Done again: ", s.Store.Definitions.Redo) }

func (s *Room) walk(
	c *gin.Context,
	said string,
	step func(context.Context, uint, int) (*store.Quiz, *store.Edit, error),
) {
	z, base, _, ok := s.changing(c)
	if !ok {
		return
	}
	after, e, err := step(c.Request.Context(), z.ID, base)
	if err != nil {
		s.refuse(c, z.ID, err)
		return
	}
	s.answer(c, http.StatusOK, after, update{Sentence: said + e.Sentence})
}

// answer sends the parts that differ from what the tab shows, or all parts where that is
// not at hand.
func (s *Room) answer(c *gin.Context, status int, z *store.Quiz, u update) {
	sh, err := s.Read(c, z)
	if err != nil {
		slog.Error("reading a sheet", "error", err)
		c.JSON(http.StatusInternalServerError, update{Message: "The sheet can't be shown. Load the page again."})
		return
	}
	old := s.sent(sh.kept(), c.GetHeader("Shown"))
	r, err := s.render(sh)
	if err != nil {
		slog.Error("rendering a sheet", "error", err)
		c.JSON(http.StatusInternalServerError, update{Message: "The sheet can't be shown. Load the page again."})
		return
	}
	u.Revision, u.Shown, u.Orders, u.Parts = z.Revision, r.mark, r.orders, r.since(old)
	c.Header("ETag", etag(z.Revision))
	c.PureJSON(status, u)
}
