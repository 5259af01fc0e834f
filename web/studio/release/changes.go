package release

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/studio/sheet"
	"omphalos/web/ui"
)

// A changed is a place in which the draft is another than what is public.
type changed struct {
	edit.Changed
	Where string
	Jump  string
	Patch string // takes it back
}

// changes tells what a release of the draft would change.
func changes(sh *sheet.Sheet, public *quiz.Quiz) ([]changed, error) {
	if public == nil {
		return nil, nil
	}
	list, err := sh.Since(public)
	if err != nil {
		return nil, err
	}
	var rows []changed
	for _, c := range list {
		rows = append(rows, changed{c, sh.Where(c.Pointer), sh.Jump(c.Pointer), desk.PatchText(c.Back)})
	}
	return rows, nil
}

// A warning is one that is ticked off before a release.
type warning struct {
	Sentence string
	Where    string
	Jump     string
	Ticked   bool
}

// warnings lists the warnings about a draft, and which were ticked off: now, or for an earlier
// release.
func warnings(sh *sheet.Sheet, releases []store.Release, now []string) []warning {
	seen := slices.Clone(now)
	for i := range releases {
		seen = append(seen, releases[i].Seen()...)
	}
	var list []warning
	for _, f := range sh.Findings {
		if f.Level == finding.Warning {
			list = append(list, warning{f.Sentence, sh.Where(f.Pointer), sh.Jump(f.Pointer), slices.Contains(seen, f.Sentence)})
		}
	}
	return list
}

// A split is who gets what, before and after.
type split struct {
	Before, After []desk.Share
	Walked        int // responses that were walked again; 0 where it is what is expected
	Moved         int // of them, those who would get another outcome
}

// expected tells who is expected to get what, under what is public and under the draft.
func expected(ctx context.Context, public *quiz.Quiz, draft *program.Program, now *odds.Odds) (*split, error) {
	if public == nil || draft == nil || now == nil {
		return nil, nil
	}
	was, err := program.CompileReleased(public.On(ui.Today(public)))
	if err != nil {
		return nil, err
	}
	exact, stop := context.WithTimeout(ctx, oddsTime)
	defer stop()
	before, err := odds.Of(was, odds.Options{Steps: oddsSteps, Sample: oddsSample, Exact: exact, Context: ctx})
	if err != nil {
		return nil, err
	}
	return &split{Before: sharesOf(public, before.Outcomes), After: sharesOf(draft.Quiz, now.Outcomes)}, nil
}

// sharesOf puts shares into the order of the outcomes.
func sharesOf(q *quiz.Quiz, shares map[string]float64) []desk.Share {
	var list []desk.Share
	x := 0.0
	for i, key := range quiz.InOrder(q.Outcomes) {
		share := shares[key]
		one := desk.Share{Outcome: key, Name: q.Outcomes[key].Name, Letter: q.Letter(key), Class: desk.Hue(i),
			Part: share, X: x, Width: 100 * share}
		if share > 0 {
			one.Count = 1
		}
		x += one.Width
		list = append(list, one)
	}
	return list
}

// walked tells what those who have responded got, and what they would get from the draft.
func (s *Room) walked(ctx context.Context, id uint, public *quiz.Quiz, draft *program.Program) (*split, error) {
	if public == nil || draft == nil {
		return nil, nil
	}
	list, err := s.Store.Responses.Newest(ctx, id, mostWalked)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	reader, walker := store.NewReader(draft), passage.NewWalker(draft)
	before, after := map[string]float64{}, map[string]float64{}
	w := &split{Walked: len(list)}
	each := 1 / float64(len(list))
	for i := range list {
		was := list[i].Outcome
		gets := passage.OutcomeKey(draft, walker.Walk(reader.Next(&list[i])))
		before[was] += each
		after[gets] += each
		if was != gets {
			w.Moved++
		}
	}
	w.Before, w.After = sharesOf(public, before), sharesOf(draft.Quiz, after)
	return w, nil
}

// takeBack takes one change back, as an edit of the draft.
func (s *Room) takeBack(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	_, change, err := s.Store.Definitions.Edit(c.Request.Context(), z.ID, z.Revision,
		[]byte(c.PostForm("patch")), s.User(c))
	said := ""
	switch {
	case err == nil:
		said = "Taken back. " + change.Sentence + "."
	case errors.Is(err, store.ErrStale):
		said = "The draft was changed meanwhile. Look at it, then do it again."
	default:
		said = "Other changes rest on this one: change it on the sheet."
	}
	s.Say(c, said, "")
	c.Redirect(http.StatusSeeOther, desk.Address(z)+"/release#changes")
}

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
	p, err := program.CompileDraft(q.On(ui.Today(q)), q.Check())
	if err != nil {
		return nil
	}
	exact, stop := context.WithTimeout(ctx, oddsTime)
	defer stop()
	o, err := odds.Of(p, odds.Options{Steps: oddsSteps, Sample: oddsSample, Exact: exact, Context: ctx})
	if err != nil {
		return nil
	}
	return sharesOf(q, o.Outcomes)
}
