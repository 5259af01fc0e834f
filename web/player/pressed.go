package player

import (
	"errors"
	"log/slog"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/store"
)

// pressedPlace is the last part of the address to which a page says what was pressed, which
// no question's key can be.
const pressedPlace = "pressed-button"

// pressed counts that a respondent pressed a button of their landing. The page says so by
// itself, while the browser goes where the button leads: nobody waits for it, and nobody else
// is told.
func (p *player) pressed(c *gin.Context, j *journey) {
	landing, block, _ := strings.Cut(c.Query("block"), ".")
	result := passage.Walk(j.program, j.input())
	l := passage.LandingOf(j.program, result)
	b := l.Blocks[block]
	if !j.passage.Finished || j.rehearsal != nil || landing != passage.LandingKey(j.program, result) ||
		b == nil || b.Kind != quiz.ActionBlock && b.Kind != quiz.LinkBlock {
		c.Status(http.StatusNotFound)
		return
	}
	if err := p.store.Responses.Press(c.Request.Context(), j.passage.ID, landing+"."+block); err != nil &&
		!errors.Is(err, store.ErrNotFound) {
		slog.Error("keeping what was pressed", "error", err)
	}
	c.Status(http.StatusNoContent)
}
