package sheet

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// aim places the cuts of a step of bands so that the bands' shares come nearest to
// those that are wanted.
func (s *Room) aim(c *gin.Context) {
	z, base, body, ok := s.changing(c)
	if !ok {
		return
	}
	var typed []string
	if err := json.Unmarshal(body, &typed); err != nil {
		c.JSON(http.StatusBadRequest, update{Message: "The shares can't be read. Load the page again."})
		return
	}
	wanted, err := odds.ReadShares(typed)
	switch {
	case errors.Is(err, odds.ErrNoShares):
		c.JSON(http.StatusUnprocessableEntity, update{Message: "Type the shares that you aim for in percent, such as 20 " +
			"for the hottest fifth. Bands that you leave open share the rest."})
		return
	case err != nil:
		c.JSON(http.StatusUnprocessableEntity, update{Message: desk.SentenceOf(err.Error())})
		return
	}
	sh, err := s.Read(c, z)
	if err != nil {
		s.refuse(c, z.ID, err)
		return
	}
	key := c.Param("step")
	step := sh.Doc.Decision.Steps[key]
	if step == nil || z.Revision != base {
		s.refuse(c, z.ID, store.ErrStale)
		return
	}
	cuts := step.CutKeys()
	if sh.odds == nil || sh.odds.Scores[step.Scale] == nil || len(wanted) != len(cuts)+1 {
		c.JSON(
			http.StatusConflict,
			update{Message: "The scores can't be told yet: finish the questions and their weights first."},
		)
		return
	}
	at, shares, err := sh.odds.Scores[step.Scale].Aim(wanted)
	if err != nil {
		c.JSON(
			http.StatusConflict,
			update{
				Message: "There are fewer different scores than bands. Take a cut away, or weigh the answers more finely.",
			},
		)
		return
	}
	var ops []edit.Op
	for i, k := range cuts {
		ops = append(ops, edit.Op{Op: "add", Path: quiz.At("decision", "steps", key, "cuts", k, "at"), Value: at[i]})
	}
	var taken []string
	for i, share := range shares {
		taken = append(taken, fmt.Sprintf("%s (aimed for %s)", ui.Percent(share), ui.Percent(wanted[i])))
	}
	told := "Placed. The bands take " + strings.Join(taken, ", ")
	after, change, err := s.Store.Definitions.Edit(c.Request.Context(), z.ID, base, []byte(desk.PatchText(ops)), s.User(c))
	if err != nil {
		s.refuse(c, z.ID, err)
		return
	}
	s.answer(c, http.StatusOK, after, update{Sentence: change.Sentence, Told: told + ", from the lowest."})
}
