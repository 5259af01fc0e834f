package learn

import (
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/core/replay"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
)

// What if responses had gone through another version: they are walked again, and compared with
// what they got.

// quickly is how many responses are walked while a page is waited for; of more it is told how far it
// has come. The changes are tried by themselves on the newest of them alone.
const (
	quickly    = 20_000
	mostTried  = 4_000_000 // walks through single changes
	mostMovers = 50
)

type replayPage struct {
	desk.Frame
	whatIf
	All     string // where all of them are walked, "" where they are
	Run     string // where that is done, "" where it is done already
	Slice   int    // responses of it
	Version []desk.Option
	Named   string   // the version that they go through
	Before  string   // the version from which changes are counted
	Chips   []string // the parts of the sentence

	Wrong string // why it can't be walked
	replayed
}

// replay shows what would be if the slice had gone through another version.
func (s *Room) replay(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	if in.of == 0 { // nothing has been released: nobody has answered
		c.Redirect(http.StatusSeeOther, in.slice.at(in.slice.clone()))
		return
	}
	ctx := c.Request.Context()
	page := &replayPage{Frame: s.Frame(c, z.Title, "learn", z), whatIf: in.slice.whatIf("replay"),
		Before: fmt.Sprintf("release %d", in.of)}
	page.Chips = in.slice.words()
	after, err := s.version(z, in, c.Query("through"), page)
	if err == nil {
		_, page.Slice, err = s.Store.Responses.Find(ctx, z.ID, in.slice.All(), tally.Order{}, 0, 1)
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	whole := c.Query("most") == "all"
	if page.Slice > quickly && !whole {
		page.All = in.slice.replayAt(c.Query("through"), "all")
	}
	r, err := replay.New(in.quiz, after)
	if err != nil {
		page.Wrong = "This version can’t be walked yet: its findings say what is missing."
		s.Show(c, http.StatusOK, "replay", page)
		return
	}
	if whole && page.Slice > quickly && c.Query("run") == "" {
		page.Run = in.slice.replayAt(c.Query("through"), "all") + "&run=yes"
		s.Show(c, http.StatusOK, "replay", page)
		return
	}
	if whole && page.Slice > quickly {
		s.replayAll(c, z, in, r, page)
		return
	}
	if err := s.play(ctx, z, in, r, page, quickly, func(int) error { return nil }); err != nil {
		s.Fail(c, err)
		return
	}
	s.Show(c, http.StatusOK, "replay", page)
}
