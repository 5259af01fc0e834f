package learn

import (
	"fmt"
	"maps"
	"math"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/expect"
	"omphalos/core/inference"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
)

// mostAdopted is from how many responses of a slice, of the newest, it is taken over what was
// answered.
const mostAdopted = 2048

// adopt has the draft expect what those of the slice have answered: to one question, or to
// all for "". It is an edit like any other.
func (s *Room) adopt(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	ops, n, err := s.adopted(c, z, in.slice, c.PostForm("question"))
	if err == nil && len(ops) == 0 {
		s.Say(c, "Nothing can be taken over: none of them has answered this in the draft as it stands.", "")
		c.Redirect(http.StatusSeeOther, in.slice.at(in.slice.clone()))
		return
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.edit(c, z, desk.PatchText(ops), in.slice.at(in.slice.clone()), func(*edit.Change) string {
		return fmt.Sprintf("The sheet expects now what %s answered. It can be undone there.", quiz.Count(n, "respondent"))
	})
}

// adopted are the changes to the draft, and of how many respondents they are. Those who were
// screened out are among them, in the proportion in which they are in the slice.
func (s *Room) adopted(c *gin.Context, z *store.Quiz, in *sentence, question string) ([]edit.Op, int, error) {
	q, problems, err := z.Checked()
	if err != nil {
		return nil, 0, err
	}
	p, err := program.CompileDraft(q, problems)
	if err != nil {
		return nil, 0, nil // a draft that is not finished takes nothing over
	}
	ctx, parts := c.Request.Context(), in.All()
	list, all, err := s.Store.Responses.Find(ctx, z.ID, parts, tally.Order{Falling: true}, 0, mostAdopted)
	if err != nil {
		return nil, 0, err
	}
	screened, err := s.Store.Responses.Screened(ctx, z.ID, parts)
	if err != nil {
		return nil, 0, err
	}
	reader, walker, observer := store.NewReader(p), passage.NewWalker(p), expect.NewObserver(p)
	for i := range list {
		input := reader.Input(&list[i])
		observer.Add(input.Answers, walker.Walk(input).Seen)
	}
	n, of := len(list), 1.0
	if all > 0 {
		of = float64(n) / float64(all)
	}
	for _, some := range screened {
		if at := p.Position(some.Place); at >= 0 {
			observer.AddShares(at, odds.ScreenedBy(p.Question(at), some.Outcome), of*float64(some.Count))
			n += int(math.Round(of * float64(some.Count)))
		}
	}
	var ops []edit.Op
	shares := observer.Shares()
	for _, key := range q.QuestionKeys() {
		if percents := shares[key]; len(percents) > 0 && (question == "" || question == key) {
			ops = append(ops, edit.Op{Op: "add", Path: quiz.At("questions", key, "expect"), Value: tenths(percents)})
		}
	}
	return ops, n, nil
}

// tenths writes percents in tenths that come to as much together as the percents do.
func tenths(percents map[string]float64) map[string]decimal.Decimal {
	names, sum := slices.Sorted(maps.Keys(percents)), 0.0
	list := make([]float64, len(names))
	for i, name := range names {
		list[i] = 10 * percents[name]
		sum += list[i]
	}
	cut := map[string]decimal.Decimal{}
	for i, n := range inference.Apportion(int(math.Round(sum)), list) {
		cut[names[i]] = decimal.FromInt(int64(n)) / 10
	}
	return cut
}

// adoptable tells whether it can be said how often each answer to a question is expected.
func adoptable(asked *quiz.Question) bool {
	return asked.Kind.HasAnswers() || slices.Contains([]quiz.Kind{quiz.Rating, quiz.Stars}, asked.Kind)
}
