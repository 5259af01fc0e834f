package release

import (
	"context"
	"errors"
	"net/http"
	"slices"

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
	was, err := program.CompileReleased(public)
	if err != nil {
		return nil, err
	}
	exact, stop := context.WithTimeout(ctx, oddsTime)
	defer stop()
	before, err := odds.Of(was.On(ui.Today(public)),
		odds.Options{Steps: oddsSteps, Sample: oddsSample, Exact: exact, Context: ctx})
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
	desk.Divide(list)
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
