package sheet

import (
	"context"
	"fmt"

	"github.com/gin-gonic/gin"

	"omphalos/core/passage"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// A movesPart tells beside the sheet how many of the newest responses would land elsewhere than they
// did, if the draft had been public, and how many the last edit moved.
type movesPart struct {
	On     bool
	Of     int
	Moved  int
	ByEdit int    // whom the last edit moved
	Known  bool   // what came of them before it is known
	Look   string // where it is told who and why
}

// mostReplayed is how many responses, of the newest, are walked again at each edit.
const mostReplayed = 1000

// mostFates is of how many states of drafts it is remembered where responses would land.
const mostFates = 64

const movesCookie = "moves"

// movesWanted tells whether it is told how many would land elsewhere.
func movesWanted(c *gin.Context) bool {
	mode, _ := c.Cookie(movesCookie)
	return mode == "on"
}

// moves walks the newest responses through the draft.
func (s *Room) moves(ctx context.Context, sh *Sheet) (*movesPart, error) {
	m := &movesPart{On: true, Look: desk.Address(sh.Quiz) + "/learn/replay"}
	list, last, err := s.newestOf(ctx, sh)
	if err != nil {
		return nil, err
	}
	list = list[:min(len(list), mostReplayed)]
	reader, walker := store.NewReader(sh.program), passage.NewWalker(sh.program)
	fates := make([]string, len(list))
	before, known := s.fates.Get(fateOf(sh.Quiz, sh.Quiz.Revision-1, last))
	for i := range list {
		fates[i] = passage.OutcomeKey(sh.program, walker.Walk(reader.Next(&list[i])))
		if fates[i] != list[i].Outcome {
			m.Moved++
		}
		if known && fates[i] != before[i] {
			m.ByEdit++
		}
	}
	m.Of, m.Known = len(list), known
	s.fates.Add(fateOf(sh.Quiz, sh.Quiz.Revision, last), fates)
	return m, nil
}

func fateOf(z *store.Quiz, revision int, last string) string {
	return fmt.Sprint(z.ID, " ", revision, " ", last)
}
