package sheet

import (
	"html/template"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/atlas"
	"omphalos/core/excerpt"
	"omphalos/core/program"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// The sheet can be seen with the eyes of one visitor: its odds are then those of such
// visitors alone, so that each landing shows whether they get it.

// An eyesPart says whose eyes the sheet is seen with.
type eyesPart struct {
	program.Visitor
	Set bool // some fact is assumed
}

const longestFact = 60

// lookAs keeps the facts of a sample visitor for a quiz.
func (s *Room) lookAs(c *gin.Context, z *store.Quiz) {
	var facts []string
	for _, name := range []string{"country", "language", "device", "source"} {
		value := strings.TrimSpace(c.Query(name))
		if name == "country" {
			if code, known := atlas.Code(value); known {
				value = code
			}
		}
		facts = append(facts, excerpt.Bounded(value, longestFact))
	}
	s.SetCookie(c, eyesCookie, strings.Join(facts, "\n"), desk.Address(z), viewTime)
}

// An eyesBox is that with what it needs to be shown.
type eyesBox struct {
	eyesPart
	Passing template.HTML // its place
	Devices []string
}

// eyes returns the sample visitor that is kept.
func eyes(c *gin.Context) eyesPart {
	kept, _ := c.Cookie(eyesCookie)
	facts := strings.Split(kept, "\n")
	if len(facts) != 4 || len(kept) > 4*(4*longestFact+1) {
		return eyesPart{}
	}
	return eyesPart{
		program.Visitor{Country: facts[0], Language: facts[1], Device: facts[2], Source: facts[3]},
		strings.Join(facts, "") != "",
	}
}

// From is the name of the sample visitor's country, "" for none.
func (e eyesPart) From() string {
	if e.Country == "" {
		return ""
	}
	return atlas.Name(e.Country, "en")
}
