package learn

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/core/program"
	"omphalos/web/studio/desk"
)

// How a quiz measures: how far the questions of a scale say the same, and what decided. It is
// worked out by walking the newest responses of the slice again, by the release whose sheet
// is shown.

// mostMeasured is how many are walked again, mostPoints how many points of questions are held.
const (
	mostMeasured = 20_000
	mostPoints   = 2_000_000
)

type measurePage struct {
	desk.Frame
	Back   string // address of the slice
	Count  int    // how many were walked
	Few    bool
	Scales []measure
	Steps  []decided
	Tied   int
}

// A measure is how the questions of a scale go together.
type measure struct {
	Name, Mean, Spread string
	Alpha, Range       string // "" where it is not known
	Says               string // what it means
	Persons            int    // who answered all of the items
	Left               int    // who left some of them out, or were not asked
	Items              []item
}

// An item is a question of a scale, or a row of a grid.
type item struct {
	Number       string
	Label        string
	Mean, Spread string
	Rest, Range  string // how it goes along with the others, "" where that is not known
	Says         string // what stands out
}

// A decided step of the decision took so many.
type decided struct {
	Words string
	Count int
	Part  float64
	Rows  []decided // its rules, bands or contenders
}

// measured shows how the quiz measures.
func (s *Room) measured(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	page := measurePage{Frame: s.Frame(c, z.Title, "learn", z), Back: in.slice.at(in.slice.clone())}
	p, err := program.CompileReleased(in.quiz)
	if in.of == 0 { // nothing has been released: nobody has answered
		c.Redirect(http.StatusSeeOther, page.Back)
		return
	}
	if err == nil {
		err = s.measure(c.Request.Context(), z.ID, in, p, &page)
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Show(c, http.StatusOK, "measure", page)
}
