package sheet

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// known is quiz for a sheet that is open already: it says in words that it is not there.
func (s *Room) known(c *gin.Context) (*store.Quiz, bool) {
	id, _ := desk.Number(c, "quiz")
	z, err := s.Store.Definitions.Quiz(c.Request.Context(), uint(id))
	switch {
	case errors.Is(err, store.ErrNotFound):
		c.JSON(
			http.StatusNotFound,
			update{Message: "This quiz was deleted elsewhere. What you type waits here until it is put back."},
		)
	case err != nil:
		s.refuse(c, uint(id), err)
	}
	return z, err == nil
}

// changing reads what every change has: the quiz, the revision and a body.
func (s *Room) changing(c *gin.Context) (*store.Quiz, int, []byte, bool) {
	z, ok := s.known(c)
	if !ok {
		return nil, 0, nil, false
	}
	base, ok := revision(c)
	if !ok {
		return nil, 0, nil, false
	}
	body, err := io.ReadAll(c.Request.Body)
	if long := (*http.MaxBytesError)(nil); errors.As(err, &long) {
		c.JSON(http.StatusRequestEntityTooLarge, update{Message: "This is too much at once: at most 2 MB can be sent."})
		return nil, 0, nil, false
	}
	if err != nil {
		c.JSON(http.StatusBadRequest, update{Message: "Only a part of the change arrived. Make it once more."})
		return nil, 0, nil, false
	}
	return z, base, body, true
}

// refuse says why a change is not kept. A draft that has moved on is sent along.
func (s *Room) refuse(c *gin.Context, id uint, err error) {
	var refused *edit.Refused
	switch {
	case errors.As(err, &refused):
		p := refused.Problems[0]
		if p.Code == "format" && strings.HasPrefix(p.Message, "needs the field") { // of something that is gone
			p = quiz.Problem{Message: "what this belongs to has been deleted in the meantime", Pointer: p.Pointer}
		}
		c.JSON(http.StatusUnprocessableEntity, update{Message: desk.SentenceOf(p.Message), Pointer: p.Pointer})
	case errors.Is(err, store.ErrStale), errors.Is(err, store.ErrNotFound):
		z, ok := s.known(c)
		if !ok {
			return
		}
		s.answer(
			c,
			http.StatusPreconditionFailed,
			z,
			update{Message: "This quiz was changed in another tab or by somebody else."},
		)
	case errors.Is(err, context.DeadlineExceeded), errors.Is(err, context.Canceled):
		c.JSON(
			http.StatusUnprocessableEntity,
			update{Message: "This change takes too long to be worked out. Make it in smaller steps."},
		)
	case errors.Is(err, edit.ErrPatch):
		c.JSON(http.StatusBadRequest, update{Message: desk.SentenceOf(err.Error())})
	case errors.Is(err, edit.ErrTarget),
		errors.Is(err, edit.ErrAct),
		errors.Is(err, store.ErrNoUndo),
		errors.Is(err, store.ErrNoRedo),
		errors.Is(err, store.ErrChanged):
		c.JSON(http.StatusConflict, update{Message: desk.SentenceOf(err.Error())})
	default:
		slog.Error("keeping a change", "error", err)
		c.JSON(
			http.StatusServiceUnavailable,
			update{Message: "The change could not be kept just now; it is tried again."},
		)
	}
}
