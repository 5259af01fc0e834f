package release

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// again makes an earlier release public once more, or the draft.
func (s *Room) again(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	number, _ := strconv.Atoi(c.Param("number"))
	ctx, said := c.Request.Context(), ""
	var err error
	if c.PostForm("do") == "draft" {
		_, err = s.Store.Definitions.BringBack(ctx, z.ID, z.Revision, number, s.User(c))
		said = fmt.Sprintf("The draft is as release %d was. Undo on the sheet takes that back.", number)
	} else {
		var r *store.Release
		if r, err = s.Store.Definitions.ReleaseAgain(ctx, z.ID, number, s.User(c)); err == nil {
			said = fmt.Sprintf(
				"Release %d is public now: it is release %d once more. The draft stays as it is.", r.Number, number)
		}
	}
	switch {
	case errors.Is(err, store.ErrStale):
		said = "That is so already, or the draft was changed meanwhile."
	case errors.Is(err, store.ErrNotFound):
		said = "There is no such release."
	case err != nil:
		s.Fail(c, err)
		return
	}
	s.Say(c, said, "")
	c.Redirect(http.StatusSeeOther, desk.Address(z)+"/release#releases")
}

// A comparison is two versions, the older beside the newer.
type comparison struct {
	desk.Frame
	From, To string
	List     []changed
	Before   []desk.Share
	After    []desk.Share
	Numbers  []int
	Of, With int // numbers, 0 for the draft
}

// Sheet is the address of the sheet on which the newer version is seen.
func (c comparison) Sheet() string {
	if c.With == 0 {
		return desk.Address(c.Quiz)
	}
	return fmt.Sprintf("%s/versions/%d?since=%d", desk.Address(c.Quiz), c.With, c.Of)
}

// compare shows how two releases differ, or a release and the draft.
func (s *Room) compare(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	releases, err := s.Store.Definitions.Releases(c.Request.Context(), z.ID)
	if err != nil {
		s.Fail(c, err)
		return
	}
	page := comparison{Frame: s.Frame(c, "Compare releases of "+z.Title, "release", z)}
	for i := range releases {
		page.Numbers = append(page.Numbers, releases[i].Number)
	}
	version := func(number string, instead int) desk.Version {
		v, known := desk.VersionOf(z, releases, number)
		if !known {
			v, _ = desk.VersionOf(z, releases, strconv.Itoa(instead))
		}
		return v
	}
	before, after := version(c.Query("from"), z.Released), version(c.Query("to"), 0)
	page.From, page.Of, page.To, page.With = before.Name(), before.Number, after.Name(), after.Number
	was, err1 := before.Quiz.Document()
	sh, err2 := s.sheets.At(c, after)
	if err := errors.Join(err1, err2); err != nil {
		s.Fail(c, err)
		return
	}
	from, to := edit.Written(was), edit.Written(sh.Doc)
	list, err := edit.Changes(from, to)
	if err != nil {
		s.Fail(c, err)
		return
	}
	for _, one := range list {
		page.List = append(page.List, changed{one, sh.Where(one.Pointer), sh.Jump(one.Pointer), ""})
	}
	page.Before, page.After = told(c.Request.Context(), from), told(c.Request.Context(), to)
	s.Show(c, http.StatusOK, "compare", page)
}

// told tells who is expected to get what, nil where that can't be told.
func told(ctx context.Context, q *quiz.Quiz) []desk.Share {
	p, err := program.CompileDraft(q, q.Check())
	if err != nil {
		return nil
	}
	exact, stop := context.WithTimeout(ctx, oddsTime)
	defer stop()
	o, err := odds.Of(p.On(ui.Today(q)), odds.Options{Steps: oddsSteps, Sample: oddsSample, Exact: exact, Context: ctx})
	if err != nil {
		return nil
	}
	return sharesOf(q, o.Outcomes)
}
